import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { only, remarksOf, run } from '../support/schemas.js';
import { sampled } from '../support/torture.js';

describe('a schema that breaks its metaschema', () => {
  const keywords =
    'type enum required minimum exclusiveMaximum multipleOf minLength maxItems minContains uniqueItems readOnly pattern format title items prefixItems properties patternProperties allOf anyOf if not contains propertyNames dependentRequired dependentSchemas additionalProperties unevaluatedProperties unevaluatedItems examples $ref $id $defs';
  const values: unknown[] = [
    true,
    null,
    0,
    1,
    -1,
    1.5,
    '3',
    '',
    'string',
    'strng',
    '(',
    '#',
    [],
    {},
    [1],
    ['a'],
    ['a', 'a'],
    [{}],
    ['string', 'null'],
    ['string', 'string'],
    { a: true },
    { a: 1 },
    { a: ['b'] },
    { a: ['b', 'b'] },
    { '(': {} },
    [true, 3],
    { type: 'x' },
  ];

  test('is told of with place and remedy, and judges requests all the same', () => {
    const meta = new Ajv2020({ strict: false, validateFormats: false });
    const differ: string[] = [];
    const tried = sampled(keywords.split(' '), 8);
    for (const keyword of tried) {
      for (const value of values) {
        const schema = {
          $schema: 'https://json-schema.org/draft/2020-12/schema',
          title: 'x',
          [keyword]: value,
        };
        const sound = meta.validateSchema(schema) === true;
        const form = only(schema);
        const told = remarksOf(schema).length === 0;
        if (told !== sound)
          differ.push(`${keyword}: ${JSON.stringify(value)} ${sound ? 'is sound' : 'is not'}`);
        for (const body of [{ a: 1 }, [1, 'a'], 'text', 3, null])
          expect(() => run(form, { body })).not.toThrow();
      }
    }
    const expected = [
      // Nothing could ever be valid; the standard only advises against it.
      'enum: [] is sound',
      // The metaschema asserts no formats, so it takes every text for an expression, and a
      // reference that leads nowhere.
      ...[
        'pattern: "("',
        'patternProperties: {"(":{}}',
        '$ref: "3"',
        '$ref: "string"',
        '$ref: "strng"',
        '$ref: "("',
      ].map((one) => `${one} is sound`),
      // What nobody refers to is not read.
      ...['{"a":1}', '{"a":["b"]}', '{"a":["b","b"]}', '{"type":"x"}'].map(
        (one) => `$defs: ${one} is not`,
      ),
    ];
    expect(differ.sort()).toEqual(
      expected.filter((one) => tried.includes(one.split(':', 1)[0] ?? '')).sort(),
    );
  });
});
