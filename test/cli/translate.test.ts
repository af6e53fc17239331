import { describe, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import PO from 'pofile';
import { validateXML } from 'xmllint-wasm';
import { copyOf, textOf, zeitwort } from '../support/program.js';

const FORMATS = ['xliff', 'po', 'csv', 'properties'] as const;
const write = (folder: string, file: string, text: string): void => {
  writeFileSync(path.join(folder, file), text);
};
const exported = (folder: string, format: string, locale: string, ...more: string[]): string =>
  zeitwort(['export', '--format', format, '--locale', locale, '--out', '-', ...more], folder).out;

/** A file without what says how its texts were exported, as programs leave it that know no such. */
const unmarked = (text: string): string => text.replace(/\.?\b[0-9a-f]{12}-[a-z]+\b/g, '');

describe('to translators and back', () => {
  test.each(FORMATS)(
    '%s: unchanged texts leave the catalogs to the letter; emptied ones come back whole',
    (format) => {
      const folder = copyOf('observatory');
      // At a desk two of the demo's languages, in CI all.
      for (const locale of ['pl', 'ar', ...(process.env.CI ? ['de', 'ja'] : [])]) {
        const before = textOf(folder, `messages/${locale}.json`);
        write(folder, 'out.txt', exported(folder, format, locale));
        const back = zeitwort(
          ['import', 'out.txt', '--format', format, '--locale', locale],
          folder,
        );
        expect(back).toEqual({ code: 0, out: 'Nothing to change.\n', err: '' });
        write(
          folder,
          `messages/${locale}.json`,
          before.replaceAll(/"(label|text|title|detail|required)": "[^"]*"/g, '"$1": "?"'),
        );
        // Nobody touched these rows, whatever happened here since.
        const asExported = ['import', 'out.txt', '--format', format, '--locale', locale];
        expect(zeitwort([...asExported, '--take', 'returned'], folder).out).toBe(
          'Nothing to change.\n',
        );
        write(folder, 'out.txt', unmarked(textOf(folder, 'out.txt')));
        expect(zeitwort([...asExported, '--take', 'returned'], folder).code).toBe(0);
        expect(textOf(folder, `messages/${locale}.json`)).toBe(before);
      }
    },
  );

  // Texts of all Unicode in a catalog; the arguments that they hold are what both sides have.
  const text = fc
    .array(
      fc.oneof(
        fc.string({ unit: 'binary', minLength: 1, maxLength: 3 }),
        fc.constantFrom(
          '"',
          '\n',
          '\r',
          '\t',
          '\u0001',
          '<&>',
          '=x',
          '\\',
          '{max, plural, one {#} other {# "{label}"}}',
        ),
      ),
      { minLength: 1 },
    )
    .map((parts) => parts.join('').replace(/[{}'#](?![^{]*\})/g, '') + '{max}{label}');

  test('generated catalogs survive every format', () => {
    const folder = copyOf('small', {
      'zeitwort.yaml':
        'original: en\nlocales: [en, de]\ntexts: [messages/*.json]\nrules: [rules/*.yaml]\n',
    });
    const original = JSON.stringify({
      locale: 'en',
      messages: Object.fromEntries(
        Array.from({ length: 12 }, (_, at) => [`m${at}`, '{max}{label}']),
      ),
    });
    write(folder, 'messages/en.json', original);
    const sample = fc.sample(text, 12);
    const catalog = `${JSON.stringify({ locale: 'de', messages: Object.fromEntries(sample.map((one, at) => [`m${at}`, one])) }, undefined, 2)}\n`;
    for (const format of FORMATS) {
      write(folder, 'messages/de.json', catalog);
      write(folder, 'out.txt', unmarked(exported(folder, format, 'de')));
      write(
        folder,
        'messages/de.json',
        catalog.replace(/"(m\d+)": ".*"/g, '"$1": "{max} {label}"'),
      );
      const { err } = zeitwort(
        [
          ...['import', 'out.txt', '--format', format, '--locale', 'de'],
          ...['--take', 'returned', '--anyway'],
        ],
        folder,
      );
      // A text that is not a message was none before: it is refused, and stays what it is now.
      const refused = new Set(
        [...err.matchAll(/\|message\|(m\d+): refused/g)].map(([, key]) => key),
      );
      const { messages } = JSON.parse(textOf(folder, 'messages/de.json')) as {
        messages: Record<string, string>;
      };
      for (const [at, one] of sample.entries())
        if (!refused.has(`m${at}`)) expect([format, messages[`m${at}`]]).toEqual([format, one]);
    }
  });

  test('what would break is listed with the reason, the rest goes in; a moved source makes it stale', () => {
    const folder = copyOf('observatory');
    zeitwort(
      [
        'set',
        '--locale',
        'en',
        '--field',
        'nights',
        '--rule',
        'maximum',
        '--room',
        '60',
        'You can ask for {max} nights.',
      ],
      folder,
    );
    const out = exported(folder, 'csv', 'de').split('\r\n');
    const edited = out.map((line) =>
      line.startsWith('|-|message|fits-the-night,')
        ? '|-|message|fits-the-night,x,Zu lang.,translated,,,'
        : line.startsWith('|nights|message|maximum,')
          ? `|nights|message|maximum,x,${'Mehr als {max} Nächte sind nicht zu haben; '.repeat(2)},translated,,,60,`
          : line.startsWith('|title|label|,')
            ? '|title|label|,title,Überschrift,reviewed,,,'
            : line.startsWith('|semester|label|,')
              ? '|semester|label|,semester,Halbjahr {,translated,,,'
              : line,
    );
    write(folder, 'back.csv', [...edited, '|titel|label|,a,b,translated,,,'].join('\r\n'));
    zeitwort(['set', '--locale', 'en', '--field', 'title', '--label', 'headline'], folder);
    const {
      code,
      out: said,
      err,
    } = zeitwort(['import', 'back.csv', '--locale', 'de', '--take', 'returned'], folder);
    expect(code).toBe(1);
    expect(err).toContain('|-|message|fits-the-night: it loses {hours}, which the original has.');
    expect(err).toMatch(
      /\|nights\|message\|maximum: with sample values it has \d+ characters, and there is room for 60\./,
    );
    expect(err).toMatch(/\|semester\|label\|: refused at character 10: /);
    expect(err).toContain(
      '|titel|label|: there is no such text in the original (did you mean "|title|label|"?).',
    );
    expect(err).toContain(
      'title label: the original changed since this was exported; the text went in, and counts as stale.',
    );
    expect(said).toMatch(/^title label\n {2}- Titel\n {2}\+ Überschrift\nImported 1 text into de/);
    expect(zeitwort(['review', '--stale', '--locale', 'de'], folder).out).toContain(
      'reviewed, stale',
    );
  });

  test('what is new and what is stale goes in one batch, with all that a translator has to know', () => {
    const folder = copyOf('observatory');
    const texts = [
      ['--field', 'guests', '--rule', 'minimum', 'No less than {min} guests come along.'],
      ['--field', 'targets[*].name', '--label', 'name of target {targets_number}'],
    ];
    zeitwort(
      ['review', '--locale', 'pl', '--field', 'targets[*].name', '--mark', 'reviewed'],
      folder,
    );
    for (const text of texts)
      expect(zeitwort(['set', '--locale', 'en', ...text], folder)).toMatchObject({
        code: 0,
        err: '',
      });
    const items = PO.parse(exported(folder, 'po', 'pl', '--stale')).items;
    expect(items.map(({ msgctxt, msgstr }) => [msgctxt, msgstr])).toEqual([
      ['|targets[*].name|label|', ['nazwa']],
      ['|guests|message|minimum', ['']],
    ]);
    expect(items.map(({ extractedComments }) => extractedComments.join('\n'))).toEqual([
      expect.stringContaining('{targets_number}: the number of the element, from 1'),
      expect.stringMatching(
        /^Said of the field "guests" when .*"minimum".*\nIn visitor-pass: guests\.\nFor example: No less than \d guests.*\n\{min\}: the bound/,
      ),
    ]);
    const both = PO.parse(exported(folder, 'po', 'pl', '--missing')).items;
    expect(both.map(({ msgctxt }) => msgctxt)).toEqual(['|guests|message|minimum']);
  });

  test('filters, states and placeholders', async () => {
    const folder = copyOf('observatory');
    zeitwort(['review', '--locale', 'pl', '--form', 'x', '--mark', 'final'], folder);
    zeitwort(['review', '--locale', 'pl', '--field', 'targets[*].name', '--mark', 'final'], folder);
    expect(exported(folder, 'csv', 'pl', '--state', 'final').trim().split('\r\n')).toHaveLength(2);
    expect(exported(folder, 'csv', 'ja', '--missing')).toBe(
      'key,source,target,state,before,note,room,about,terms,exported\r\n',
    );
    const file = exported(folder, 'xliff', 'pl');
    expect(file).toMatch(/<segment state="final">\s*<source xml:space="preserve">name<\/source>/);
    expect(file).toContain('<ph id="1" dataRef="d1" disp="{label_definite}"');
    // The structure of the standard, as far as a schema of its core tells it.
    const { valid, errors } = await validateXML({
      xml: [{ fileName: 'a.xlf', contents: file }],
      schema: [
        {
          fileName: 'xliff.xsd',
          contents: textOf(path.join(__dirname, '..', 'schemas'), 'xliff-core-2.xsd'),
        },
      ],
    });
    expect([valid, errors]).toEqual([true, []]);
    const po = PO.parse(exported(folder, 'po', 'pl'));
    expect([po.headers.Language, po.items.length]).toEqual(['pl', 116]);
    expect(po.items.find(({ msgctxt }) => msgctxt === '|targets[*].name|label|')).toMatchObject({
      msgid: 'name',
      msgstr: ['nazwa'],
      extractedComments: [
        'What people call the field "targets[*].name", as it stands inside a sentence.',
        'In observing-proposal: targets[*].name.',
        expect.stringMatching(/^For example: .*name/i),
        'state: final',
      ],
    });
    expect(exported(folder, 'csv', 'pl', '--delimiter', 'semicolon', '--bom')).toMatch(
      /^\uFEFFkey;source;target;/,
    );
    expect(exported(folder, 'properties', 'ja', '--ascii')).toMatch(
      /^\|title\|label\| = \\u984c\\u540d$/m,
    );
  });

  test.each([
    ['a.xlf', '<xliff', /a\.xlf:1:\d+: this is not XML/],
    [
      'a.xlf',
      '<?xml version="1.0"?><xliff version="1.2"/>',
      /XLIFF 1\.2 is not read; save it as XLIFF 2/,
    ],
    ['a.csv', 'id,text\n1,x', /a\.csv:1:1: there is no column "key"/],
    ['a.txt', 'x', /does not say what it is; name its format with --format/],
    ['a.json', '{"a": "b"}', /name the language of the texts with --locale/],
    ['a.csv', 'key,target\n1,x', /does not say which language it is/],
  ])('%s with %j ends in one sentence', (file, content, said) => {
    expect(zeitwort(['import', file], copyOf('observatory', { [file]: content }))).toMatchObject({
      code: 2,
      out: '',
      err: expect.stringMatching(said),
    });
  });
});

describe('old catalogs', () => {
  const sheet = `forms:
  visitor-pass:
    fields:
      visitor: { type: string, required: true, maxLength: 80 }
      guests: { type: number, maximum: 5 }
`;
  const take = (
    files: Record<string, string>,
    ...args: string[]
  ): { said: string; err: string; code: number | null } => {
    const folder = copyOf('small', { ...files, 'rules/visitor-pass.yaml': sheet });
    const { out, err, code } = zeitwort(
      ['import', Object.keys(files)[0] ?? '', '--locale', 'en', ...args],
      folder,
    );
    return { said: out, err, code };
  };
  const map = `keys:\n  'errors.FIELD.RULE': { field: FIELD, rule: RULE }\n  attributes.FIELD: { field: FIELD, label: true }\n  unused: ~\nrules: { blank: required, too_many: maximum }\narguments: { limit: max, '0': label, attribute: label }\n`;

  test.each([
    [
      'json',
      '{"errors":{"visitor":{"blank":"%(attribute)s can\'t be blank {now}"}}}',
      ['--placeholder', '%(NAME)s'],
      "{label} can''t be blank '{'now'}'",
      /looks like an argument/,
    ],
    [
      'json',
      '{"errors":{"visitor":{"blank":"Give %(attribute)s, don\'t wait"}}}',
      ['--placeholder', '%(NAME)s'],
      "Give {label}, don''t wait",
      undefined,
    ],
    [
      'yaml',
      'errors:\n  guests:\n    too_many: At most {{limit}}\n  visitor:\n    odd: [1]',
      ['--placeholder', '{{NAME}}'],
      'At most {max}',
      /errors\.visitor\.odd: it is neither a text nor an object/,
    ],
    [
      'json',
      '{"errors":{"visitor":{"blank":"Give at most {{limit}}","too_many":"x"},"visitors":{"blank":"y"},"guests":{"too_many":"{{limit}} at most"}}}',
      ['--placeholder', '{{NAME}}'],
      '{max} at most',
      /visitor\.blank: "required" has nothing to say as \{max\}[^]*visitor\.too_many: no rule of visitor is called "maximum"[^]*visitors\.blank: no form has a field at visitors \(did you mean "visitor"/,
    ],
    [
      'properties',
      'errors.visitor.blank = Give {0}!',
      ['--placeholder', '{NUMBER}'],
      'Give {label}!',
      undefined,
    ],
    [
      'csv',
      'key,text\nattributes.visitor,guest of honour\nunused,x',
      [],
      'guest of honour',
      undefined,
    ],
    [
      'po',
      'msgctxt "errors.guests.too_many"\nmsgid "a"\nmsgid_plural "b"\nmsgstr[0] "%(limit)s guest"\nmsgstr[1] "%(limit)s guests"\n',
      ['--placeholder', '%(NAME)s', '--plural-argument', 'limit'],
      '{max, plural, one {# guest} other {# guests}}',
      undefined,
    ],
    [
      'json',
      '{"errors.guests.too_many.one":"{{limit}} guest","errors.guests.too_many.other":"{{limit}} guests"}',
      ['--placeholder', '{{NAME}}', '--plural-suffix', '.CATEGORY', '--plural-argument', 'limit'],
      '{max, plural, one {# guest} other {# guests}}',
      undefined,
    ],
    [
      'json',
      '{"errors.guests.too_many":"one guest | :limit guests","errors.visitor.blank":"a|b|c"}',
      ['--placeholder', ':NAME', '--plural-between', '|', '--plural-argument', 'limit'],
      '{max, plural, one {one guest} other {# guests}}',
      /it has 3 forms, and en has 2 \(one, other\)/,
    ],
    [
      'json',
      '{"guests.maximum":"Too many guests.","nothing.like.it":"x"}',
      [],
      'Too many guests.',
      /nothing\.like\.it: nothing here has this key/,
    ],
  ])('%s %s', (format, content, args, wanted, reported) => {
    const { said, err, code } = take(
      { [`old.${format}`]: content, 'map.yaml': map },
      '--plain',
      '--map',
      'map.yaml',
      ...args,
    );
    if (reported && !said.includes('+')) expect(err).toMatch(reported);
    else {
      expect(said).toContain(`  + ${wanted}\n`);
      expect(err).toMatch(reported ?? /^$/);
    }
    expect(code).toBe(reported ? 1 : 0);
  });

  test('a template without a name, a map that is none', () => {
    expect(take({ 'old.json': '{}' }, '--placeholder', '%s')).toMatchObject({
      code: 2,
      err: expect.stringContaining('a template has NAME or NUMBER in it once'),
    });
    expect(
      take({ 'old.json': '{}', 'map.yaml': 'keys: { a: { feld: x } }' }, '--map', 'map.yaml'),
    ).toMatchObject({
      code: 2,
      err: expect.stringMatching(/map\.yaml: this map is not readable at "keys\.a"/),
    });
  });
});
