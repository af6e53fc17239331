import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { formatterOf } from '../../src/core/message/compile.js';
import { DEEPEST, readMessage } from '../../src/core/message/parse.js';
import { LONGEST } from '../../src/core/message/simple.js';
import { printMessage } from '../../src/core/message/print.js';
import { MessageError } from '../../src/core/message/syntax-error.js';
import { argumentValues, messageText } from '../support/arbitraries.js';

const say = (text: string, args = {}, locale = 'en'): string => formatterOf(text, locale)(args);

describe('what ICU documents of the syntax', () => {
  // Quoting, by the class documentation of MessageFormat and MessagePattern (apostrophe mode
  // DOUBLE_OPTIONAL).
  test.each([
    ["This isn't hard", "This isn't hard"],
    ["This '{isn''t}' obvious", "This {isn't} obvious"],
    ["I said '{''Hi''}'", "I said {'Hi'}"],
    ["'{0}'", '{0}'],
    ["''{0}''", "'zero'"],
    ["it''s", "it's"],
    ["'{unfinished", '{unfinished'],
    ["a '}' b", 'a } b'],
    ['closing } alone', 'closing } alone'],
    ["'#' and '|' outside of a plural", "'#' and '|' outside of a plural"],
    ["{n, plural, other {'#' is #}}", '# is 5'],
    ["{n, plural, other {it''s #}}", "it's 5"],
    ["{n, plural, other {don't #}}", "don't 5"],
    ['# alone', '# alone'],
    ['{n, plural, other {{g, select, other {# here}}}}', '# here'],
    ['{n,plural,other{{n,plural,other{#}}}}', '5'],
    ['{ n , plural , offset: 2 =5 {exactly #} other {#} }', 'exactly 3'],
    ['{0} {1} {0}', 'zero one zero'],
    ['{größe}', '7'],
    ['{n,number}', '5'],
    ['{n , NUMBER , integer }', '5'],
    ['{n, number, }', '5'],
  ])('%s', (text, expected) => {
    expect(say(text, { '0': 'zero', 1: 'one', n: 5, g: 'x', größe: 7 })).toBe(expected);
  });

  const party =
    '{gender, select, female {{guests, plural, offset:1 =0 {{host} does not give a party.} =1 {{host} invites {guest} to her party.} ' +
    '=2 {{host} invites {guest} and one other person to her party.} other {{host} invites {guest} and # other people to her party.}}} ' +
    'other {{guests, plural, offset:1 =0 {{host} does not give a party.} other {{host} invites {guest} and # others.}}}}';
  test.each([
    [{ gender: 'female', guests: 0 }, 'Ada does not give a party.'],
    [{ gender: 'female', guests: 1 }, 'Ada invites Bo to her party.'],
    [{ gender: 'female', guests: 2 }, 'Ada invites Bo and one other person to her party.'],
    [{ gender: 'female', guests: 1302 }, 'Ada invites Bo and 1,301 other people to her party.'],
    [{ gender: 'unknown', guests: 3 }, 'Ada invites Bo and 2 others.'],
    [{ guests: 3 }, 'Ada invites Bo and 2 others.'],
  ])('a select around plurals with offset: %j', (args, expected) => {
    expect(say(party, { host: 'Ada', guest: 'Bo', ...args })).toBe(expected);
  });

  test.each([
    [1, '1st'],
    [2, '2nd'],
    [3, '3rd'],
    [11, '11th'],
    [23, '23rd'],
  ])('selectordinal: %i is %s', (n, expected) => {
    expect(say('{n, selectordinal, one {#st} two {#nd} few {#rd} other {#th}}', { n })).toBe(
      expected,
    );
  });
});

