import { describe, expect, test } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { KINDS } from '../../src/core/check/kinds.js';
import { VOCABULARY } from '../../src/core/rules/vocabulary.js';
import { World } from '../support/world.js';

type Json = Record<string, unknown>;

interface Case {
  readonly kind: string;
  readonly severity?: 'error' | 'warning';
  /** The keys of the place in the file of rules (`rules.yaml`) or of the texts (`0.json`, …), and the offset in the text. */
  readonly at: readonly [string, ...(string | number)[]];
  readonly offset?: number;
  readonly says: string;
  readonly fields?: Json;
  readonly texts: readonly Json[];
  readonly mended: { readonly fields?: Json; readonly texts?: readonly Json[] };
  readonly languages?: readonly string[];
}

const title = { title: { required: true, maxLength: 120 } };
const en = (messages: Json, fields: Json = {}): Json => ({
  locale: 'en',
  messages,
  fields: { title: { label: 'title' }, ...fields },
});
const of = (locale: string, messages: Json, fields: Json = {}): Json => ({ ...en(messages, fields), locale });
const message = (at: string, key: string): readonly [string, ...string[]] => [at, 'messages', key];

const cases: Case[] = [
  {
    kind: 'missing-choice',
    at: ['rules.yaml', 'forms', 'f', 'fields', 'filter', 'enum'],
    says: '"o3" of filter has no name in de, but has one in en',
    fields: { filter: { enum: ['ha', 'o3'] } },
    texts: [
      en({}, { filter: { label: 'f', choices: { ha: 'H', o3: 'O' } } }),
      of('de', {}, { filter: { label: 'f', choices: { ha: 'H' } } }),
    ],
    mended: {
      texts: [
        en({}, { filter: { label: 'f', choices: { ha: 'H' } } }),
        of('de', {}, { filter: { label: 'f', choices: { ha: 'H' } } }),
      ],
    },
    languages: ['en', 'de'],
  },
  {
    kind: 'unused-label',
    at: ['0.json', 'fields', 'titel'],
    says: 'No form has a field at titel. Did you mean title?',
    texts: [en({}, { titel: { label: 'x' } })],
    mended: { texts: [en({}, { '[*]': { label: 'x' }, title: { label: 'x' } })], fields: { ...title, '[*].a': {} } },
  },
  {
    kind: 'unruled-field',
    at: ['0.json', 'fields', 'nights'],
    says: 'nights has a label and no rule',
    fields: { ...title, nights: {} },
    texts: [en({}, { nights: { label: 'nights' } })],
    mended: { fields: { ...title, 'nights.count': { required: true } } },
  },
  {
    kind: 'shadowed',
    at: ['0.json', 'messages', 'required'],
    says: 'a more special one stands in front of it',
    texts: [en({ required: 'x' }, { title: { label: 't', messages: { required: 'y' } } })],
    mended: { fields: { ...title, other: { required: true } } },
  },
  {
    kind: 'tie',
    at: ['0.json', 'fields', '..b[*].a'],
    says: '..b[*].a and ..a cover the same places',
    fields: { 'b[*].a': { required: true } },
    texts: [en({}, { '..a': { label: 'x' }, '..b[*].a': { label: 'y' } })],
    mended: { texts: [en({}, { '..a': { label: 'x' }, 'b[*].a': { label: 'y' } })] },
  },
  {
    kind: 'argument-clash',
    at: ['rules.yaml', 'forms', 'f', 'fields', 'targets[*].plan', 'external', 'fits'],
    says: 'The parameter "targets_number" hides the place',
    fields: { 'targets[*].plan': { external: { fits: { targets_number: 3 } } } },
    texts: [],
    mended: { fields: { 'targets[*].plan': { external: { fits: { hours: 3 } } } } },
  },
  {
    kind: 'argument-mismatch',
    at: message('1.json', 'maxLength'),
    says: 'leaves out {max} and adds {actual}',
    texts: [en({ maxLength: '{label_start}: {max}' }), of('de', { maxLength: '{label}: {actual}' })],
    mended: { texts: [en({ maxLength: '{label_start}: {max}' }), of('de', { maxLength: '{place} {label_dative}: {max}' })] },
    languages: ['en', 'de'],
  },
  {
    kind: 'plural-gap',
    severity: 'error',
    at: message('0.json', 'maxLength'),
    offset: 2,
    says: 'has no case for few, many, which pl has. Add few {…} many {…}.',
    texts: [of('pl', { maxLength: 'x {max, plural, one {#} other {#}}' })],
    mended: { texts: [of('pl', { maxLength: 'x {max, plural, one {#} few {#} many {#} other {#}}' })] },
    languages: ['pl'],
  },
  {
    kind: 'plural-gap',
    severity: 'error',
    at: message('0.json', 'maxLength'),
    says: 'no case for many, which fr has',
    fields: { title: { maxLength: 2_000_000 } },
    texts: [of('fr', { maxLength: '{max, plural, one {#} other {#}}' })],
    mended: { fields: title },
    languages: ['fr'],
  },
  {
    kind: 'plural-gap',
    severity: 'error',
    at: message('0.json', 'maxLength'),
    says: 'The selectordinal of {max} has no case for two, few',
    texts: [en({ maxLength: '{max, selectordinal, one {#st} other {#th}}' })],
    mended: { texts: [en({ maxLength: '{max, plural, =1 {one} other {#}}' })] },
  },
  {
    kind: 'plural-extra',
    at: message('0.json', 'maxLength'),
    offset: 14,
    says: 'en has no plural category "few"',
    texts: [en({ maxLength: '{max, plural, few {#} one {#} other {#}}' })],
    mended: { texts: [en({ maxLength: '{max, plural, =0 {#} one {#} other {#}}' })] },
  },
  {
    kind: 'select-mismatch',
    at: message('0.json', 'required'),
    offset: 17,
    says: '{nested} is never "yess" (did you mean "yes"?); it can be yes, no.',
    texts: [en({ required: '{nested, select, yess {a} other {b}}' })],
    mended: { texts: [en({ required: '{nested, select, yes {a} other {b}}' })] },
  },
  {
    kind: 'number-in-words',
    at: message('0.json', 'maxLength'),
    offset: 8,
    says: 'The text writes 120, which is {max} of its rule',
    texts: [en({ maxLength: 'At most 120 characters.' })],
    mended: { texts: [en({ maxLength: 'At most {max} characters, not 121.' })] },
  },
  {
    kind: 'nested-too-deep',
    at: message('0.json', 'maxLength'),
    says: 'Cases are nested 4 deep',
    texts: [en({ maxLength: `${'{nested, select, other {'.repeat(4)}x${'}}'.repeat(4)}` })],
    mended: { texts: [en({ maxLength: `${'{nested, select, other {'.repeat(3)}x${'}}'.repeat(3)}` })] },
  },
  {
    kind: 'vague-message',
    at: message('0.json', 'maxLength'),
    offset: 11,
    says: '"invalid" does not say what would be right. Say it with {max}.',
    texts: [en({ maxLength: '{label} is invalid.' })],
    mended: { texts: [en({ maxLength: '{label} is invalid: {max} characters at most.' })] },
  },
  {
    kind: 'vague-message',
    at: message('0.json', 'maxLength'),
    says: '"ungültig"',
    texts: [of('de', { maxLength: 'Ungültige Länge.' })],
    mended: { texts: [of('de', { maxLength: 'Ungültige Länge: {max} Zeichen.' })] },
    languages: ['de'],
  },
  {
    kind: 'raw-path',
    at: message('0.json', 'required'),
    offset: 7,
    says: '"firstNight" is a name out of the code',
    fields: { firstNight: { required: true } },
    texts: [en({ required: 'Please firstNight.' }, { firstNight: { label: 'x' } })],
    mended: { texts: [en({ required: 'Please first night.' })] },
  },
  {
    kind: 'raw-path',
    at: message('0.json', 'required'),
    says: '"targets.2.name"',
    texts: [en({ required: 'Give targets.2.name at once.' })],
    mended: { texts: [en({ required: 'Give it at 12.30, see page 2.' })] },
  },
  {
    kind: 'same-as-original',
    at: message('1.json', 'required'),
    says: 'This text is the original in en, word by word',
    texts: [en({ required: 'Please give the {label}.' }), of('de', { required: 'Please give the {label}.' })],
    mended: { texts: [en({ required: 'Please give the {label}.' }), of('de', { required: 'Bitte {label}.' })] },
    languages: ['en', 'de'],
  },
  {
    kind: 'same-text',
    at: message('0.json', 'maxLength'),
    says: '"maxLength" says the same as "required"',
    texts: [en({ required: 'Mind the {label}.', maxLength: 'Mind the {label}.' })],
    mended: { texts: [en({ required: 'Mind the {label}.', maxLength: '{label}: {max}' })] },
  },
  {
    kind: 'too-long',
    at: ['0.json', 'messages', 'maxLength', 'text'],
    says: 'has 19 characters, and there is room for 18',
    texts: [en({ maxLength: { text: '{label} at most {max}', limit: 18 } })],
    mended: { texts: [en({ maxLength: { text: '{label} at most {max}', limit: 19 } })] },
    fields: { title: { maxLength: 1 }, more: { maxLength: 99_999 } },
  },
  {
    kind: 'end-mark',
    at: message('0.json', 'd'),
    says: 'end with a full stop, and this one does not',
    fields: { title: { external: { a: true, b: true, c: true, d: true } } },
    texts: [en({ a: 'A.', b: '{nested, select, yes {B.} other {C!}}', c: 'C “c.”', d: 'D' })],
    mended: { texts: [en({ a: 'A', b: 'B', c: 'C', d: 'D' })] },
  },
  {
    kind: 'spacing',
    at: message('0.json', 'required'),
    offset: 6,
    says: 'has a double space',
    texts: [en({ required: 'Please  give it.' })],
    mended: { texts: [en({ required: 'Please give {label}{nested, select, yes { of {place}} other {}}.' })] },
  },
  {
    kind: 'spacing',
    at: message('0.json', 'required'),
    says: 'This text ends with a space',
    texts: [en({ required: 'Please ' })],
    mended: { texts: [en({ required: 'Please' })] },
  },
  {
    kind: 'spacing',
    at: message('0.json', 'required'),
    says: 'lacks the non-breaking space',
    texts: [of('fr', { required: 'Le champ « titre » : obligatoire' })],
    mended: { texts: [of('fr', { required: 'Le champ «\u00a0titre\u00a0»\u00a0: obligatoire' })] },
    languages: ['fr'],
  },
  {
    kind: 'mixed-direction',
    at: message('0.json', 'required'),
    offset: 12,
    says: '"JSON" runs against the direction of ar',
    texts: [of('ar', { required: 'محتوى الطلب JSON' })],
    mended: { texts: [of('ar', { required: 'محتوى الطلب \u2068JSON\u2069' })] },
    languages: ['ar'],
  },
  {
    kind: 'wrong-script',
    severity: 'error',
    at: message('0.json', 'required'),
    offset: 5,
    says: '"пoле" mixes letters of two scripts',
    texts: [of('uk', { required: 'Одне пoле.' })],
    mended: { texts: [of('uk', { required: 'Одне поле, Hα, JSON-документ.' })] },
    languages: ['uk'],
  },
  {
    kind: 'markup',
    at: message('0.json', 'required'),
    offset: 7,
    says: '"<b>" is markup',
    texts: [en({ required: 'Please <b>give</b> it.' })],
    mended: { texts: [en({ required: 'Please give 1 < 2 & 3 > 2.' })] },
  },
  ...(
    [
      [
        { minLength: 5, maxLength: 3 },
        'maxLength',
        '"maxLength" 3 leaves nothing above "minLength" 5',
        { minLength: 3, maxLength: 3 },
      ],
      [{ exclusiveMinimum: 3, maximum: 3 }, 'maximum', 'leaves nothing', { minimum: 3, maximum: 3 }],
      [
        { enum: ['2027A', 'x'], pattern: '^\\d' },
        'enum',
        '"x" is listed, but "pattern" refuses it',
        { enum: ['2027A'], pattern: '^\\d' },
      ],
      [{ type: 'string', enum: [1] }, 'enum', '1 is listed, but the type refuses it', { type: 'string', enum: ['1'] }],
      [
        { earliest: '2027-03-01', latest: '2027-02-01' },
        'latest',
        'is before "earliest"',
        { earliest: '2027-03-01', latest: 'today' },
      ],
    ] as const
  ).map(([wrong, rule, says, right]): Case => ({
    ...{ kind: 'bound-conflict', severity: 'error', at: ['rules.yaml', 'forms', 'f', 'fields', 'a', rule], says, texts: [] },
    ...{ fields: { a: wrong }, mended: { fields: { a: right } } },
  })),
];

