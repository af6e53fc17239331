import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { TRANSLATION_FORMATS } from '../../src/exchange/translations/formats.js';
import type { Unit, UnitFile } from '../../src/exchange/translations/unit.js';

// Whole characters of all Unicode, with what formats stumble over more often than it would come by
// itself.
const character = fc.oneof(
  fc.string({ unit: 'binary', minLength: 1, maxLength: 1 }),
  fc.constantFrom(
    '"',
    "'",
    '\\',
    '\n',
    '\r',
    '\r\n',
    '\t',
    ' ',
    '\u0000',
    '\u0001',
    '\u007f',
    '\u0085',
    '\u2028',
    '\ufeff',
    '=',
    '+',
    '@',
    '#',
    '&',
    '<',
    ']]>',
    '%',
    ',',
    ';',
    '\ufffe',
  ),
  fc.constantFrom(
    '{max}',
    '{max, plural, one {# a{b}} other {#\n"c"}}',
    '{g, select, x {{y, select, z {{max}} other {}}} other {q}}',
  ),
);
const text = fc.array(character, { minLength: 1, maxLength: 12 }).map((parts) => parts.join(''));
const key = fc
  .array(
    fc.constantFrom('a', '|', 'targets[*]', '..', ' ', '"', '#', '=', ':', 'ü', '\\', '["x y"]'),
    {
      minLength: 1,
      maxLength: 5,
    },
  )
  .map((parts) => `k${parts.join('')}`);
const unit: fc.Arbitrary<Unit> = fc.record({
  key,
  source: text,
  target: fc.option(text, { nil: undefined }),
  state: fc.constantFrom('initial', 'translated', 'reviewed', 'final'),
  note: fc.option(fc.string(), { nil: undefined }),
  limit: fc.option(fc.nat(), { nil: undefined }),
});
const file: fc.Arbitrary<UnitFile> = fc
  .uniqueArray(unit, { selector: (one) => one.key, minLength: 1, maxLength: 4 })
  .map((units) => ({ original: 'en', locale: 'de', units }));

describe('what is written comes back to the letter', () => {
  test.each(Object.entries(TRANSLATION_FORMATS))('%s', (name, { write, read }) => {
    fc.assert(
      fc.property(file, fc.boolean(), fc.boolean(), (given, ascii, bom) => {
        const { units } = read(
          write(given, { ascii, bom, delimiter: ascii ? ';' : undefined }),
          {},
        );
        // Only XLIFF tells no text from an empty one.
        const none = name === 'xliff' ? undefined : '';
        expect(units.map((one) => [one.key, one.target])).toEqual(
          given.units.map((one) => [one.key, one.target ?? none]),
        );
        if (name !== 'properties')
          expect(units.map((one) => one.source)).toEqual(given.units.map((one) => one.source));
      }),
      { numRuns: 300 },
    );
  });
});
