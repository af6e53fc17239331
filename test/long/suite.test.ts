// The official test suite of JSON Schema (Debian's libtest-json-schema-acceptance-perl ships it),
// drafts 7, 2019-09 and 2020-12, optional formats among them: what it calls valid breaks nothing,
// what it calls invalid breaks something.
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { Ajv } from 'ajv';
import { Ajv2019 } from 'ajv/dist/2019.js';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { Documents } from '../../src/exchange/schema/documents.js';
import { readSchemas } from '../../src/exchange/schema/read.js';
import { run, type Read } from '../support/schemas.js';
import { sampled } from '../support/torture.js';

const suite = '/usr/share/perl5/auto/share/dist/Test-JSON-Schema-Acceptance';
const withSuite = process.env.CI === 'true' || existsSync(suite) ? describe : describe.skip;

const DRAFTS = {
  draft7: 'http://json-schema.org/draft-07/schema#',
  'draft2019-09': 'https://json-schema.org/draft/2019-09/schema',
  'draft2020-12': 'https://json-schema.org/draft/2020-12/schema',
} as const;

/**
 * Not done, and said so in the reference: content is not decoded, one document is of one draft,
 * vocabularies are not chosen.
 */
const LEFT_OUT = ['optional/content.json', 'optional/cross-draft.json', 'vocabulary.json'];

interface Group {
  readonly description: string;
  readonly schema: Readonly<Record<string, unknown>> | boolean;
  readonly tests: readonly {
    readonly description: string;
    readonly data: unknown;
    readonly valid: boolean;
  }[];
}

const json = (file: string): unknown => JSON.parse(readFileSync(file, 'utf8'));

const filesIn = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((file) =>
    file.endsWith('.json'),
  );

/**
 * What the suite expects at its addresses: nothing is fetched, so it is there under these names
 * already.
 */
function remotes(draft: string): Record<string, unknown>[] {
  const folder = path.join(suite, 'remotes');
  const files = filesIn(folder).filter(
    (file) => !file.startsWith('draft') || file.startsWith(`${draft}/`),
  );
  const metaschemas = [new Ajv(), new Ajv2019(), new Ajv2020()].flatMap(({ schemas }) =>
    Object.values(schemas).flatMap((one) =>
      typeof one?.schema === 'object' ? [one.schema as Record<string, unknown>] : [],
    ),
  );
  const documents = files.flatMap((file) => {
    const $id = `http://localhost:1234/${file}`;
    const schema = json(path.join(folder, file));
    if (typeof schema !== 'object' || schema === null) return [];
    return '$id' in schema ? [schema, { ...schema, $id }] : [{ ...schema, $id }];
  });
  return [...metaschemas, ...documents];
}

function read(
  schema: Group['schema'],
  draft: keyof typeof DRAFTS,
  around: readonly unknown[],
): Read | undefined {
  const documents = new Documents(() => undefined);
  for (const [at, one] of around.entries()) documents.open(`around/${at}.json`, one);
  const root =
    typeof schema === 'object' && !('$schema' in schema)
      ? { $schema: DRAFTS[draft], ...schema }
      : schema;
  documents.open('forms/one.schema.json', root);
  const [form] = readSchemas('forms/one.schema.json', documents).forms;
  return form && { schema: form, index: new FormIndex(form.parts.form), remarks: [] };
}

withSuite('the official suite', () => {
  test.each(sampled(Object.keys(DRAFTS) as (keyof typeof DRAFTS)[]))(
    '%s',
    (draft) => {
      const around = remotes(draft);
      const folder = path.join(suite, 'tests', draft);
      const wrong: string[] = [];
      let seen = 0;
      for (const file of filesIn(folder).filter((one) => !LEFT_OUT.includes(one))) {
        for (const { description, schema, tests } of json(path.join(folder, file)) as Group[]) {
          const form = read(schema, draft, around);
          for (const one of tests) {
            seen++;
            if (!form || (run(form, { body: one.data }).length === 0) !== one.valid)
              wrong.push(`${file}: ${description}: ${one.description}`);
          }
        }
      }
      expect(wrong).toEqual([]);
      expect(seen).toBeGreaterThan(1000);
    },
    120_000,
  );
});
