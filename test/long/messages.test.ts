import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { formatterOf } from '../../src/core/message/compile.js';
import { MessageError } from '../../src/core/message/syntax-error.js';
import {
  corpus,
  mutated,
  oneOf,
  randomFrom,
  ROUNDS,
  SEED,
  type Random,
} from '../support/torture.js';
import { IN_VAIN } from '../support/server.js';

const PARTS = [
  '{',
  '}',
  "'",
  '#',
  ',',
  'n',
  ' ',
  'plural',
  'select',
  'selectordinal',
  'number',
  'date',
  'time',
  'other',
  'one',
  '=1',
  'offset:1',
  '::',
  'percent',
  '.00',
  '@@',
  'currency/EUR',
  'unit/meter',
  'precision-increment/5',
  'scale/100',
  'yMMMd',
  'jm',
  'short',
  '\u202e',
  '1e9',
  'label',
];
const STEMS = [
  'percent',
  'scale/100',
  '.00',
  '.##',
  '@@',
  '@@@+',
  '.00/@@',
  'precision-increment/5',
  'precision-increment/0.05',
  'integer-width/+00',
  'currency/EUR',
  'unit/meter',
  'measure-unit/length-meter',
  'unit-width-name',
  'unit-width-full-name',
  'compact-short',
  'compact-long',
  'scientific',
  'engineering',
  'sign-always',
  'sign-accounting',
  'group-off',
  'rounding-mode-up',
  'latin',
  'K',
  'E0',
  '000',
  '%x100',
  ',_',
  '+!',
];

const shipped = ['en', 'de', 'pl', 'ar', 'ja'].flatMap((locale) =>
  [
    ...readFileSync(path.join(__dirname, `../../src/starter/${locale}.json`), 'utf8').matchAll(
      /": "(.*)"/g,
    ),
  ].map(([, text = '']) => text),
);

function made(random: Random): string {
  switch (random(3)) {
    case 0:
      return Array.from({ length: 1 + random(14) }, () => oneOf(random, PARTS)).join('');
    case 1:
      return mutated(oneOf(random, shipped), random, PARTS);
    default:
      return `{n, number, ::${Array.from({ length: 1 + random(4) }, () => oneOf(random, STEMS)).join(' ')}}`;
  }
}

const VALUES = [
  0,
  1,
  -1,
  0.5,
  1e21,
  NaN,
  Infinity,
  '5',
  'x',
  '',
  '2027-03-09',
  '2027-03-09T21:30:00Z',
  true,
  null,
  undefined,
  [],
  [1, 'a'],
  {},
  10n,
  new Date(0),
  new Date(NaN),
  Symbol('s'),
];
const LOCALES = ['en', 'de', 'pl', 'ar', 'ja', 'he', 'fr', 'tr'];

/** A message is refused when it is read, or it can be said, with whatever it is given. */
function tried(text: string, random: Random): void {
  const start = Date.now();
  let format: ReturnType<typeof formatterOf>;
  try {
    format = formatterOf(text, oneOf(random, LOCALES), { zone: 'Europe/Warsaw' });
  } catch (error) {
    if (error instanceof MessageError && error.offset >= 0 && error.offset <= text.length) return;
    throw new Error(`seed ${SEED}: ${JSON.stringify(text)}: ${String(error)}`);
  }
  try {
    for (let times = 0; times < 4; times++) {
      const value = VALUES[random(VALUES.length)];
      if (typeof format({ n: value, label: value, max: value, 0: value }) !== 'string')
        throw new Error('no text');
    }
  } catch (error) {
    throw new Error(`seed ${SEED}: ${JSON.stringify(text)}: ${String(error)}`);
  }
  if (Date.now() - start > IN_VAIN) throw new Error(`seed ${SEED}: slow: ${JSON.stringify(text)}`);
}

test(
  'messages made of anything are refused with their place, or can be said',
  () => {
    const random = randomFrom(SEED);
    for (let run = 0; run < 3000 * ROUNDS; run++) tried(made(random), random);
  },
  60_000 + ROUNDS * 5000,
);

test('found once', () => {
  const random = randomFrom(1);
  for (const [, text] of corpus('messages'))
    for (const line of text.split('\n')) tried(line, random);
  expect(corpus('messages').length).toBeGreaterThan(0);
});
