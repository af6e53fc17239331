import { describe, expect, test } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { broken, only, run } from '../support/schemas.js';

type Json = Record<string, unknown>;

describe('the official cases', () => {
  // The suite that a package ships is of draft 4: its keywords mean what they mean today, but for
  // `id`, `definitions` of the metaschema and references over the network.
  const folder = path.join(
    path.dirname(require.resolve('json-schema-test-suite/package.json')),
    'tests',
    'draft4',
  );
  const left = new Set(['definitions.json', 'refRemote.json', 'ref.json']);
  const files = [
    ...readdirSync(folder).filter((file) => file.endsWith('.json') && !left.has(file)),
    ...['email', 'ipv4', 'ipv6', 'hostname', 'date-time', 'uri', 'format', 'ecmascript-regex'].map(
      (name) => `optional/${name}.json`,
    ),
  ].filter((file) =>
    readdirSync(path.join(folder, path.dirname(file))).includes(path.basename(file)),
  );

  test.each(files)('%s', (file) => {
    const groups = JSON.parse(readFileSync(path.join(folder, file), 'utf8')) as {
      description: string;
      schema: Json;
      tests: { description: string; data: unknown; valid: boolean }[];
    }[];
    for (const { description, schema, tests } of groups) {
      const form = only({ $schema: 'http://json-schema.org/draft-04/schema#', ...schema });
      // A URI has a scheme (RFC 3986 section 3); draft 4's cases were written when the format meant
      // references too.
      for (const { description: about, data, valid } of tests.filter(
        (one) => one.description !== 'a valid protocol-relative URI',
      ))
        expect([description, about, run(form, { body: data }).length === 0]).toEqual([
          description,
          about,
          valid,
        ]);
    }
  });
});

describe('keywords of later drafts, from the specification', () => {
  const draft = (name: string): Json => ({
    $schema:
      name === '07'
        ? 'http://json-schema.org/draft-07/schema#'
        : `https://json-schema.org/draft/${name}/schema`,
  });

  test.each<[string, Json, [unknown, string[]][]]>([
    [
      '07',
      { const: { a: 1 } },
      [
        [{ a: 1 }, []],
        [{ a: 2 }, [' const']],
      ],
    ],
    [
      '07',
      { contains: { minimum: 5 } },
      [
        [[1, 5], []],
        [[1, 2], [' contains']],
      ],
    ],
    [
      '07',
      { propertyNames: { maxLength: 3 } },
      [
        [{ abc: 1 }, []],
        [{ abcd: 1, efghi: 2 }, [' propertyNames', ' propertyNames']],
      ],
    ],
    [
      '07',
      { if: { required: ['a'] }, then: { required: ['b'] }, else: { required: ['c'] } },
      [
        [{ a: 1 }, ['b required']],
        [{}, ['c required']],
        [{ c: 1 }, []],
      ],
    ],
    [
      '07',
      { items: [{ type: 'integer' }], additionalItems: false },
      [
        [[1], []],
        [
          ['x', 2],
          [' maxItems', '[0] type'],
        ],
      ],
    ],
    [
      '07',
      { dependencies: { a: ['b'], c: { required: ['d'] } } },
      [[{ a: 1, c: 2 }, ['b dependentRequired', 'd required']]],
    ],
    [
      '07',
      { properties: { a: false } },
      [
        [{}, []],
        [{ a: 1 }, ['a false']],
      ],
    ],
    [
      '2019-09',
      { dependentRequired: { a: ['b'] } },
      [
        [{ a: 1 }, ['b dependentRequired']],
        [{ a: 1, b: 2 }, []],
      ],
    ],
    [
      '2019-09',
      { contains: { const: 1 }, minContains: 2, maxContains: 3 },
      [
        [[1, 1], []],
        [[1], [' minContains']],
        [[1, 1, 1, 1], [' maxContains']],
      ],
    ],
    [
      '2019-09',
      { properties: { a: true }, unevaluatedProperties: false },
      [
        [{ a: 1 }, []],
        [{ b: 1 }, [' unevaluatedProperties']],
      ],
    ],
    [
      '2020-12',
      { prefixItems: [{ type: 'integer' }, { type: 'string' }], items: false },
      [
        [[1, 'x'], []],
        [
          [1, 2, 3],
          [' maxItems', '[1] type'],
        ],
      ],
    ],
    [
      '2020-12',
      { allOf: [{ properties: { a: { type: 'integer' } } }], unevaluatedProperties: false },
      [
        [{ a: 1 }, []],
        [{ a: 1, b: 2 }, [' unevaluatedProperties']],
      ],
    ],
    [
      '2020-12',
      { dependentSchemas: { a: { maxProperties: 1 } } },
      [
        [{ a: 1 }, []],
        [{ a: 1, b: 1 }, [' maxProperties']],
      ],
    ],
    [
      '2020-12',
      { not: { required: ['a'] } },
      [
        [{}, []],
        [{ a: 1 }, [' not']],
      ],
    ],
    [
      '2020-12',
      { $anchor: 'x', properties: { c: { $dynamicRef: '#x' }, n: { type: 'number' } } },
      [
        [{ c: { n: 1 } }, []],
        [{ c: { c: { n: 'x' } } }, ['c.c.n type']],
      ],
    ],
    [
      '2020-12',
      { type: ['string', 'null'], maxLength: 2, pattern: '^a', enum: ['ab', null] },
      [
        ['ab', []],
        [null, []],
        ['bcd', [' maxLength', ' enum']],
        [5, [' type']],
      ],
    ],
  ])('%s %j', (name, schema, expectations) => {
    for (const [value, expected] of expectations)
      expect([value, broken({ ...draft(name), ...schema }, value)]).toEqual([value, expected]);
  });
});
