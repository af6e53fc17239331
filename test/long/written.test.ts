import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { evaluate } from '../../src/core/rules/evaluate.js';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import { hasFormat } from '../../src/exchange/schema/formats.js';
import { formAsJsonSchema } from '../../src/exchange/schema/write.js';
import { matches, only, run } from '../support/schemas.js';
import { IS_LONG } from '../support/torture.js';

describe('a sheet written out as JSON Schema', () => {
  const sheet = {
    title: { type: 'string', required: true, maxLength: 4 },
    kind: { enum: ['a', 'b'] },
    'lead.name': { required: true },
    lead: { optional: true },
    'targets[*].n': { type: 'integer', range: { min: 1, max: 3 }, required: true },
    targets: { maxItems: 2, uniqueItems: true },
    'map.*': { type: 'number', multipleOf: 0.5 },
    gone: { absent: true },
  };
  const [form] = readSheet({ forms: { form: { fields: sheet } } }, 'rules.yaml').forms;
  if (!form) throw new Error('no form');
  const index = new FormIndex(form);
  const { schema, unsaid } = formAsJsonSchema(form, undefined);

  test('lets through what the sheet lets through, and nothing else', () => {
    const form2 = only(schema);
    const scalar = fc.constantFrom<unknown>(null, '', ' ', 'a', 'abcde', 0, 2, 2.5, true, [], {});
    const body = fc.record(
      {
        title: scalar,
        kind: scalar,
        lead: fc.oneof(scalar, fc.record({ name: scalar }, { requiredKeys: [] })),
        targets: fc.oneof(
          scalar,
          fc.array(fc.oneof(scalar, fc.record({ n: scalar }, { requiredKeys: [] })), {
            maxLength: 3,
          }),
        ),
        map: fc.oneof(scalar, fc.dictionary(fc.constantFrom('x', 'y'), scalar)),
        gone: scalar,
      },
      { requiredKeys: [] },
    );
    const around = { zone: 'UTC', today: () => '', matches, hasFormat, looksUp: () => undefined };
    fc.assert(
      fc.property(body, (value) => {
        const bySheet = evaluate(index, { body: value }, around).length === 0;
        expect([value, run(form2, { body: value }).length === 0]).toEqual([value, bySheet]);
      }),
      { numRuns: IS_LONG ? 500 : 100 },
    );
    expect(unsaid).toEqual([]);
  });

  test('says what it cannot say', () => {
    const [rich] = readSheet(
      {
        forms: {
          f: {
            query: { q: { type: 'string' } },
            fields: {
              a: { trim: true, maxLength: 3, external: { odd: true } },
              b: { repeats: 'a' },
            },
          },
        },
      },
      'x',
    ).forms;
    if (!rich) throw new Error('no form');
    expect(formAsJsonSchema(rich, undefined).unsaid).toEqual([
      'q, a parameter of the query',
      'a: that blanks around the text do not count for maxLength',
      'a: odd',
      'b: repeats',
    ]);
  });
});