const worldOf = (fields: Json, texts: readonly Json[]): World => new World({ forms: { f: { fields } }, texts: [...texts] });

describe('each kind finds its mistake, at its place, and nothing in its twin', () => {
  test.each(cases)(
    '$kind: $says',
    ({ kind, severity = 'warning', at, offset, says, fields = title, texts, mended, languages = ['en'] }) => {
      const found = worldOf(fields, texts)
        .check(...languages)
        .findings.filter((one) => one.kind === kind);
      expect(found.length).toBeGreaterThan(0);
      const [file, ...keys] = at;
      expect(found[0]).toMatchObject({
        severity,
        message: expect.stringContaining(says),
        spot: { file, keys, ...(offset === undefined ? {} : { offset }) },
      });
      const twin = worldOf(mended.fields ?? fields, mended.texts ?? texts).check(...languages);
      expect(twin.findings.filter((one) => one.kind === kind)).toEqual([]);
    },
  );

  test('all kinds are tested, here or with the readers that notice them, and say how to mend it', () => {
    const here = new Set(cases.map(({ kind }) => kind));
    const elsewhere = [
      'wrong-shape',
      'duplicate-key',
      'duplicate-form',
      'unknown-rule',
      'unknown-field',
      'slow-regex',
      'message-syntax',
      'unknown-argument',
      'missing-message',
      'missing-label',
      'missing-problem',
      'unknown-problem',
      'missing-form',
      'secret-value',
      'exposed-details',
      'unused-message',
      'unused-excuse',
    ];
    expect(KINDS.map(({ kind }) => kind).filter((kind) => !here.has(kind) && !elsewhere.includes(kind))).toEqual([]);
    for (const { about, remedy } of KINDS)
      expect([about, remedy]).toEqual([expect.stringMatching(/\.$/), expect.stringMatching(/\.$/)]);
  });
});

