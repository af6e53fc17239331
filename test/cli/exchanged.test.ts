// What goes to translators besides messages, and what their tools write: inflections, titles of
// schemas, escapes, orders, encodings.
import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { parse } from 'jsonc-parser';
import { copyOf, textOf, zeitwort } from '../support/program.js';
import { GETTEXT, JAVA, testWith } from '../support/tools.js';

const exported = (folder: string, format: string, locale: string, ...args: string[]): string =>
  zeitwort(['export', '--format', format, '--locale', locale, '--out', '-', ...args], folder).out;
const take = (
  folder: string,
  name: string,
  content: string | Buffer,
  locale: string,
  ...more: readonly string[]
): ReturnType<typeof zeitwort> => {
  writeFileSync(path.join(folder, name), content);
  return zeitwort(['import', name, '--locale', locale, ...more], folder);
};
const labelOf = (folder: string, locale: string, field: string): unknown =>
  (
    parse(textOf(folder, `messages/${locale}.json`)) as {
      fields: Record<string, { label: unknown }>;
    }
  ).fields[field]?.label;

describe('inflections and gender of labels', () => {
  test.each(['xliff', 'po', 'csv', 'properties'] as const)(
    'go out and come back in %s, also where the original has none',
    (format) => {
      const folder = copyOf('observatory');
      const name = `back.${format === 'xliff' ? 'xlf' : format}`;
      const sent = exported(folder, format, 'pl');
      expect(take(folder, name, sent, 'pl')).toMatchObject({
        code: 0,
        out: 'Nothing to change.\n',
      });
      const edited = sent
        .replaceAll('pierwszą nocą', 'nocą pierwszą')
        .replaceAll('feminine', 'neuter');
      expect(take(folder, name, edited, 'pl').code).toBe(0);
      expect(labelOf(folder, 'pl', 'firstNight')).toEqual({
        text: 'pierwsza noc',
        gender: 'neuter',
        accusative: 'pierwszą noc',
        instrumental: 'nocą pierwszą',
      });
    },
  );

  test('that nobody asked for are taken too; what is not a name, or belongs to no label, is refused', () => {
    const folder = copyOf('observatory');
    const rows = ['vocative,tytule', 'no name,x', 'gender,not one word'].map(
      (row) => `|title|label|${row}`,
    );
    const { code, err } = take(
      folder,
      'a.csv',
      ['key,target', ...rows, '|nothing|label|genitive,x'].join('\n'),
      'pl',
    );
    expect([
      code,
      err.split('\n').map((line) => /\|(\w+)\|label\|([\w ]+):/.exec(line)?.slice(1).join()),
    ]).toEqual([
      1,
      ['title,no name', 'nothing,genitive', 'title,gender', 'title,vocative', undefined],
    ]);
    expect(labelOf(folder, 'pl', 'title')).toMatchObject({
      vocative: 'tytule',
      gender: 'masculine',
    });
  });
});

test('what schemas call their fields is text for translators', () => {
  const folder = copyOf('small', {
    'zeitwort.yaml': 'locales: [en, de]\ntexts: [messages/*.json]\nrules: [rules/*.json]\n',
    'messages/en.json': { locale: 'en' },
    'messages/de.json': { locale: 'de' },
    'rules/visit.schema.json': {
      type: 'object',
      properties: { name: { type: 'string', title: 'Visitor name' } },
    },
  });
  expect(zeitwort(['show', '--missing', '--locale', 'de'], folder).out).toContain('name: label');
  expect(exported(folder, 'csv', 'de')).toContain('|name|label|,Visitor name,,initial');
  expect(zeitwort(['fill', '--locale', 'de'], folder)).toMatchObject({ code: 0 });
  expect(labelOf(folder, 'de', 'name')).toBe('Visitor name');
  expect(zeitwort(['review', '--locale', 'de'], folder).out).toContain('initial');
});

