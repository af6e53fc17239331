import { describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { chmodSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { offsetIn } from '../support/editor.js';
import { copyOf, folderWith, program, zeitwort } from '../support/program.js';
import {
  chosen,
  type Findings,
  type Item,
  offered,
  type Place,
  started,
  within,
} from '../support/editing.js';
import { NEOVIM, testWith } from '../support/tools.js';

describe('completion', () => {
  test('inside of messages: the arguments of this very message, and cases of this language', async () => {
    const editor = await started(copyOf('observatory'));
    const uri = editor.open('messages/pl.json');
    const start = within(editor, uri, '"messages": {') + '"messages": {'.length;
    editor.type(uri, start, start, '\n    "minLength": "{",');
    const at = within(editor, uri, '"minLength": "{",', '"minLength": "{'.length);
    const items = await offered(editor, uri, at);
    expect(items.map(({ label }) => label)).toEqual(
      expect.arrayContaining(['min', 'actual', 'label', 'label_start', 'min, plural, …']),
    );
    expect(items.find(({ label }) => label === 'min')?.detail).toMatch(
      /^the least number of characters/,
    );
    const plural = items.find(({ label }) => label === 'min, plural, …');
    expect(plural && chosen(editor, uri, plural)).toContain(
      '"minLength": "{min, plural, one {# $1\\} few {# $2\\} many {# $3\\} other {# $4\\}\\}",',
    );
    editor.type(uri, at, at, 'min, plural, one {# znak} ');
    const cases = await offered(editor, uri, at + 'min, plural, one {# znak} '.length);
    expect(cases.map(({ label }) => label).slice(0, 3)).toEqual(['few', 'many', 'other']);
  });

  test('in catalogs: keys that have no text yet come first, with their documentation', async () => {
    const folder = folderWith({
      'zeitwort.yaml': 'locales: [en, de]\n',
      'rules/log.yaml':
        "forms: { log: { fields: { title: { required: true, maxLength: 9 }, 'rows[*].hue': { enum: [red] } } } }\n",
      'messages/de.json':
        '{\n  "locale": "de",\n  "messages": {\n    "required": "x",\n    ""\n  },\n  "fields": {\n    "tit"\n  }\n}\n',
    });
    const editor = await started(folder);
    const uri = editor.open('messages/de.json');
    const [first, ...others] = await offered(editor, uri, within(editor, uri, '    ""', 5));
    expect([first, ...others].map(({ label }: { label?: string } = {}) => label)).toEqual(
      expect.arrayContaining(['maxLength', 'enum']),
    );
    expect(others.map(({ label }) => label)).not.toContain('required');
    expect(first?.detail).toBe('has no text here yet');
    expect(first && chosen(editor, uri, first)).toContain(`    "${first?.label ?? ''}": "$1"\n`);
    const resolved = await editor.ask<Item>(
      'completionItem/resolve',
      others.find(({ label }) => label === 'maxLength') ?? first ?? {},
    );
    expect(resolved.documentation?.value).toMatch(/at most so many characters[\s\S]*`\{max\}`/);
    const paths = await offered(editor, uri, within(editor, uri, '"tit"', 4));
    expect(paths.map(({ label }) => label)).toEqual(['title']);
    expect(paths[0] && chosen(editor, uri, paths[0])).toContain('"title": {$1\\}');
  });

  test('in rule sheets and settings: rules, parameters, fields, forms, kinds, values', async () => {
    const sheet = `forms:
  log:
    request: POST /logs
    fields:
      title: { required: true, m }
      start: { form }
      end: { earliest: { field: st } }
      hue: { format:  }
      code:
        maxLen
`;
    const folder = folderWith({
      'zeitwort.yaml':
        'original: en\nlocales: [en, de]\nbody: { audience:  }\nchecks:\n  vague\nfallbacks: {}\n',
      'rules/log.yaml': sheet,
      'messages/en.json': { locale: 'en' },
    });
    const editor = await started(folder);
    const [uri, settings] = [editor.open('rules/log.yaml'), editor.open('zeitwort.yaml')];
    const labels = async (of: string, part: string, inner: number): Promise<string[]> =>
      (await offered(editor, of, within(editor, of, part, inner))).map(({ label }) => label);
    expect(await labels(uri, 'true, m }', 7)).toEqual(
      expect.arrayContaining(['maxLength', 'minLength', 'multipleOf']),
    );
    expect(await labels(uri, '{ form }', 6)).toContain('format');
    expect(await labels(uri, 'field: st', 9)).toEqual(['start']);
    expect(await labels(uri, 'format:  }', 8)).toEqual(expect.arrayContaining(['date', 'email']));
    const [written] = await offered(editor, uri, within(editor, uri, 'maxLen\n', 6));
    expect(written && chosen(editor, uri, written)).toContain('        maxLength: $1\n');
    expect(await labels(settings, 'audience:  }', 10)).toEqual(['client', 'developer']);
    expect(await labels(settings, 'vague', 5)).toEqual(['vague-message']);
    expect(await labels(settings, 'fallbacks', 3)).toEqual(['fallbacks']);
  });
});

describe('reading', () => {
  test('hover tells the sentence in every language, who uses it, and what would be said instead', async () => {
    const editor = await started(copyOf('observatory'));
    const [uri, rules] = [
      editor.open('messages/en.json'),
      editor.open('rules/observing-proposal.yaml'),
    ];
    const hover = async (of: string, offset: number): Promise<string> =>
      (await editor.at<{ contents: { value: string } } | null>('textDocument/hover', of, offset))
        ?.contents.value ?? '';
    const told = await hover(rules, within(editor, rules, 'maxLength:', 2));
    for (const locale of ['en', 'de', 'pl', 'ar', 'ja'])
      expect(told).toMatch(new RegExp(`- ${locale}: .{4,}`));
    const key = await hover(uri, within(editor, uri, '"required"', 2));
    expect(key).toMatch(/\*\*required/);
    expect(key).toMatch(/For night-log: night, /);
    expect(key).toMatch(/Were it not there, clients would get the text of the starter/);
    expect(await hover(uri, within(editor, uri, '{label', 3))).toMatch(/^`\{label\w*\}`: /);
  });

  test('definitions and references lead from texts to rules and back; symbols name them', async () => {
    const folder = copyOf('observatory');
    const editor = await started(folder);
    const [uri, rules] = [
      editor.open('messages/de.json'),
      editor.open('rules/observing-proposal.yaml'),
    ];
    const fileOf = ({ uri: one, range }: Place): string =>
      `${path.relative(folder, fileURLToPath(one))}:${range.start.line + 1}`;
    const texts = (
      await editor.at<Place[]>(
        'textDocument/definition',
        rules,
        within(editor, rules, 'required:', 2),
      )
    ).map(fileOf);
    for (const locale of ['en', 'de', 'pl', 'ar', 'ja'])
      expect(texts.some((one) => one.startsWith(`messages/${locale}.json`))).toBe(true);
    const declared = (
      await editor.at<Place[]>('textDocument/definition', uri, within(editor, uri, '"required"', 2))
    ).map(fileOf);
    expect(declared.every((one) => one.startsWith('rules/'))).toBe(true);
    const used = await editor.at<Place[]>(
      'textDocument/references',
      uri,
      within(editor, uri, '"required"', 2),
      {
        context: { includeDeclaration: true },
      },
    );
    expect(used.length).toBeGreaterThan(declared.length);
    const symbols = await editor.ask<{ name: string }[]>('workspace/symbol', {
      query: 'targets name required',
    });
    expect(symbols.map(({ name }) => name)).toContain('required');
    await editor.settled();
    const lenses = await editor.ask<{ command: { title: string } }[]>('textDocument/codeLens', {
      textDocument: { uri: rules },
    });
    expect(lenses[0]?.command.title).toMatch(/en 100 % · /);
    const range = { start: { line: 0, character: 0 }, end: { line: 40, character: 0 } };
    const hints = await editor.ask<{ tooltip: string }[]>('textDocument/inlayHint', {
      textDocument: { uri },
      range,
    });
    expect(hints.every(({ tooltip }) => tooltip.startsWith('en: '))).toBe(true);
    expect(hints.length).toBeGreaterThan(3);
    const { data } = await editor.ask<{ data: number[] }>('textDocument/semanticTokens/full', {
      textDocument: { uri },
    });
    const text = editor.texts.get(uri) ?? '';
    const [line = 0, character = 0, length = 0] = data;
    expect(text.slice(offsetIn(text, { line, character })).slice(0, length)).toMatch(/^[a-z_]+$/);
    const [selected] = await editor.ask<{ range: object; parent?: object }[]>(
      'textDocument/selectionRange',
      {
        textDocument: { uri },
        positions: [editor.position(uri, within(editor, uri, '{label', 3))],
      },
    );
    expect(selected?.parent).toBeDefined();
  });
});

testWith(NEOVIM)(
  'a real editor drives it: findings, an argument, a fix, a renaming over five languages, and undo',
  () => {
    const [broken, whole] = [copyOf('broken'), copyOf('observatory')];
    const out = path.join(broken, 'told.jsonl');
    const script = path.join(__dirname, '..', 'support', 'editor.lua');
    const guide = path.join(__dirname, '..', '..', 'docs', 'guide');
    const setting = path.join(guide, 'examples', 'neovim.lua');
    // The page shows it whole.
    expect(readFileSync(path.join(guide, '9-editors.md'), 'utf8')).toContain(
      readFileSync(setting, 'utf8'),
    );
    const installed = folderWith({
      'bin/zeitwort': `#!/bin/sh\nexec '${process.execPath}' '${program}' "$@"\n`,
    });
    chmodSync(path.join(installed, 'bin', 'zeitwort'), 0o755);
    const { status, stderr, error } = spawnSync(
      'nvim',
      ['--headless', '--clean', '-c', `luafile ${script}`],
      {
        cwd: broken,
        encoding: 'utf8',
        timeout: 90_000,
        env: {
          ...process.env,
          PATH: `${path.join(installed, 'bin')}:${process.env.PATH ?? ''}`,
          ZEITWORT_TEST: [setting, broken, whole, out].join('|'),
        },
      },
    );
    expect([error, status, stderr]).toEqual([undefined, 0, expect.anything()]);
    const lines = readFileSync(out, 'utf8')
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { what: string; value: unknown });
    const told = Object.fromEntries(lines.map(({ what, value }) => [what, value]));
    const found = (
      JSON.parse(
        zeitwort(['check', '--no-cache', '--format', 'json'], copyOf('broken')).out,
      ) as Findings
    ).findings;
    expect(told.findings).toEqual(
      found.map(({ file, line, message }) => `${path.basename(file)}:${line} ${message}`).sort(),
    );
    expect(told.completion).toEqual(expect.arrayContaining(['min', 'actual', 'label_start']));
    expect(told.completed).toContain('{actual, plural,');
    expect(told.actions).toEqual(expect.arrayContaining([expect.stringMatching(/^Mend/)]));
    expect(told.fixed).toContain('as the form shows');
    expect(told.hover).toContain('No rule uses this text.');
    expect(told.renamed).toEqual([
      'ar.json',
      'de.json',
      'en.json',
      'ja.json',
      'observing-proposal.yaml',
      'pl.json',
    ]);
    expect(told).toMatchObject({ undone: true });
    expect(told).not.toHaveProperty('error');
  },
);
