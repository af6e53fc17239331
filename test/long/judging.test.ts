import { describe, expect, test } from '@jest/globals';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { Documents } from '../../src/exchange/schema/documents.js';
import { FORMATS, hasFormat } from '../../src/exchange/schema/formats.js';
import { readSchemas } from '../../src/exchange/schema/read.js';
import { Complaint } from '../../src/workspace/disk/complaint.js';
import { Judge } from '../../src/workspace/judging/judge.js';
import { OutOfTime } from '../../src/workspace/judging/watch.js';
import { slowness } from '../../src/workspace/checking/costly-pattern.js';
import { Tables } from '../../src/workspace/reading/tables.js';
import { oneOf, randomFrom, ROUNDS, SEED, type Random } from '../support/torture.js';
import { IN_VAIN } from '../support/server.js';

const REGEXES = [
  '^(a+)+$',
  '^(?:[a-z0-9]{1,20}-?){1,10}$',
  '^(a|a)*\\-$',
  '(?<=a)b',
  '^\\p{L}+$',
  '^(?<x>a|a)*\\k<x>b$',
  '(',
  '^[a-z]+(-[a-z]+)*$',
  '',
  '\\s+$',
  '^((((a*)*)*)*)*$',
];
const TEXTS = [
  '',
  'a',
  'a'.repeat(30) + '!',
  'a-'.repeat(20),
  ' '.repeat(500),
  'é',
  '2027-01-01',
  'x@y.example',
  '[::1]',
  '😀',
];
const NAMES = ['a', 'b', '__proto__', 'toString', ''];

/** A schema of any keywords, with references to a few definitions, itself among them. */
function schema(random: Random, depth: number): unknown {
  if (depth === 0 || random(8) === 0)
    return oneOf(random, [
      true,
      {},
      { $ref: '#/$defs/x' },
      { $ref: '#/$defs/y' },
      { $ref: '#' },
      { type: 'string' },
    ]);
  const inner = (): unknown => schema(random, depth - 1);
  const out: Record<string, unknown> = {};
  for (let keywords = 1 + random(4); keywords > 0; keywords--) {
    switch (random(16)) {
      case 0:
        out.type = oneOf<unknown>(random, [
          'string',
          'object',
          'array',
          'integer',
          ['null', 'number'],
          'boolean',
        ]);
        break;
      case 1:
        out.properties = { [oneOf(random, NAMES)]: inner(), a: inner() };
        break;
      case 2:
        out.items = inner();
        break;
      case 3:
        out.pattern = oneOf(random, REGEXES);
        break;
      case 4:
        out.anyOf = [inner(), inner()];
        break;
      case 5:
        out.oneOf = [inner(), inner(), inner()];
        break;
      case 6:
        out.allOf = [inner()];
        break;
      case 7:
        out.not = inner();
        break;
      case 8:
        out.format = oneOf(random, FORMATS);
        break;
      case 9:
        out.required = [oneOf(random, NAMES)];
        break;
      case 10:
        out.maxItems = random(3);
        break;
      case 11:
        out.contains = inner();
        out.minContains = random(3);
        break;
      case 12:
        out.propertyNames = inner();
        break;
      case 13:
        out.$ref = oneOf(random, ['#/$defs/x', '#/$defs/y']);
        break;
      case 14:
        out.uniqueItems = true;
        out.minLength = random(4);
        break;
      default:
        if (random(3) === 0) out.unevaluatedProperties = inner();
        else out.additionalProperties = inner();
    }
  }
  return out;
}

/** A value of any kind, of at most so many parts. */
function value(random: Random, depth: number, room = { left: 3000 }): unknown {
  room.left -= 1;
  if (depth === 0 || room.left < 0 || random(4) === 0)
    return oneOf<unknown>(random, [...TEXTS, 0, -1.5, 1e300, null, true]);
  if (random(2) === 0)
    return Array.from({ length: random(random(10) === 0 ? 400 : 5) }, () =>
      value(random, depth - 1, room),
    );
  return JSON.parse(
    `{${NAMES.filter(() => random(2) === 0)
      .map((name) => `${JSON.stringify(name)}:${JSON.stringify(value(random, depth - 1, room))}`)
      .join(',')}}`,
  ) as unknown;
}

const BUDGET = 150;
const tables = new Tables({}, () => '');

function judged(root: object, values: readonly unknown[]): void {
  const documents = new Documents(() => undefined);
  documents.open('a.json', root);
  const { forms } = readSchemas('a.json', documents);
  for (const form of forms) {
    const index = new FormIndex(form.parts.form);
    const judge = new Judge(
      { schemas: new Map([[index.form.id, form]]), tables, zone: 'UTC' },
      { budget: BUDGET },
    );
    for (const body of values) {
      const start = Date.now();
      try {
        judge.judge(index, { body });
      } catch (error) {
        if (!(error instanceof OutOfTime) && !(error instanceof Complaint))
          throw new Error(
            `seed ${SEED}: ${String((error as Error).stack)}\n${JSON.stringify(root)}\n${JSON.stringify(body).slice(0, 1000)}`,
          );
      }
      if (Date.now() - start > BUDGET + IN_VAIN)
        throw new Error(
          `seed ${SEED}: took ${Date.now() - start} ms\n${JSON.stringify(root)}\n${JSON.stringify(body).slice(0, 1000)}`,
        );
    }
  }
}

test(
  'schemas and payloads of any kind are judged, or told not to be, within the budget',
  () => {
    const random = randomFrom(SEED);
    for (let run = 0; run < 60 * ROUNDS; run++) {
      const root = {
        $schema: 'https://json-schema.org/draft/2020-12/schema',
        ...(schema(random, 4) as object),
        $defs: { x: schema(random, 3), y: schema(random, 3) },
      };
      judged(root, [value(random, 5), value(random, 5), value(random, 30)]);
    }
  },
  60_000 + ROUNDS * 20_000,
);

test.each(['#', '#/$defs/a'])(
  'a schema that refers to itself and nothing else (%s) asks for nothing',
  (reference) => {
    judged({ $ref: reference, $defs: { a: { $ref: '#/$defs/b' }, b: { $ref: '#/$defs/a' } } }, [
      'x',
      {},
    ]);
  },
);

test('formats take time with the length of a text, not with its square', () => {
  const seeds = [
    'a',
    'a.',
    'a:',
    '%00',
    '/',
    '@',
    '::',
    'a@',
    'http://',
    '{',
    '~0',
    '=',
    '\\',
    'P1',
    '1',
  ];
  const start = Date.now();
  for (const format of FORMATS)
    for (const seed of seeds)
      for (const end of ['', '^'])
        hasFormat(format, seed.repeat(65_536 / seed.length).slice(0, 65_535) + end);
  expect(Date.now() - start).toBeLessThan(20_000);
});

describe('check says what is slow, and nothing else', () => {
  test.each([
    ['^(?:[a-z0-9]{1,20}-?){1,10}$', Infinity, true],
    ['^(?<x>a|a)*\\k<x>b$', Infinity, true],
    ['^(a|a)*\\-$', Infinity, true],
    ['^((((a*)*)*)*)*$', 20, true],
    ['^(a+)+$', 8, false],
    ['^\\d{4}[AB]$', Infinity, false],
    ['^[a-z]+(-[a-z]+)*$', Infinity, false],
    ['^[\\p{L} .-]{1,80}$', Infinity, false],
  ])('%s, texts up to %d', (source, longest, slow) => {
    expect(slowness(source, longest) !== undefined).toBe(slow);
  });
});
