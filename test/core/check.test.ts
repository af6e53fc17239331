import { describe, expect, test } from '@jest/globals';
import { World } from '../support/world.js';

type Json = Record<string, unknown>;

const fieldsOf = (fields: Json): Json => ({ proposal: { fields } });
const label = { title: { label: 'title' } };

interface Case {
  kind: string;
  severity: 'error' | 'warning';
  /** File and keys of the place, and the offset inside of the text. */
  at: [string, ...(string | number)[]];
  offset?: number;
  says: string;
  fields: Json;
  texts: Json[];
  /** The twin in which the mistake is mended. */
  mended: { fields?: Json; texts?: Json[] };
}

const required = { title: { required: true } };
const cases: Case[] = [
  {
    kind: 'missing-message',
    severity: 'error',
    at: ['rules.yaml', 'forms', 'proposal', 'fields', 'title', 'required'],
    says: 'only the text for "unnamed"',
    fields: required,
    texts: [{ locale: 'en', fields: label }],
    mended: { texts: [{ locale: 'en', fields: label, messages: { required: 'x' } }] },
  },
  {
    kind: 'missing-label',
    severity: 'error',
    at: ['rules.yaml', 'forms', 'proposal', 'fields', 'targets[*].name'],
    says: 'targets[*] has no label in en',
    fields: { 'targets[*].name': { required: true } },
    texts: [
      {
        locale: 'en',
        fields: { 'targets[*].name': { label: 'name' } },
        messages: { required: 'x' },
      },
    ],
    mended: {
      texts: [
        {
          locale: 'en',
          fields: { 'targets[*].name': { label: 'name' }, 'targets[*]': { label: 't' } },
          messages: { required: 'x' },
        },
      ],
    },
  },
  {
    kind: 'unused-message',
    severity: 'warning',
    at: ['0.json', 'messages', 'requird'],
    says: 'Did you mean "required"?',
    fields: required,
    texts: [{ locale: 'en', fields: label, messages: { required: 'x', requird: { text: 'y' } } }],
    mended: { texts: [{ locale: 'en', fields: label, messages: { required: 'x' } }] },
  },
  {
    kind: 'misspelt-key',
    severity: 'error',
    at: ['0.json', 'messages', 'has-license'],
    says: '"has-licence" of driver (rules.yaml) has no text in en. One of the two is misspelt.',
    fields: { driver: { external: { 'has-licence': {} } } },
    texts: [
      { locale: 'en', fields: { driver: { label: 'driver' } }, messages: { 'has-license': 'x' } },
    ],
    mended: {
      texts: [
        { locale: 'en', fields: { driver: { label: 'driver' } }, messages: { 'has-licence': 'x' } },
      ],
    },
  },
  {
    kind: 'unused-message',
    severity: 'warning',
    at: ['0.json', 'messages', 'requird.general'],
    says: 'No rule of any form uses "requird.general"',
    fields: required,
    texts: [
      {
        locale: 'en',
        fields: label,
        messages: { required: 'x', 'maxLength.general': 'y', 'requird.general': 'z' },
      },
    ],
    mended: {
      texts: [
        {
          locale: 'en',
          fields: label,
          messages: { required: 'x', 'maxLength.general': 'y', unnamed: 'z' },
        },
      ],
    },
  },
  {
    kind: 'unused-message',
    severity: 'warning',
    at: ['0.json', 'form'],
    says: 'There is no form "propsal"',
    fields: required,
    texts: [
      { locale: 'en', form: 'propsal' },
      { locale: 'en', fields: label, messages: { required: 'x' } },
    ],
    mended: {
      texts: [
        { locale: 'en', form: 'proposal' },
        { locale: 'en', fields: label, messages: { required: 'x' } },
      ],
    },
  },
  {
    kind: 'message-syntax',
    severity: 'error',
    at: ['0.json', 'fields', 'title', 'messages', 'required', 'text'],
    offset: 5,
    says: 'no case "other"',
    fields: required,
    texts: [
      {
        locale: 'en',
        messages: { required: 'x' },
        fields: {
          title: { label: 'title', messages: { required: { text: 'have {n, plural, one {x}}' } } },
        },
      },
    ],
    mended: { texts: [{ locale: 'en', fields: label, messages: { required: 'x' } }] },
  },
  {
    kind: 'unknown-argument',
    severity: 'error',
    at: ['0.json', 'messages', 'maxLength'],
    offset: 8,
    says: 'There is no argument {maxx} for title (did you mean "max"?)',
    fields: { title: { maxLength: 3 } },
    texts: [{ locale: 'en', fields: label, messages: { maxLength: '{label}:{maxx}' } }],
    mended: {
      texts: [
        {
          locale: 'en',
          fields: label,
          messages: { maxLength: '{label_genitive}:{max}{actual}{value}{nested}' },
        },
      ],
    },
  },
  {
    kind: 'unknown-argument',
    severity: 'error',
    at: ['0.json', 'fields', 'targets[*]', 'label'],
    offset: 0,
    says: 'There is no argument {targets_number_quoted}',
    fields: { 'targets[*]': { required: true } },
    texts: [
      {
        locale: 'en',
        fields: { 'targets[*]': { label: '{targets_number_quoted}' } },
        messages: { required: 'x' },
      },
    ],
    mended: {
      texts: [
        {
          locale: 'en',
          fields: { 'targets[*]': { label: '{targets_number}' } },
          messages: { required: '{targets_number_quoted}' },
        },
      ],
    },
  },
  {
    kind: 'unknown-argument',
    severity: 'error',
    at: ['0.json', 'messages', 'maxLength.general'],
    offset: 8,
    says: 'There is no argument {max} here',
    fields: required,
    texts: [
      {
        locale: 'en',
        fields: label,
        messages: { required: 'x', 'maxLength.general': '{label}:{max}' },
      },
    ],
    mended: {
      texts: [
        {
          locale: 'en',
          fields: label,
          messages: { required: 'x', 'maxLength.general': '{label}' },
        },
      ],
    },
  },
  {
    kind: 'unknown-argument',
    severity: 'error',
    at: ['0.json', 'messages', 'required'],
    offset: 0,
    says: 'There is no argument {targets_number} for title',
    fields: { title: { required: true }, 'targets[*]': { required: true } },
    texts: [
      {
        locale: 'en',
        fields: { ...label, 'targets[*]': { label: 'x' } },
        messages: { required: '{targets_number}' },
      },
    ],
    mended: { fields: { 'targets[*]': { required: true } } },
  },
  {
    kind: 'unknown-argument',
    severity: 'error',
    at: ['0.json', 'problems', 'invalid-fields', 'title'],
    offset: 0,
    says: 'On offer: count, fields.',
    fields: required,
    texts: [
      {
        locale: 'en',
        fields: label,
        messages: { required: 'x' },
        problems: { 'invalid-fields': { title: '{number}' } },
      },
    ],
    mended: {
      texts: [
        {
          locale: 'en',
          fields: label,
          messages: { required: 'x' },
          problems: { 'invalid-fields': { title: '{count}' } },
        },
      ],
    },
  },
  {
    kind: 'missing-inflection',
    severity: 'warning',
    at: ['0.json', 'messages', 'required'],
    offset: 2,
    says: 'this label lacks: title. Add "genitive".',
    fields: required,
    texts: [{ locale: 'en', fields: label, messages: { required: 'x {label_genitive}' } }],
    mended: {
      texts: [
        {
          locale: 'en',
          fields: { title: { label: { text: 'title', genitive: 'titles' } } },
          messages: { required: 'x {label_genitive}' },
        },
      ],
    },
  },
  {
    kind: 'secret-value',
    severity: 'error',
    at: ['0.json', 'messages', 'required'],
    offset: 0,
    says: 'title is secret',
    fields: { title: { required: true, secret: true } },
    texts: [{ locale: 'en', fields: label, messages: { required: '{value}' } }],
    mended: { fields: required },
  },
  {
    kind: 'unknown-rule',
    severity: 'error',
    at: ['rules.yaml', 'forms', 'proposal', 'fields', 'title', 'requierd'],
    says: 'did you mean "required"?',
    fields: { title: { requierd: true } },
    texts: [{ locale: 'en', fields: label }],
    mended: { fields: {} },
  },
  {
    kind: 'duplicate-key',
    severity: 'error',
    at: ['1.json', 'messages', 'required'],
    says: '"messages > required" stands in 0.json too',
    fields: required,
    texts: [
      { locale: 'en', fields: label, messages: { required: 'x' } },
      { locale: 'en', messages: { required: 'y' } },
    ],
    mended: {
      texts: [
        { locale: 'en', fields: label, messages: { required: 'x' } },
        { locale: 'de', messages: { required: 'y' } },
      ],
    },
  },
  {
    kind: 'wrong-structure',
    severity: 'error',
    at: ['0.json', 'fields', 'title', 'lable'],
    says: 'A field has no key "lable" (did you mean "label"?).',
    fields: required,
    texts: [
      { locale: 'en', messages: { required: 'x' }, fields: { title: { lable: 'x', label: 'x' } } },
    ],
    mended: { texts: [{ locale: 'en', messages: { required: 'x' }, fields: label }] },
  },
];

