import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { openPack, openWorkspace } from '../../src/library.js';
import { folderWith, jsonOf, zeitwort } from '../support/program.js';

/**
 * What an instrument is made of: parts hold parts, and a part may be made of a kit, which holds
 * parts.
 */
const INSTRUMENT = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  type: 'object',
  required: ['name', 'parts'],
  properties: {
    name: { type: 'string', minLength: 2 },
    parts: { type: 'array', items: { $ref: '#/$defs/Part' } },
    mount: { $ref: '#/$defs/Part' },
    owner: { $ref: '#/$defs/Person' },
  },
  $defs: {
    Person: { type: 'object', properties: { mail: { type: 'string', format: 'email' } } },
    Part: {
      type: 'object',
      required: ['name'],
      properties: {
        name: { type: 'string', minLength: 2 },
        weight: { type: 'number', minimum: 0 },
        serial: { type: 'string', format: 'password', maxLength: 4 },
        parts: { type: 'array', items: { $ref: '#/$defs/Part' } },
        kit: { $ref: '#/$defs/Kit' },
        seller: { $ref: '#/$defs/Person' },
      },
      'x-zeitwort-rules': { name: { differsFrom: 'serial' } },
    },
    Kit: {
      type: 'object',
      properties: { parts: { type: 'array', items: { $ref: '#/$defs/Part' } } },
    },
  },
};
const EN = {
  locale: 'en',
  fields: {
    'Part::name': {
      label: 'name of the part',
      messages: { minLength: 'Call {label} something with {min} letters.' },
    },
    'Part::weight': { label: 'weight' },
    'Part::': { label: 'part' },
    'Part::parts[*]': { label: 'sub-part {parts_number}' },
    'parts[*]': { label: 'part {parts_number}' },
    'mount.name': { label: 'name of the mount' },
    name: { label: 'name of the instrument' },
  },
};
const SHEET = {
  forms: {
    instrument: {
      adds: true,
      fields: { 'Part::weight': { maximum: 90 }, 'mount.weight': { maximum: 50 } },
    },
  },
};
const workspace = (files: Record<string, unknown> = {}): string =>
  folderWith({
    'zeitwort.yaml':
      'original: en\nlocales: [en]\ntexts: [messages/*.json]\nrules: [rules/*.json]\n',
    'rules/instrument.schema.json': INSTRUMENT,
    'rules/more.json': SHEET,
    'messages/en.json': EN,
    ...files,
  });

const nested = {
  name: 'x',
  parts: [
    { name: 'mirror', parts: [{ name: 'cell' }, { name: 'y', weight: 'heavy' }] },
    { name: 'kit', kit: { parts: [{ name: 'z', weight: 91, serial: 'z' }] } },
  ],
  mount: { name: 'm', weight: 60, seller: { mail: 'nobody' } },
};

interface Told {
  readonly type: string;
  readonly errors: readonly { readonly pointer: string; readonly detail: string }[];
}
const tryOut = (folder: string): string[] =>
  (
    JSON.parse(
      zeitwort(['try', '--form', 'instrument', '-'], folder, JSON.stringify(nested)).out,
    ) as Told
  ).errors.map(({ pointer, detail }) => `${pointer}: ${detail}`);

