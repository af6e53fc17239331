// Makes workspaces around what an API has already: one OpenAPI document, or a folder of JSON
// Schemas. Labels are written once for a name, wherever it stands, some texts with them.
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { stringify } from 'yaml';
import { chance } from './large-workspace.mjs';

const WORDS =
  'dome mirror night lens plate depot visitor ferry badge slot quota survey filter target spectrum camera grating orbit signal archive'.split(
    ' ',
  );
const LOCALES = ['en', 'de', 'pl', 'ar', 'ja'];

/** What there are several of is called by its number or key. */
function which(pattern) {
  const [, name, open] = /^\.\.(\w+)(\[\*\]|\.\*)$/.exec(pattern) ?? [];
  return name === undefined ? '' : ` {${name}_${open === '.*' ? 'key' : 'number'}}`;
}

class Maker {
  random = chance(7);
  /** Patterns of fields that have labels, and of those that are required somewhere. */
  labels = new Set();
  required = new Set();

  word() {
    return WORDS[this.random(WORDS.length)];
  }

  name(at) {
    const [first, second] = [this.word(), this.word()];
    const name = `${first}${second[0].toUpperCase()}${second.slice(1)}${at}`;
    this.labels.add(`..${name}`);
    return name;
  }

  value() {
    const { random } = this;
    const kinds = [
      () => ({ type: 'string', minLength: 2, maxLength: 60 + random(50) }),
      () => ({ type: 'string', format: 'email' }),
      () => ({ type: 'integer', minimum: 1, maximum: 100 + random(900) }),
      () => ({ type: 'string', enum: [this.word(), `${this.word()}-2`, `${this.word()}-3`] }),
      () => ({ type: 'string', format: 'date-time' }),
      () => this.code(2 + random(3), 3 + random(4)),
      () => ({ type: 'number', exclusiveMinimum: 0 }),
      () => ({ type: 'boolean' }),
      () => ({ type: 'array', items: { type: 'string', minLength: 1 }, maxItems: 5 + random(20) }),
    ];
    return kinds[random(kinds.length)]();
  }

  code(letters, digits) {
    return {
      ...{ type: 'string', pattern: `^[A-Z]{${letters}}\\d{${digits}}$` },
      examples: ['D'.repeat(letters) + '7'.repeat(digits)],
    };
  }

  /** @param more members besides, made by other ways */
  object(count, more = []) {
    const properties = {};
    for (let at = 0; at < count; at++) properties[this.name(at)] = this.value();
    for (const [at, one] of more.entries()) properties[this.name(count + at)] = one;
    for (const [name, { type, additionalProperties }] of Object.entries(properties)) {
      if (type === 'array') this.labels.add(`..${name}[*]`);
      if (additionalProperties) this.labels.add(`..${name}.*`);
    }
    const required = Object.keys(properties).filter(() => this.random(2) === 0);
    for (const name of required) this.required.add(`..${name}`);
    return { type: 'object', properties, required, additionalProperties: false };
  }

  write(folder, rules, texts) {
    for (const [file, value] of Object.entries(texts)) {
      mkdirSync(path.dirname(path.join(folder, file)), { recursive: true });
      writeFileSync(path.join(folder, file), JSON.stringify(value, undefined, 2));
    }
    for (const locale of LOCALES) {
      const said = (pattern) => ({ label: `${this.word()} ${locale}${which(pattern)}` });
      const fields = Object.fromEntries(
        [...this.labels].map((pattern) => [pattern, said(pattern)]),
      );
      for (const pattern of [...this.required].filter((_, at) => at % 5 === 0))
        fields[pattern].messages = { required: `${this.word()} ${this.word()}: {label}.` };
      mkdirSync(path.join(folder, 'messages'), { recursive: true });
      writeFileSync(
        path.join(folder, 'messages', `${locale}.json`),
        JSON.stringify({ locale, fields }, undefined, 2),
      );
    }
    const settings = `original: en\nlocales: [${LOCALES.join(', ')}]\nrules: ['${rules}']\ntexts: ['messages/*.json']\n`;
    writeFileSync(path.join(folder, 'zeitwort.yaml'), settings);
  }
}

/** Gives each value of a document a description, as most documents have them. */
function described(value) {
  if (Array.isArray(value)) return value.map(described);
  if (typeof value !== 'object' || value === null) return value;
  const inner = Object.fromEntries(
    Object.entries(value).map(([name, one]) => [name, described(one)]),
  );
  return typeof value.type === 'string'
    ? {
        ...inner,
        description: 'Says what the dome uses this for, and since which season. '.repeat(3),
      }
    : inner;
}

/**
 * One document of so many operations, whose bodies refer to 60 schemas that they share.
 * @param yaml whether the document is in YAML, with descriptions
 */
export function makeApi(folder, operations, { yaml = false } = {}) {
  const maker = new Maker();
  const { random } = maker;
  for (const name of ['id', 'limit']) maker.labels.add(name);
  const schemas = {};
  const referred = (name) => {
    const $ref = `#/components/schemas/${name}`;
    return random(2) === 0 ? { $ref } : { type: 'array', items: { $ref } };
  };
  for (let at = 0; at < 60; at++)
    schemas[`Part${at}`] = maker.object(
      5 + random(6),
      at > 10 && random(3) === 0 ? [referred(`Part${random(at)}`)] : [],
    );
  const paths = {};
  for (let at = 0; at < operations; at++) {
    const schema = maker.object(8 + random(8), [
      referred(`Part${random(60)}`),
      referred(`Part${random(60)}`),
    ]);
    const parameters = [
      { name: 'id', in: 'path', required: true, schema: { type: 'string', format: 'uuid' } },
      { name: 'limit', in: 'query', schema: { type: 'integer', minimum: 1, maximum: 200 } },
    ];
    const requestBody = { required: true, content: { 'application/json': { schema } } };
    const post = {
      operationId: `make${at}`,
      parameters,
      requestBody,
      responses: { 201: { description: 'made' } },
    };
    paths[`/${maker.word()}s/{id}/${maker.word()}-${at}`] = { post };
  }
  const info = { title: 'An observatory that is made up', version: '1' };
  const document = { openapi: '3.1.0', info, paths, components: { schemas } };
  if (yaml) {
    maker.write(folder, 'api/*.yaml', {});
    mkdirSync(path.join(folder, 'api'), { recursive: true });
    writeFileSync(path.join(folder, 'api/api.yaml'), stringify(described(document)));
  } else maker.write(folder, 'api/*.json', { 'api/api.json': document });
}

/**
 * So many schemas in files of their own, with maps, choices, and parts that hold themselves in a
 * file that they share.
 */
export function makeSchemas(folder, count) {
  const maker = new Maker();
  for (const pattern of ['..text', '..replies', '..replies[*]']) maker.labels.add(pattern);
  const note = {
    type: 'object',
    properties: {
      text: { type: 'string', maxLength: 500 },
      replies: { type: 'array', items: { $ref: '#/$defs/note' } },
    },
    required: ['text'],
  };
  const ways = [
    () => ({ type: 'object', additionalProperties: maker.object(1) }),
    () => ({ anyOf: [{ type: 'string' }, maker.object(1)] }),
    () => ({ $ref: 'common.json#/$defs/note' }),
  ];
  const files = { 'schemas/common.json': { $defs: { note } } };
  for (let at = 0; at < count; at++) {
    const more = [0, 1, 2].map(() => ways[maker.random(ways.length)]());
    const schema = {
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      ...maker.object(9, more),
    };
    files[`schemas/form-${at}.schema.json`] = schema;
  }
  maker.write(folder, 'schemas/*.schema.json', files);
}