describe('no false alarm on the starter catalogs', () => {
  const folder = path.join(__dirname, '..', '..', 'src', 'starter');
  const starters = readdirSync(folder).map((file) => JSON.parse(readFileSync(path.join(folder, file), 'utf8')) as Json);
  // One field with every rule of the vocabulary, so that each starter text is in use.
  const everything = Object.fromEntries(
    [...VOCABULARY.values()]
      .filter(({ family }) => family !== 'schema')
      .map(({ id, parameters, bySibling }) => {
        const [main] = parameters;
        const samples: Json = {
          flag: main?.on ?? true,
          count: 3,
          number: 3,
          text: 'x',
          regex: 'x',
          value: 1,
          list: ['a'],
          types: 'string',
          format: 'date',
          date: '2027-02-01',
          field: 'other',
        };
        if (id.startsWith('min') && id.endsWith('Contains')) return [id, { min: 1, expected: 1 }];
        if (id === 'maxContains') return [id, { max: 2, expected: 1 }];
        if (id === 'range') return [id, { min: 1, max: 2 }];
        if (main?.type === 'table') return [id, { table: 't', column: 'c' }];
        return [id, bySibling && main?.type === 'field' ? 'other' : samples[main?.type ?? 'text']];
      }),
  );

  test.each(starters.map((starter) => [String(starter.locale), starter] as const))('%s', (locale, starter) => {
    const world = new World({
      forms: { f: { fields: { list: { maxItems: 9 }, 'list[*].a': everything, other: {} } } },
      texts: [starter],
      original: locale,
    });
    const wording = [
      'vague-message',
      'wrong-script',
      'spacing',
      'end-mark',
      'mixed-direction',
      'markup',
      'raw-path',
      'plural-gap',
      'plural-extra',
      'select-mismatch',
      'same-text',
      'nested-too-deep',
      'message-syntax',
    ];
    expect(
      world
        .check(locale)
        .findings.filter(({ kind }) => wording.includes(kind))
        .map(({ kind, message: said, spot }) => [kind, said, spot?.keys]),
    ).toEqual([]);
  });
});