describe('what tools write', () => {
  testWith(GETTEXT)("PO comes back from gettext's own tools as it went, stale texts too", () => {
    const folder = copyOf('observatory');
    zeitwort(['review', '--locale', 'de', '--field', 'title', '--mark', 'reviewed'], folder);
    zeitwort(['set', '--locale', 'en', '--field', 'title', '--label', 'head\tline'], folder);
    const before = zeitwort(['review', '--locale', 'de', '--format', 'json'], folder).out;
    const run = (tool: string, input: string, ...args: string[]): string =>
      spawnSync(tool, args, { input, encoding: 'utf8' }).stdout;
    const sent = exported(folder, 'po', 'de');
    for (const back of [
      run('msgcat', sent, '--escape', '-'),
      run('msgcat', sent, '--no-wrap', '-'),
      run('msgfilter', sent, '--keep-header', 'cat'),
    ]) {
      expect(take(folder, 'de.po', back, 'de')).toMatchObject({
        code: 0,
        err: '',
        out: 'Nothing to change.\n',
      });
      expect(zeitwort(['review', '--locale', 'de', '--format', 'json'], folder).out).toBe(before);
    }
    // Somebody looked at it and left it: it is no longer out of date.
    expect(take(folder, 'de.po', run('msgattrib', sent, '--clear-fuzzy', '-'), 'de').code).toBe(0);
    expect(zeitwort(['review', '--stale', '--locale', 'de'], folder).out).not.toContain('title');
  });

  testWith(JAVA)(
    'Java reads our properties as they are, in UTF-8 and in Latin-1 with escapes',
    () => {
      const odd = [
        '  two spaces before',
        '# none',
        '! none',
        'a = b : c',
        'back\\slash',
        'tab\tand\nline',
        '“ü” 日本 😀',
        "it's {max}",
        '\u0001',
      ];
      const messages = (of: (text: string) => string): object =>
        Object.fromEntries(odd.map((text, at) => [`m = ${at}`, of(text)]));
      const folder = copyOf('small', {
        'zeitwort.yaml': 'locales: [en, de]\ntexts: [messages/*.json]\nrules: [rules/*.yaml]\n',
        'messages/en.json': { locale: 'en', messages: messages(() => 'x {max}') },
        'messages/de.json': { locale: 'de', messages: messages((text) => text) },
      });
      const reader = path.join(__dirname, '..', 'support', 'ReadProperties.java');
      for (const [kind, ...args] of [['utf8'], ['latin', '--ascii']]) {
        writeFileSync(
          path.join(folder, 'de.properties'),
          exported(folder, 'properties', 'de', ...args),
        );
        const { stdout, stderr } = spawnSync('java', [reader, 'de.properties', kind ?? ''], {
          cwd: folder,
          encoding: 'utf8',
        });
        const read = new Map(
          stdout
            .trim()
            .split('\n')
            .map((line) => JSON.parse(line) as [string, string]),
        );
        expect([
          stderr,
          odd.map((_, at) => read.get(`-|-|message|m = ${at}`) ?? read.get(`|-|message|m = ${at}`)),
        ]).toEqual(['', odd]);
      }
    },
    60_000,
  );

  test('escapes of C in PO, another order and another encoding in XLIFF, states that are none in CSV', () => {
    const folder = copyOf('observatory');
    const po =
      String.raw`msgctxt "|title|label|"` +
      '\n' +
      String.raw`msgid "title"` +
      '\n' +
      String.raw`msgstr "\303\234ber\x73chrift\a\\101"` +
      '\n';
    take(folder, 'a.po', po, 'de', '--take', 'returned');
    expect(labelOf(folder, 'de', 'title')).toMatchObject({ text: 'Überschrift\u0007\\101' });
    const segments = [
      '<source>ti</source><target order="2">schrift</target>',
      '<source>tle</source><target order="1">Über</target>',
    ];
    const xml = `<?xml version="1.0" encoding="UTF-16"?><xliff xmlns="urn:oasis:names:tc:xliff:document:2.0" version="2.1" srcLang="en" trgLang="de"><file id="f"><unit id="u" name="|title|label|">${segments.map((one) => `<segment>${one}</segment>`).join('')}</unit></file></xliff>`;
    for (const bytes of [
      Buffer.from(`\ufeff${xml}`, 'utf16le'),
      Buffer.from(`\ufeff${xml}`, 'utf16le').swap16(),
    ]) {
      zeitwort(['set', '--locale', 'de', '--field', 'title', '--label', 'Titel'], folder);
      expect(take(folder, 'a.xlf', bytes, 'de', '--take', 'returned').err).toBe('');
      expect(labelOf(folder, 'de', 'title')).toMatchObject({ text: 'Überschrift' });
    }
    expect(take(folder, 'a.csv', 'key,target,state\n|title|label|,x,done\n', 'de').err).toContain(
      '"done" is not a state',
    );
  });

  test('a placeholder that the translation has not is one that can go', () => {
    const folder = copyOf('small', {
      'messages/en.json': {
        locale: 'en',
        fields: { visitor: { messages: { maxLength: '{label}: {max} at most' } } },
      },
      'messages/de.json': {
        locale: 'de',
        fields: { visitor: { messages: { maxLength: 'Höchstens {max}' } } },
      },
      'zeitwort.yaml': 'locales: [en, de]\ntexts: [messages/*.json]\nrules: [rules/*.yaml]\n',
    });
    const marks = [
      ...exported(folder, 'xliff', 'de').matchAll(/disp="(\{\w+\})"[^>]*canDelete="(\w+)"/g),
    ].map((one) => one.slice(1));
    expect(marks).toEqual([
      ['{label}', 'yes'],
      ['{max}', 'no'],
      ['{max}', 'no'],
    ]);
  });
});

test('set asks for --force where nothing would use a text; a merge left open is named', () => {
  const folder = copyOf('small');
  const set = (...args: string[]): string =>
    zeitwort(['set', '--locale', 'en', ...args, 'x'], folder, '').err;
  expect(set('--field', 'visitor', '--rule', 'maxLenght')).toMatch(
    /no rule of visitor is called "maxLenght" \(did you mean "maxLength"\?\).*--force/,
  );
  expect(set('--field', 'vistor', '--label')).toContain(
    'no form has a field at vistor (did you mean "visitor"?)',
  );
  expect(set('--problem', 'not-fund title')).toContain(
    'there is no problem "not-fund" (did you mean "not-found"?)',
  );
  expect(zeitwort(['set', '--locale', 'en', '--rule', 'lent', '--force', 'x'], folder).code).toBe(
    0,
  );
  writeFileSync(
    path.join(folder, 'messages/en.json'),
    '{ "locale": "en",\n<<<<<<< ours\n"a": 1\n=======\n"a": 2\n>>>>>>> theirs\n}\n',
  );
  expect(zeitwort(['check'], folder)).toMatchObject({
    code: 2,
    err: expect.stringMatching(
      /messages\/en\.json:2:1: git left a merge open here: one side says "a": 1, the other "a": 2; keep/,
    ),
  });
});
