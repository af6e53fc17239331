import { describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { chromium } from 'playwright-core';
import { openWorkspace } from '../../src/library.js';
import { forMarkdown, forSarif, forTerminal, markdownCode } from '../../src/core/text/media.js';
import { csv } from '../../src/exchange/translations/csv.js';
import { po } from '../../src/exchange/translations/po.js';
import { copyOf, folderWith, program, zeitwort } from '../support/program.js';
import { git } from '../support/git.js';
import { executablePath, withBrowser } from '../support/browser.js';

/** What texts, names and lines of files may hold. */
const HOSTILE =
  'a\r::error::b\n::warning::c\u001b[8m \u001b]0;t\u0007 \u009b2J ##[error]d ![e](http://f.example) [g](x) @h <i>j</i> `k` | l https://m.example';

describe('texts of files, as they are told', () => {
  const folder = copyOf('observatory', {
    'messages/own.json': {
      locale: 'en',
      messages: { 'own-rule': `${HOSTILE} {title}`, [`key ${HOSTILE}`]: 'x.' },
      fields: { [`fie\u001b[8mld::error::`]: { label: HOSTILE } },
    },
  });

  test.each([
    ['check', ['check', '--no-cache', '--all']],
    ['show', ['show']],
    ['diff', ['diff', 'HEAD']],
    ['rules', ['rules']],
    ['why', ['why', 'observing-proposal', 'title', 'own-rule']],
  ])('%s gives a terminal and a runner of CI nothing to obey', (name, args) => {
    if (name === 'diff') {
      git(folder, 'init', '-q');
      git(folder, 'add', 'zeitwort.yaml', 'rules', 'messages/en.json');
      git(folder, 'commit', '-qm', 'x');
    }
    const { out, err } = zeitwort(args, folder);
    const told = out + err;
    expect(told).not.toMatch(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]|\r(?!\n)/);
    expect(told).not.toMatch(/^\s*::|##\[/m);
    if (name === 'check') expect(told).toContain('key a');
  });

  test.each([
    ['a key of an import', ['import', 'bad.csv', '--locale', 'en', '--dry-run']],
    ['a form that is none', ['rules', `x${HOSTILE.replaceAll('\r', '')}`]],
  ])('%s is told on stderr without orders', (_, args) => {
    const there = copyOf('observatory', {
      'bad.csv': `key,source,target\n"${HOSTILE.replaceAll('"', '')}",x,y\n`,
    });
    const { err } = zeitwort(args, there);
    expect(err).not.toMatch(/[\u0000-\u0008\u000b-\u001f\u007f-\u009f]|^::/m);
    expect(err).not.toBe('');
  });

  test('colours stay, and none that hides', () => {
    const { stdout } = spawnSync(process.execPath, [program, 'show'], {
      cwd: folder,
      env: { ...process.env, FORCE_COLOR: '1' },
      encoding: 'utf8',
    });
    expect(stdout).toContain('\u001b[1m');
    expect(stdout.replace(/\u001b\[(?:1|2|22|31|32|33|36|39)m/g, '')).not.toContain('\u001b');
  });

  test('Markdown and SARIF show them, and make nothing of them', () => {
    const markdown = zeitwort(['check', '--no-cache', '--format', 'markdown'], folder).out;
    const rows = markdown.split('\n').filter((line) => line.includes('key a'));
    expect(rows.length).toBeGreaterThan(0);
    for (const row of rows) {
      expect(row).toMatch(/^\| \w+ \| `[\w-]+` \| .* \| .* \|$/);
      expect(row).not.toMatch(/\r|(?<!\\)!?\[|@h|<i>|:\/\//);
    }
    const sarif = JSON.parse(
      zeitwort(['check', '--no-cache', '--format', 'sarif'], folder).out,
    ) as {
      runs: { results: { message: { text: string } }[] }[];
    };
    for (const { message } of sarif.runs[0]?.results ?? [])
      expect(message.text).not.toMatch(/[\r\n]|(?<!\\)\[|@h/);
  });
});

withBrowser('a page', () => {
  test('shows them, and makes nothing of them', async () => {
    const folder = copyOf('observatory', {
      'messages/own.json': { locale: 'en', messages: { 'own-rule': HOSTILE } },
    });
    const page = path.join(folder, 'report.html');
    expect(zeitwort(['report', '--out', page], folder).code).toBe(0);
    const browser = await chromium.launch({ executablePath, args: ['--no-sandbox'] });
    const shown = await browser.newPage();
    await shown.goto(`file://${page}`);
    expect(
      await shown.locator('a[href*="f.example"], i:text("j"), img[src*="f.example"]').count(),
    ).toBe(0);
    await browser.close();
  });
});

describe('one function for each medium', () => {
  test.each([
    [
      'terminal',
      forTerminal('a\u001b[31mb\u009bc\td\r\ne\rf'),
      'a\ufffd[31mb\ufffdc\td\r\ne\ufffdf',
    ],
    [
      'Markdown',
      forMarkdown('*a* [b](c) `d` | <e> & @f\rg'),
      '\\*a\\* \\[b\\](c) \\`d\\` \\| &lt;e&gt; &amp; @\u2060f g',
    ],
    ['code in Markdown', markdownCode('a`b``c|d'), '``` a`b``c\\|d ```'],
    [
      'SARIF',
      forSarif('targets[*].{name} \\ http://x'),
      'targets\\[*\\].{{name}} \\\\ http:\u2060//x',
    ],
  ])('%s', (_, shown, wanted) => {
    expect(shown).toBe(wanted);
  });

  test.each(['=1+1', '\n=1', '\r\n@x', '＝1', ' =1', '\t+1', '-1', "'=1", '＠x', '\u00a0=1'])(
    'a cell of a spreadsheet is not a formula: %j',
    (text) => {
      const written = csv.write(
        { original: 'en', locale: 'de', units: [{ key: text, source: text, target: text }] },
        {},
      );
      const cells = written.split('\r\n')[1] ?? '';
      expect(/(?:^|,)"?[\s]*[=+\-@＝＋－＠]/u.test(cells)).toBe(false);
      expect(csv.read(written, {}).units[0]).toMatchObject({
        key: text,
        source: text,
        target: text,
      });
    },
  );

  test('names that all objects have are names like others', () => {
    const names = ['__proto__', 'constructor', 'toString', 'hasOwnProperty'];
    const units = names.flatMap((key) =>
      names.map((source) => ({ key, source, target: `${key} ${source}` })),
    );
    const written = po.write({ original: 'en', locale: 'de', units }, {});
    expect(
      po.read(written, {}).units.map(({ key, source, target }) => ({ key, source, target })),
    ).toEqual(units);
    expect(po.read(`msgctxt "__proto__"\nmsgid "polluted"\nmsgstr "x"\n`, {}).units).toHaveLength(
      1,
    );
    expect(Object.keys(Object.prototype)).toEqual([]);
    expect(({} as { polluted?: unknown }).polluted).toBeUndefined();
    const folder = folderWith({
      'zeitwort.yaml': 'locales: [en]\nrules: [r.yaml]\ntexts: [m.json]\n',
      'r.yaml':
        'forms:\n  constructor:\n    fields:\n      __proto__: { required: true }\n      toString: { maxLength: 2 }\n',
      'm.json':
        '{"locale":"en","fields":{"__proto__":{"label":"Proto"}},"messages":{"constructor":"x"}}',
    });
    expect(zeitwort(['check', '--no-cache', '--fail-on', 'never'], folder).code).toBe(0);
    const { body } = openWorkspace(folder).render({
      form: 'constructor',
      violations: [
        { path: '__proto__', rule: 'required' },
        { path: 'x', rule: 'constructor' },
      ],
    });
    expect(body).toContain('Proto');
  });
});

test('keys that a client made up are told as values are, in every shape', () => {
  const folder = folderWith({
    'zeitwort.yaml': 'locales: [en]\nrules: [r.yaml]\ntexts: [m.json]\n',
    'r.yaml':
      'forms:\n  f:\n    fields:\n      extras: { type: object }\n      "extras.*": { type: string }\n',
    'm.json': {
      locale: 'en',
      fields: { 'extras.*': { messages: { type: 'Extra {extras_key}: {label}.' } } },
    },
  });
  const renderer = openWorkspace(folder);
  const path = `extras["\\u202e\\u001b[2J\\u0000${'x'.repeat(3000)}"]`;
  for (const shape of [
    'text',
    'html',
    'problem',
    'fields',
    'list',
    'jsonapi',
    'graphql',
    'problem-xml',
  ]) {
    const { body } = renderer.render(
      {
        form: 'f',
        violations: [
          { path, rule: 'type' },
          {
            path: 'extras',
            rule: 'additionalProperties',
            params: { name: `\u202e${'y'.repeat(3000)}` },
          },
        ],
      },
      { shape },
    );
    const sentence = /Extra [^"<\n]*/.exec(body)?.[0] ?? '';
    expect([shape, sentence.length > 20, sentence.length < 200]).toEqual([shape, true, true]);
    expect(sentence).not.toMatch(/[\u0000-\u001f\u202e]|\\u/);
    if (shape === 'text' || shape === 'html')
      expect(body.replace(/ data-pointer="[^"]*"/g, '')).not.toMatch(/[\u0000\u001b\u202e]|y{200}/);
  }
});

test('only seconds that somebody could wait are told', () => {
  const renderer = openWorkspace(copyOf('observatory'));
  const waits = (seconds: unknown): string | undefined => {
    const { headers, body } = renderer.renderProblem('not-validated', { params: { seconds } });
    expect(body).not.toMatch(/Infinity|NaN|\{seconds\}|∞/);
    return headers['retry-after'];
  };
  expect([30, 1.2, 0].map(waits)).toEqual(['30', '2', '0']);
  expect([Infinity, -1, NaN, 1e12, '30', { valueOf: 1 }, null].map(waits)).toEqual(
    Array(7).fill(undefined),
  );
});

test('a table shows some of a long list, and says how many there are', () => {
  const choices = Array.from({ length: 2000 }, (_, at) => `Area/Place_${at}`);
  const folder = folderWith({
    'zeitwort.yaml': 'locales: [en]\nrules: [r.schema.json]\n',
    'r.schema.json': {
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      properties: { zone: { enum: choices }, long: { pattern: `^(?:${choices.join('|')})$` } },
    },
  });
  const { code, out } = zeitwort(['rules'], folder);
  expect([code, out]).toEqual([0, expect.stringContaining('2000 in all')]);
  expect(zeitwort(['rules', '--format', 'json'], folder).out).toContain('Area/Place_1999');
});
