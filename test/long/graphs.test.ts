import { Validator } from '@cfworker/json-schema';
import { describe, expect, test } from '@jest/globals';
import { only, run, type Read } from '../support/schemas.js';
import { IS_LONG, oneOf, randomFrom, ROUNDS, SEED, type Random } from '../support/torture.js';

type Json = Record<string, unknown>;

const NAMES = ['a', 'b', 'c', 'd'];
const nameOf = (at: number): string => `D${at}`;

/** A definition that refers to others in every way that a schema can. */
function definition(count: number, random: Random, refer: (at: number) => Json): Json {
  const reference = (): Json => refer(random(count));
  const members = Object.fromEntries(
    Array.from({ length: 1 + random(3) }, (_, at): [string, unknown] => [
      NAMES[at] ?? 'z',
      oneOf<() => unknown>(random, [
        reference,
        () => ({ type: 'array', items: reference(), maxItems: 2 }),
        () => ({ type: oneOf(random, ['string', 'integer', 'boolean']) }),
        () => ({ anyOf: [reference(), { type: 'string', minLength: 1 }] }),
        () => ({ type: 'object', additionalProperties: reference() }),
      ])(),
    ]),
  );
  return {
    type: 'object',
    properties: members,
    ...(random(2) === 0 ? { required: [NAMES[random(3)]] } : {}),
    ...(random(4) === 0 ? { allOf: [reference()] } : {}),
    ...(random(5) === 0 ? { unevaluatedProperties: false } : {}),
  };
}

function value(random: Random, depth: number): unknown {
  if (depth === 0 || random(5) === 0) return oneOf<unknown>(random, ['x', '', 1, true, null, []]);
  if (random(4) === 0) return Array.from({ length: random(4) }, () => value(random, depth - 1));
  return Object.fromEntries(
    Array.from({ length: random(4) }, () => [oneOf(random, NAMES), value(random, depth - 1)]),
  );
}

/** A graph of so many definitions, in one file or in two. */
function graph(
  count: number,
  random: Random,
): { root: Json; files: Record<string, unknown>; whole: Json } {
  const isSplit = random(3) === 0;
  const inFirst = (at: number): boolean => !isSplit || at % 2 === 0;
  const make = (seen: Random, refer: (from: number, to: number) => Json): Json[] =>
    Array.from({ length: count }, (_, at) => definition(count, seen, (to) => refer(at, to)));
  const seed = random(1_000_000);
  const split = make(randomFrom(seed), (from, to) => ({
    $ref: `${inFirst(from) === inFirst(to) ? '' : inFirst(to) ? 'proposal.schema.json' : 'other.json'}#/$defs/${nameOf(to)}`,
  }));
  const plain = make(randomFrom(seed), (_, to) => ({ $ref: `#/$defs/${nameOf(to)}` }));
  const named = (list: readonly Json[], wanted: (at: number) => boolean): Json =>
    Object.fromEntries(list.flatMap((one, at) => (wanted(at) ? [[nameOf(at), one]] : [])));
  const begin = {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $ref: `#/$defs/${nameOf(0)}`,
  };
  return {
    root: { ...begin, $defs: named(split, inFirst) },
    files: { 'forms/other.json': { $defs: named(split, (at) => !inFirst(at)) } },
    whole: { ...begin, $defs: named(plain, () => true) },
  };
}

/** Fields and places where definitions stand, of a schema of so many characters. */
const listed = ({ schema }: Read): number =>
  schema.parts.form.fields.length + (schema.parts.form.joins?.length ?? 0);

describe('graphs of definitions', () => {
  test('are judged as another validator judges them, and every rule that is told is declared there', () => {
    for (let round = 0; round < 12 * ROUNDS; round++) {
      const random = randomFrom(SEED + round);
      const { root, files, whole } = graph(2 + random(8), random);
      const form = only(root, files);
      expect([round, form.remarks]).toEqual([round, []]);
      const other = new Validator(whole, '2020-12', false);
      for (let nth = 0; nth < 20; nth++) {
        const body = value(random, 5);
        const told = run(form, { body });
        let theirs: boolean;
        try {
          theirs = other.validate(body).valid;
        } catch (error) {
          // It follows what refers to itself at one place without end.
          if (error instanceof RangeError) continue;
          throw error;
        }
        expect([SEED + round, JSON.stringify(body), told.length === 0]).toEqual([
          SEED + round,
          JSON.stringify(body),
          theirs,
        ]);
        for (const { path: at, rule } of told) {
          const uses = form.index.field(form.index.readPath(at, 'body'), 'body')?.uses ?? [];
          if (!['additionalProperties', 'unevaluatedProperties', 'anyOf'].includes(rule))
            expect([SEED + round, at, rule, uses.map((use) => use.rule)]).toEqual([
              SEED + round,
              at,
              rule,
              expect.arrayContaining([rule]),
            ]);
        }
      }
    }
  });

  const mutual = (count: number): Json =>
    Object.fromEntries(
      Array.from({ length: count }, (_, at) => [
        nameOf(at),
        {
          properties: Object.fromEntries(
            Array.from({ length: count }, (__, to) => [`to${to}`, { $ref: `#/$defs/D${to}` }]),
          ),
        },
      ]),
    );
  const diamonds = (depth: number): Json =>
    Object.fromEntries(
      Array.from({ length: depth }, (_, at) => [
        nameOf(at),
        at === depth - 1
          ? { type: 'string' }
          : {
              properties: {
                left: { $ref: `#/$defs/D${at + 1}` },
                right: { $ref: `#/$defs/D${at + 1}` },
              },
            },
      ]),
    );
  const chain = (length: number): Json =>
    Object.fromEntries(
      Array.from({ length }, (_, at) => [
        nameOf(at),
        at === length - 1
          ? { type: 'object', required: ['a'] }
          : {
              allOf: [{ $ref: `#/$defs/D${at + 1}` }, { $ref: `#/$defs/D${at + 1}` }],
              properties: { [`p${at}`]: { type: 'string' } },
            },
      ]),
    );

  test.each([
    ['mutual recursion', mutual(60), { to3: { to4: { to5: 1 } } }, []],
    [
      'diamonds',
      diamonds(30),
      Array.from({ length: 29 }).reduce<unknown>((inner) => ({ left: inner }), 5),
      [/left$/],
    ],
    ['a chain of allOf', chain(300), { p7: 5 }, [/^p7$/, /^a$/]],
  ])('%s are listed in the size of the schema, and judged', (_, $defs, body, expected) => {
    const root = { $ref: '#/$defs/D0', $defs };
    const form = only(root);
    expect(listed(form)).toBeLessThan(JSON.stringify(root).length / 5);
    const told = run(form, { body }).map(({ path: at }) => at);
    expect(told).toEqual(expected.map((at): unknown => expect.stringMatching(at)));
  });

  test('a chain that is longer than anybody reads is told of in a sentence', () => {
    const form = only({ $ref: '#/$defs/D0', $defs: chain(IS_LONG ? 20_000 : 2_000) });
    expect([form.schema.parts.form.fields, form.remarks]).toEqual([
      [],
      [
        'Definitions of this schema refer to each other too many times in a row. Put some of them into one.',
      ],
    ]);
  });
});
