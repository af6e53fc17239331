import fc from 'fast-check';
import {
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  type Path,
  type Pattern,
  type PatternSegment,
} from '../../src/core/path/path.js';

/** Names of members: plain ones, and all that need quotes or escapes. */
export const memberName: fc.Arbitrary<string> = fc.oneof(
  fc.constantFrom(
    'name',
    'targets',
    'lead',
    'a',
    'b',
    '__proto__',
    'constructor',
    '',
    '0',
    '12',
    'odd.name',
    'a/b',
    'm~n',
    '~1',
    'ünï',
    '*',
    '[x]',
    '"q"',
    "it's",
  ),
  fc.string({ unit: 'binary', maxLength: 8 }),
);

const place = fc.nat({ max: 30 });

export const path: fc.Arbitrary<Path> = fc.array(fc.oneof(memberName, place), { maxLength: 6 });

const segment: fc.Arbitrary<PatternSegment> = fc.oneof(
  memberName,
  place,
  fc.constantFrom<PatternSegment>(ANY_ELEMENT, ANY_KEY),
);
const selector: fc.Arbitrary<PatternSegment[]> = fc
  .tuple(fc.boolean(), segment)
  .map(([deep, one]) => (deep ? [ANY_DEPTH, one] : [one]));

export const pattern: fc.Arbitrary<Pattern> = fc
  .array(selector, { maxLength: 5 })
  .map((parts) => parts.flat());

/** Few names, so that patterns and paths often meet. */
const fewSegments = fc.constantFrom<PatternSegment>('a', 'b', 0, 1, ANY_ELEMENT, ANY_KEY);
export const narrowPattern: fc.Arbitrary<Pattern> = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 5 }), fewSegments), { maxLength: 4 })
  .map((parts) =>
    parts.flatMap(([dice, segment]) => (dice === 0 ? [ANY_DEPTH, segment] : [segment])),
  );
export const narrowPath: fc.Arbitrary<Path> = fc.array(fc.constantFrom('a', 'b', 0, 1), {
  maxLength: 5,
});

const words = fc.oneof(
  fc.constantFrom(
    "it's",
    "''",
    "'{'",
    '{',
    '}',
    '#',
    '|',
    'a',
    ' ',
    'Größe',
    '目標',
    'الهدف',
    '\u{1F52D}',
  ),
  fc.string({ maxLength: 6 }),
);

/** Plain text as one writes it in a message: every apostrophe doubled, every brace quoted. */
const quotedText = fc
  .array(words, { maxLength: 3 })
  .map((parts) => parts.join('').replaceAll("'", "''").replace(/[{}]/g, "'$&'"));

const argumentName = fc.constantFrom('label', 'max', 'n', '0', '1', 'größe');
const leaf = fc.oneof(
  quotedText,
  argumentName.map((name) => `{${name}}`),
  fc
    .tuple(
      argumentName,
      fc.constantFrom('number', 'number, integer', 'number, ::.00', 'date, ::yMMMd', 'time, short'),
    )
    .map(([name, style]) => `{ ${name} , ${style} }`),
);

/** Texts of well-formed messages, nested a few levels. */
export const messageText: fc.Arbitrary<string> = fc.letrec<{ message: string }>((tie) => ({
  message: fc
    .array(
      fc.oneof(
        { maxDepth: 3, depthSize: 'small' },
        leaf,
        fc
          .tuple(
            argumentName,
            fc.constantFrom('plural', 'selectordinal'),
            fc.constantFrom('', 'offset:1 '),
            tie('message'),
            tie('message'),
          )
          .map(
            ([name, type, offset, one, other]) =>
              `{${name}, ${type}, ${offset}=0 {#} one {${one}} other {# ${other}}}`,
          ),
        fc
          .tuple(argumentName, tie('message'), tie('message'))
          .map(([name, yes, other]) => `{${name}, select, yes {${yes}} other {${other}}}`),
      ),
      { maxLength: 4 },
    )
    .map((parts) => parts.join('')),
})).message;

export const argumentValues = fc.record(
  {
    label: fc.constantFrom('Titel', "it's {", 'yes'),
    max: fc.oneof(
      fc.integer({ min: -3, max: 2000 }),
      fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e6, max: 1e6 }),
    ),
    n: fc.oneof(fc.nat(), fc.constantFrom('yes', '2027-03-09', '1.5')),
    '0': fc.constantFrom(0, 1, 5, 'x'),
    größe: fc.constant(1),
  },
  { requiredKeys: [] },
);