describe('what is refused, with its place and a remedy', () => {
  test.each([
    ['{n', 0, 'ends where'],
    ['{', 0, 'ends where'],
    ['ab {n, plural, other {x}', 3, 'to close the plural'],
    ['{n, plural, other {x', 12, 'to close the case "other"'],
    ['{}', 1, 'has no name'],
    ['{ }', 2, 'has no name'],
    ['{a b}', 3, 'stands where'],
    ['{a-b}', 2, 'stands where'],
    ['{01}', 1, "is not an argument's name"],
    ['{2nd}', 1, "is not an argument's name"],
    ['{n, }', 4, 'stands where'],
    ['{n, nmber}', 4, 'did you mean "number"?'],
    ['{n, plural}', 10, 'the cases of the plural'],
    ['{n, plural, }', 0, 'no case "other"'],
    ['{n, plural, one {x}}', 0, 'no case "other"'],
    ['{n, plural, one {x} one {y} other {z}}', 20, 'stands twice'],
    ['{n, plural, =1 {x} =1.0 {y} other {z}}', 19, 'stands twice'],
    ['{n, plural, {x}}', 12, 'without a name'],
    ['{n, plural, = {x} other {y}}', 12, 'no number behind it'],
    ['{n, plural, offset:x other {y}}', 19, 'The offset has no number'],
    ['{n, select, =1 {x} other {y}}', 12, 'without a name'],
    ['{n, select, a other {y}}', 14, 'the text of the case "a"'],
    ['{n, choice, 0#none|1#one}', 4, 'write plural or select'],
    ['{n, spellout}', 4, 'in digits'],
    ['{n, ordinal}', 4, 'write selectordinal'],
    ['{n, duration}', 4, '::unit/second'],
    ['{n, number, #,##0.00}', 11, 'write a skeleton'],
    ['{n, number, integre}', 11, 'is not a number style'],
    ["{n, number, 'x}", 12, 'does not end'],
    ['{n, number, ::currency/EURO}', 14, 'three letters'],
    ['{n, number, ::unit/metre}', 14, 'unit/meter'],
    ['{n, number, ::.00 compct-short}', 18, 'did you mean "compact-short"?'],
    ['{d, date, yyyy-MM-dd}', 9, 'old patterns are not supported'],
    ['{d, date, ::yQ}', 13, 'not a field of a date skeleton'],
    ['{d, time, ::}', 12, 'is empty'],
  ])('%s', (text, offset, words) => {
    const failing = (): unknown => readMessage(text);
    expect(failing).toThrow(MessageError);
    expect(failing).toThrow(
      expect.objectContaining({ offset, message: expect.stringContaining(words) }),
    );
  });

  test('messages nested too deep are an error, not a broken stack', () => {
    const nested = (levels: number): string =>
      '{n, select, other {'.repeat(levels) + 'x' + '}}'.repeat(levels);
    expect(say(nested(DEEPEST), { n: 1 })).toBe('x');
    for (const levels of [DEEPEST + 1, 500, 900])
      expect(() => readMessage(nested(levels))).toThrow('stand in one another');
    expect(() => readMessage('{n, number, ' + '{'.repeat(100_000))).toThrow(MessageError);
  });
});

describe('any text', () => {
  test('is parsed or refused with an offset inside of it, and never hangs', () => {
    const soup = fc.array(
      fc.constantFrom(
        '{',
        '}',
        "'",
        '#',
        ',',
        ' ',
        'n',
        'plural',
        'select',
        'other',
        '=1',
        'offset:',
        'number',
        '::',
        '.00',
        'date',
        '|',
        '\ud800',
        'ä',
      ),
      { maxLength: 30 },
    );
    fc.assert(
      fc.property(
        fc.oneof(
          soup.map((parts) => parts.join('')),
          fc.string({ unit: 'binary' }),
        ),
        (text) => {
          try {
            expect(typeof formatterOf(text, 'en')({ n: 3 })).toBe('string');
          } catch (error) {
            if (!(error instanceof MessageError)) throw error;
            expect(error.offset).toBeGreaterThanOrEqual(0);
            expect(error.offset).toBeLessThanOrEqual(text.length);
          }
        },
      ),
      { numRuns: 2000 },
    );
  });

  test('a long one is read in one pass', () => {
    const long = "{a} '{b}' {n, plural, one {# x} other {# y}} ''".repeat(400);
    expect(readMessage(long).length).toBeGreaterThan(1200);
    expect(say("'".repeat(LONGEST))).toHaveLength(LONGEST / 2);
    expect(say("'{" + "''".repeat(9000))).toHaveLength(9001);
  });

  test('what nobody reads is refused: size, arguments, numbers without end, styles that cannot be written', () => {
    expect(() => readMessage('x'.repeat(LONGEST + 1))).toThrow('longer than 20000 characters');
    const many = Array.from({ length: 8000 }, (_, at) => `{a${at}}`).join('');
    expect(() => readMessage(many.slice(0, 15_000).replace(/\{[^}]*$/, ''))).toThrow(
      'more than 100 arguments',
    );
    expect(() => readMessage('{n, plural, offset:1e400 other {#}}')).toThrow(
      'is too large a number',
    );
    expect(() => readMessage('{n, plural, =1e999 {x} other {#}}')).toThrow('is too large a number');
    expect(() => readMessage(`{max, number, ::${'@'.repeat(25)}}`)).toThrow('cannot be written');
    expect(() => readMessage('{max, number, ::precision-increment/5 @@}')).toThrow(
      'say the same thing',
    );
  });

  test('it is formatted whatever the arguments are', () => {
    const circle: Record<string, unknown> = {};
    circle.self = circle;
    const hostile = {
      get thrown(): never {
        throw new Error('no');
      },
      toString: () => {
        throw new Error('no');
      },
    };
    const values = [
      circle,
      hostile,
      Symbol('s'),
      10n ** 400n,
      NaN,
      Infinity,
      new Date(NaN),
      [circle],
      () => 1,
      Object.create(null) as object,
    ];
    for (const value of values)
      for (const text of [
        '{a}',
        '{a, number}',
        '{a, date}',
        '{a, time, ::Hm}',
        '{a, plural, other {#}}',
        '{a, select, other {{a}}}',
      ])
        expect(typeof say(text, { a: value })).toBe('string');
    expect(typeof say('{a}', null as never)).toBe('string');
  });
});

test('printing a parsed message gives one that formats the same, and prints the same again', () => {
  fc.assert(
    fc.property(messageText, argumentValues, (text, args) => {
      const printed = printMessage(readMessage(text));
      expect(say(printed, args, 'pl')).toBe(say(text, args, 'pl'));
      expect(printMessage(readMessage(printed))).toBe(printed);
    }),
    { numRuns: 500 },
  );
});
