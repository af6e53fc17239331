import { describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { sarifToMarkdown } from '@security-alert/sarif-to-markdown';
import { Ajv } from 'ajv';
import { validateXML } from 'xmllint-wasm';
import { KINDS } from '../../src/core/check/kinds.js';
import { checkWorkspace } from '../../src/workspace/checking/check-workspace.js';
import { Workspace } from '../../src/workspace/reading/workspace.js';
import { SHOWN } from '../support/broken.js';
import { copyOf, zeitwort } from '../support/program.js';

async function found(folder: string): Promise<{ kind: string; severity: string; place: string }[]> {
  const workspace = Workspace.open(folder);
  const { findings } = await checkWorkspace(workspace);
  return findings.map(({ kind, severity, spot }) => {
    const { file, line, column } = spot ? workspace.place(spot) : { file: '', line: 0, column: 0 };
    return { kind, severity, place: `${file}:${String(line)}:${String(column)}` };
  });
}

const schema = (name: string): string =>
  readFileSync(path.join(__dirname, '..', 'schemas', name), 'utf8');

describe('the broken workspace', () => {
  test('shows every kind once, at its place', async () => {
    const shown = SHOWN.map(([kind, severity, place]) => ({ kind, severity, place }));
    expect((await found(copyOf('broken'))).sort(byKind)).toEqual(shown.sort(byKind));
    // Languages with a starter have all words, a house has no rules, and none of these languages
    // counts 21 as one; two forms of one request need a second form, two ways to say one thing two
    // fields.
    const elsewhere = [
      'missing-word',
      'missing-translation',
      'missing-inline',
      'spelt-number',
      'duplicate-request',
      'translated-twice',
    ];
    const here = KINDS.map(({ kind }) => kind).filter((kind) => !elsewhere.includes(kind));
    expect(SHOWN.map(([kind]) => kind).sort()).toEqual(here.sort());
  });

  test.each(SHOWN)(
    '%s: its mended twin has none',
    async (kind, _severity, _place, file, from, to) => {
      const folder = copyOf('broken');
      const name = path.join(folder, file);
      const text = readFileSync(name, 'utf8');
      expect(text).toContain(from);
      writeFileSync(
        name,
        text.replace(from, () => to),
      );
      expect((await found(folder)).filter((one) => one.kind === kind)).toEqual([]);
    },
  );
});

const byKind = (one: { kind: string }, other: { kind: string }): number =>
  one.kind < other.kind ? -1 : 1;

describe('what other programs read', () => {
  const folder = copyOf('broken');

  test("SARIF is valid by the standard's schema, and another reader finds the same in it", () => {
    const { out } = zeitwort(['check', '--format', 'sarif'], folder);
    const sarif = JSON.parse(out) as Parameters<ReturnType<typeof sarifToMarkdown>>[0];
    // A schema of draft 4, whose only words that later drafts have otherwise is its id.
    const rules = JSON.parse(schema('sarif-2.1.0.json')) as Record<string, unknown>;
    delete rules.id;
    delete rules.$schema;
    const validate = new Ajv({
      strict: false,
      allErrors: true,
      validateFormats: false,
      unicodeRegExp: false,
    }).compile(rules);
    validate(sarif);
    expect(validate.errors).toBeNull();
    const [page] = sarifToMarkdown({
      owner: 'harrowfell',
      repo: 'api',
      branch: 'main',
      sourceRoot: '',
    })(sarif);
    for (const [kind, , place] of SHOWN) {
      expect(page?.body).toContain(kind);
      const [file = '', line = ''] = place.split(':');
      expect(page?.body).toContain(`${file}#L${line}`);
    }
  });

  test('JUnit is valid by the common schema, and another reader finds the same in it', async () => {
    const { out } = zeitwort(['check', '--format', 'junit'], folder);
    const { valid, errors } = await validateXML({
      xml: [{ fileName: 'check.xml', contents: out }],
      schema: [{ fileName: 'junit.xsd', contents: schema('junit.xsd') }],
    });
    expect([valid, errors]).toEqual([true, []]);
    const script = `import { parse } from 'junit2json';
      const { testsuite } = await parse(await new Response(process.stdin).text());
      console.log(JSON.stringify(testsuite.map(({ name, failures, testcase }) => [name, failures, testcase[0].failure?.[0].inner ?? ''])));`;
    const { stdout } = spawnSync(process.execPath, ['--input-type=module', '-e', script], {
      cwd: path.join(__dirname, '..', '..'),
      input: out,
      encoding: 'utf8',
    });
    const read = new Map(
      (JSON.parse(stdout) as [string, number, string][]).map(([name, ...rest]) => [name, rest]),
    );
    for (const [kind, severity, place] of SHOWN) {
      const [failures, text] = read.get(kind) ?? [];
      expect([kind, failures]).toEqual([kind, severity === 'info' ? 0 : 1]);
      if (severity !== 'info') expect(text).toContain(place);
    }
  });
});