/** What a form asks without saying it: an object at the body, a list at `targets`. */
const implied = [
  {
    locale: 'en',
    messages: { type: 'x' },
    fields: { '': { label: 'body' }, targets: { label: 'targets' } },
  },
];

describe('findings', () => {
  test.each(cases)(
    '$kind: $says',
    ({ kind, severity, at, offset, says, fields, texts, mended }) => {
      const { findings } = new World({ forms: fieldsOf(fields), texts, starters: implied }).check();
      const found = findings.filter((finding) => finding.kind === kind);
      expect(found).toHaveLength(1);
      const [file, ...keys] = at;
      expect(found[0]).toMatchObject({
        severity,
        message: expect.stringContaining(says),
        spot: { file, keys, ...(offset === undefined ? {} : { offset }) },
      });
      const twin = new World({
        forms: fieldsOf(mended.fields ?? fields),
        texts: mended.texts ?? texts,
        starters: implied,
      }).check();
      expect(twin.findings.filter((finding) => finding.kind === kind)).toEqual([]);
    },
  );
});

test('wrong parts of a sheet are named one by one, and the rest is read', () => {
  const world = new World({
    texts: [],
    forms: {
      a: {
        request: 'proposals',
        feilds: {},
        fields: {
          'x[': {},
          title: { maxLength: -1, minimum: { mn: 1 }, required: 'yes', optional: 'no' },
          lead: 3,
        },
      },
      b: {
        fields: {
          title: {
            type: 'text',
            format: 'mail',
            pattern: '(',
            enum: [],
            earliest: 'soon',
            repeats: 'a..',
            required: true,
          },
          nights: {
            maximum: { max: 3, as: 'required', onlyIf: 3 },
            external: { minimum: true, fits: 3, 'fits well': true, 'fits-well': true },
          },
        },
      },
    },
  });
  const messages = world
    .check()
    .findings.filter(({ kind }) => kind === 'wrong-structure')
    .map(({ message }) => message);
  expect(messages).toEqual([
    'A form has no key "feilds" (did you mean "fields"?).',
    expect.stringContaining('"x[" is not a path'),
    '"max" of "maxLength" is a whole number from 0, not -1.',
    '"minimum" needs "min": the least number.',
    '"holds" of "required" is true or false, not "yes".',
    '"optional" is true or false.',
    'The field "lead" is an object of rules, such as { required: true }.',
    '"request" is a method and a path, such as "POST /proposals".',
    expect.stringContaining('"expected" of "type" is one of string, number'),
    expect.stringContaining('"format" of "format" is one of date, time'),
    expect.stringContaining('"regex" of "pattern" is a regular expression ('),
    '"choices" of "enum" is a list with one value at least, not a list.',
    '"limit" of "earliest" is a date such as 2027-02-01, or today, not "soon".',
    expect.stringContaining('"a.." is not a path'),
    '"required" is a rule of the vocabulary: choose another name.',
    '"onlyIf" is an object of paths and values.',
    '"minimum" is a rule of the vocabulary: choose another name.',
    '"fits" has sample parameters by name, such as { hours: 6.5 }, or is true.',
    '"fits well" is not an id: write letters, digits and - _ . : only.',
  ]);
  const rows = world.check().matrix.map(({ path, code }) => `${path} ${code}`);
  expect(rows).toEqual([' type', ' type', 'title required', 'nights maximum', 'nights fits-well']);
});

