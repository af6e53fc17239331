// The schemas that editors complete by, beside the readers that the program has: what the one takes
// the other takes.
import { expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { parseLocale } from '../../src/core/locale/tag.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import { Purposes } from '../../src/core/texts/purpose.js';
import { readCatalog } from '../../src/core/texts/read.js';
import { VOCABULARY } from '../../src/core/rules/vocabulary.js';
import { publishedSchemas } from '../../src/workspace/answering/published.js';

const isRegex = (text: string): boolean => {
  try {
    return new RegExp(text, 'u').source !== '';
  } catch {
    return false;
  }
};
const ajv = new Ajv2020({ strict: false }).addFormat('regex', isRegex);
const [catalog, sheet] = ['catalog', 'rules'].map((name) =>
  ajv.compile(publishedSchemas()[`${name}.schema.json`] ?? {}),
);

const text = { text: 'x' };
const VALUES: readonly unknown[] = [
  'x',
  '',
  3,
  null,
  true,
  [],
  {},
  ['a'],
  text,
  { text: 3 },
  { note: 'x' },
  { ...text, note: 3 },
  { ...text, limit: 0 },
  { ...text, limit: 5 },
  { ...text, excused: { 'same-text': 'r' } },
  { ...text, excused: { 'same-text': ' ' } },
  { ...text, excused: 'r' },
  { ...text, odd: 1 },
  { ...text, odd: 'y' },
  { ...text, 'a b': 'y' },
  { ...text, gender: 'f' },
];

const SPOTS: readonly ((value: unknown) => object)[] = [
  (value) => ({ messages: value }),
  (value) => ({ messages: { a: value } }),
  (value) => ({ fields: value }),
  (value) => ({ fields: { a: value } }),
  (value) => ({ fields: { 'a[': { label: value } } }),
  (value) => ({ fields: { 'a[*].b': { label: value } } }),
  (value) => ({ fields: { a: { messages: { required: value } } } }),
  (value) => ({ fields: { a: { choices: { one: value } } } }),
  (value) => ({ problems: value }),
  (value) => ({ problems: { conflict: value } }),
  (value) => ({ problems: { conflict: { title: value } } }),
  (value) => ({ form: value }),
  (value) => ({ odd: value }),
  (value) => ({ $schema: value }),
];

test('a catalog', () => {
  const differ = SPOTS.flatMap((make) =>
    VALUES.flatMap((value) => {
      const root = { locale: 'en', ...make(value) };
      const read =
        readCatalog(root, 'en.json', parseLocale('en'), 'written', new Purposes()).catalog.remarks
          .length === 0;
      return read === catalog?.(root) ? [] : [{ root, read }];
    }),
  );
  expect(differ).toEqual([]);
});

const PARAMETERS: readonly unknown[] = [
  1,
  -1,
  1.5,
  'string',
  'strng',
  '(',
  '2027-01-01',
  'today',
  ['string', 'null'],
  { field: 'b' },
  { field: 'b[' },
  { max: 3 },
  { min: 3, max: 4 },
  [{ max: 3 }],
  [3, 4],
  { max: 3, as: 'too-big' },
  { max: 3, as: 'maximum' },
  { max: 3, onlyIf: { b: 1 } },
  { max: 3, onlyIf: 3 },
  { max: 3, onlyIf: { b: { absent: true } } },
  { max: 3, onlyIf: { b: { odd: true } } },
  { regex: '^a$' },
  { regex: '^a$', example: 'a' },
  { regex: '(' },
  { odd: 1 },
  { table: 't', column: 'c' },
  { table: 't', column: 'c', having: { a: 1 } },
  { table: 't', column: 'c', having: 1 },
];

test('a rule sheet', () => {
  const rules = [...VOCABULARY.values()].flatMap(({ id, family }) =>
    family === 'schema' ? [] : [id],
  );
  const uses = [...rules, 'external', 'optional', 'trim', 'secret', 'odd'].flatMap((rule) =>
    [...VALUES, ...PARAMETERS].map((value) => ({ fields: { a: { [rule]: value }, b: {} } })),
  );
  const forms: readonly unknown[] = [
    { request: 'POST /x' },
    { request: 'POST x' },
    { partial: 1 },
    { fields: null },
    { odd: 1 },
    { query: { a: {} } },
    { fields: { 'a[': {} } },
    { fields: { a: 'x' } },
  ];
  const differ = [...uses, ...forms].flatMap((form) => {
    const root = { forms: { f: form } };
    const read = readSheet(root, 'rules.yaml').remarks.length === 0;
    return read === sheet?.(root) ? [] : [{ form, read }];
  });
  expect(differ).toEqual([]);
});