describe('a schema whose parts hold parts', () => {
  const folder = workspace();

  test('lists them once, where they stand and what they are', () => {
    const { out } = zeitwort(['rules', '--form', 'instrument', '--format', 'json'], folder);
    const [form] = (
      JSON.parse(out) as { forms: { fields: { path: string; definitions?: string[] }[] }[] }
    ).forms;
    expect(
      form?.fields.map(({ path, definitions = [] }) => [path, ...definitions].join(' ')),
    ).toEqual([
      '',
      'name',
      'parts',
      'parts[*] Part::',
      'mount Part::',
      'owner',
      'owner.mail',
      'Part::',
      'Part::name',
      'Part::weight',
      'Part::serial',
      'Part::parts',
      'Part::parts[*] Part::',
      'Part::kit Kit::',
      'Part::seller',
      'Part::seller.mail',
      'Kit::',
      'Kit::parts',
      'Kit::parts[*] Part::',
      'mount.weight',
    ]);
    expect(zeitwort(['rules', '--form', 'instrument'], folder).out).toMatch(
      /parts\[\*\] +all rules of Part::/,
    );
  });

  test('labels, messages, rules and secrets of the definition hold wherever it stands, and what is nearer comes first', () => {
    expect(tryOut(folder)).toEqual([
      '#/name: Name of the instrument must have at least 2 characters.',
      '#/parts/0/parts/1/name: Call name of the part something with 2 letters.',
      '#/parts/0/parts/1/weight: Part 1, sub-part 2: weight must be a number.',
      '#/parts/1/kit/parts/0/name: Part 2, part 1: name of the part must be different from the value in “serial”.',
      '#/parts/1/kit/parts/0/name: Call name of the part something with 2 letters.',
      '#/parts/1/kit/parts/0/weight: Part 2, part 1: weight must be at most 90.',
      '#/mount/name: Call name of the mount something with 2 letters.',
      '#/mount/weight: Weight must be at most 50.',
      '#/mount/seller/mail: Mail must be a valid email address such as “name@domain.example”.',
    ]);
  });

  test('a pack says the same, and hides the same', () => {
    zeitwort(['pack', '--out', 'packs'], folder);
    const packs = openPack(path.join(folder, 'packs/en.json'));
    const own = openWorkspace(folder);
    const violations = [
      { path: 'parts[0].parts[1].name', rule: 'minLength', params: { min: 2 } },
      { path: 'mount.name', rule: 'minLength', params: { min: 2 } },
      { path: 'parts[1].kit.parts[0].weight', rule: 'maximum', params: { max: 90 }, value: 91 },
      {
        path: 'parts[1].kit.parts[0].serial',
        rule: 'maxLength',
        params: { max: 4 },
        value: 'a-secret',
      },
      { path: 'parts[1].kit.parts[0]', rule: 'type', params: { expected: 'object' }, value: 5 },
    ];
    const told = [packs, own].map(
      (one) => one.render({ form: 'instrument', violations }, { locale: 'en' }).body,
    );
    expect(told[0]).toEqual(told[1]);
    expect(JSON.stringify(told)).not.toContain('a-secret');
    expect(JSON.stringify(told)).toContain('Part 2: part 1 must be an object.');
  });

  test('the check knows texts of definitions, and of their places, and misses each label once', () => {
    const { out } = zeitwort(['check', '--format', 'json'], folder);
    const { findings } = JSON.parse(out) as { findings: { kind: string; path?: string }[] };
    const of = (wanted: string): (string | undefined)[] =>
      findings.filter(({ kind }) => kind === wanted).map(({ path: at }) => at);
    expect(of('missing-label')).toEqual([
      'parts',
      'owner',
      'owner.mail',
      'Part::serial',
      'Part::parts',
      'Part::seller',
      'Part::seller.mail',
      'Kit::',
      'Kit::parts',
    ]);
    expect(
      findings.filter(({ kind }) => /unused|unknown|unruled|shadowed|undeclared/.test(kind)),
    ).toEqual([]);
    const wrong = workspace({
      'messages/en.json': {
        ...EN,
        fields: { ...EN.fields, 'Part::wieght': { label: 'x' }, 'Prat::name': { label: 'y' } },
      },
    });
    expect(zeitwort(['check'], wrong).out.replace(/\s+/g, ' ')).toMatch(
      /at Part::wieght\. Did you mean Part::weight\?.*at Prat::name\. Did you mean Part::name\?/,
    );
  });

  test('why tells of the definition and of a place; init and fill write its labels', () => {
    expect(zeitwort(['why', 'instrument', 'Part::name', 'minLength'], folder).out).toContain(
      'Call name of the part',
    );
    expect(
      zeitwort(['why', 'instrument', 'parts[0].parts[1].name', 'minLength'], folder).out,
    ).toContain('messages/en.json');
    const fresh = folderWith({ 'api/instrument.schema.json': INSTRUMENT });
    expect(
      zeitwort(['init', '--from', 'api/instrument.schema.json', '--locales', 'en,de'], fresh).code,
    ).toBe(0);
    expect(jsonOf(fresh, 'messages/en.json').fields).toMatchObject({
      'Part::': { label: 'part' },
      'Part::parts[*]': { label: 'part {parts_number}' },
      'parts[*]': { label: 'part {parts_number}' },
    });
    expect(zeitwort(['fill', '--locale', 'de'], fresh).code).toBe(0);
    const { findings } = JSON.parse(zeitwort(['check', '--format', 'json'], fresh).out) as {
      findings: { kind: string }[];
    };
    expect([...new Set(findings.map(({ kind }) => kind))]).toEqual(['unreviewed']);
  });
});

// JSON Schema draft 4, Core section 7.2; 2020-12, Core section 4.3.2
test('draft 4 is read with its own word for names, and so are schemas that are only true, false or definitions', () => {
  const four = {
    $schema: 'http://json-schema.org/draft-04/schema#',
    id: 'http://domes.example/four.json',
    required: ['code'],
    properties: {
      id: { type: 'string' },
      code: { $ref: 'other.json#/definitions/code' },
      shut: { $ref: '#shut' },
      tilt: { minimum: 3, exclusiveMinimum: true },
    },
    definitions: {
      other: { id: 'other.json', definitions: { code: { type: 'integer' } } },
      shut: { id: '#shut', type: 'boolean' },
    },
  };
  const folder = folderWith({
    'zeitwort.yaml': 'original: en\nlocales: [en]\ntexts: [texts/*.json]\nrules: [rules/*.json]\n',
    'texts/en.json': '{ "locale": "en" }',
    'rules/four.json': JSON.stringify(four),
    'rules/parts.json': '{ "$id": "parts", "definitions": { "name": { "maxLength": 3 } } }',
    'rules/any.json': 'true',
    'rules/none.json': 'false',
    'rules/plan.json':
      '{ "properties": { "name": { "$ref": "parts.json#/definitions/name" }, "any": { "$ref": "any.json" }, "none": { "$ref": "none.json" } } }',
  });
  const broken = (form: string, payload: unknown): string[] => {
    const { out } = zeitwort(
      ['try', '-', '--form', form, '--format', 'violations'],
      folder,
      JSON.stringify(payload),
    );
    const { violations } = JSON.parse(out) as { violations: { path: string; rule: string }[] };
    return violations.map(({ path: at, rule }) => `${at} ${rule}`);
  };
  expect(broken('four', { id: 1, code: 'x', shut: 3, tilt: 3 })).toEqual([
    'id type',
    'code type',
    'shut type',
    'tilt exclusiveMinimum',
  ]);
  expect(broken('plan', { name: 'four', any: 1, none: 1 })).toEqual([
    'name maxLength',
    'none false',
  ]);
  expect(broken('any', [])).toEqual([]);
  expect(broken('none', [])).toEqual([' false']);
  expect(zeitwort(['check', '--skip-kind', 'missing-label'], folder).code).toBe(0);
});