describe('coverage', () => {
  const world = new World({
    forms: fieldsOf({
      title: { required: true, maxLength: 3, minLength: 1 },
      nights: {
        maximum: [{ max: 3 }, { max: 2 }, { max: 1, as: 'few' }],
        external: { fits: true },
      },
    }),
    texts: [
      { locale: 'de', messages: { required: 'x' } },
      { locale: 'en', messages: { required: 'x', minLength: 'x', few: 'x' } },
    ],
    starters: [{ locale: 'de', messages: { maxLength: 'x', maximum: 'x' } }],
  });

  test('says of each rule and locale where its text comes from; a region lives on its language', () => {
    const { matrix, coverage } = world.check('de', 'de-AT', 'en');
    const rows = matrix.map(({ code, locales }) => [code, ...locales.values()]);
    expect(rows).toEqual([
      ['type', 'missing', 'missing', 'missing'],
      ['required', 'written', 'written', 'written'],
      ['maxLength', 'starter', 'starter', 'missing'],
      ['minLength', 'fallback', 'fallback', 'written'],
      ['maximum', 'starter', 'starter', 'missing'],
      ['few', 'starter', 'starter', 'written'],
      ['fits', 'missing', 'missing', 'missing'],
    ]);
    expect(coverage).toBeCloseTo(11 / 21);
  });
});
