import { describe, expect, test } from '@jest/globals';
import { leaksIn, rawPathIn } from '../../src/core/audit/leaks.js';
import { TextMatcher } from '../../src/core/audit/text-matcher.js';
import { forLog } from '../../src/core/text/media.js';
import { readMessage } from '../../src/core/message/parse.js';
import type { Entry } from '../../src/core/texts/entry.js';
import { csv } from '../../src/exchange/translations/csv.js';
import { po } from '../../src/exchange/translations/po.js';
import { properties } from '../../src/exchange/translations/properties.js';
import { TranslationFileError } from '../../src/exchange/translations/unit.js';
import { xliff } from '../../src/exchange/translations/xliff.js';
import { Complaint } from '../../src/workspace/disk/complaint.js';
import { Review } from '../../src/workspace/reading/review-file.js';
import { parseYaml } from '../../src/workspace/documents/yaml.js';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import type { Violation } from '../../src/core/rules/violation.js';
import { fromDeclared } from '../../src/exchange/violations/declared.js';
import { MOST_READ } from '../../src/exchange/violations/foreign.js';
import { fromNativeErrors } from '../../src/exchange/violations/schema-errors.js';
import { fromSchemaOutput } from '../../src/exchange/violations/schema-output.js';
import { fromZodIssues } from '../../src/exchange/violations/zod.js';
import {
  readerOf,
  type ForeignOptions,
  type ReadViolations,
  type Reader,
} from '../../src/render/reading.js';
import { checkErrorList } from '../../src/workspace/answering/violations.js';
import { oneOf, randomFrom, ROUNDS, sampled, SEED, type Random } from '../support/torture.js';
import { IN_VAIN } from '../support/server.js';

const [form] = readSheet(
  {
    forms: {
      grid: {
        fields: {
          title: { required: true, type: 'string', maxLength: 4 },
          rows: { type: 'array', maxItems: 1 },
          'rows[*]': { type: 'array', maxItems: 1 },
          'rows[*][*]': { type: 'string', minLength: 1 },
          'parts[*].name': { required: true, minLength: 1 },
          'extras.*': { type: 'string', blank: 'missing' },
          '..deep[*].value': { required: true, const: 1 },
        },
        query: { page: { type: 'integer' } },
      },
    },
  },
  'rules.yaml',
).forms;
if (!form) throw new Error('no form');
const index = new FormIndex(form);
const rules = { id: 'grid', index };

const times = <T>(count: number, make: (at: number) => T): T[] =>
  Array.from({ length: count }, (_, at) => make(at));
const list = (count: number): unknown => ({
  rows: times(count, () => times(2, () => '')),
  parts: times(count, () => ({})),
});

/** Paths of many kinds; a report has some of these. */
const PLACES: readonly ((at: number) => (string | number)[])[] = [
  (at) => ['rows', at],
  (at) => ['rows', at, 1],
  (at) => ['parts', at, 'name'],
  (at) => ['extras', `k${at}`],
  (at) => [`unknown${at}`, 'x'],
  () => ['title'],
  () => [],
  (at) => ['deep', at, 'value'],
];
const MESSAGES = [
  '“'.repeat(60),
  'Required property "name" is missing',
  "'a' 'b",
  '"'.repeat(61),
  '',
];
const pointer = (path: readonly (string | number)[]): string =>
  path.map((part) => `/${part}`).join('');

const issue = (random: Random, at: number): unknown => {
  const path = oneOf(random, PLACES)(at);
  return oneOf(random, [
    { code: 'too_big', origin: 'array', maximum: 1, inclusive: true, path: ['rows', at] },
    { code: 'invalid_value', values: [at], path },
    { code: 'invalid_type', expected: 'string', path },
    { code: 'unrecognized_keys', keys: [`k${at}`], path },
    {
      code: 'invalid_union',
      errors: [[{ code: 'invalid_value', values: [1], path: ['a', at] }]],
      path: [],
    },
    { code: 'custom', path },
  ]);
};
const KEYWORDS = [
  'required',
  'type',
  'anyOf',
  'oneOf',
  'contains',
  'maxItems',
  'pattern',
  'nope',
  'additionalProperties',
  'enum',
];
const native = (random: Random, at: number): unknown => {
  const keyword = oneOf(random, KEYWORDS);
  const params = {
    missingProperty: 'name',
    additionalProperty: `k${at}`,
    limit: 1,
    type: 'string',
    pattern: '^a',
  };
  const schemaPath = `#/properties${'/anyOf/0'.repeat(random(4))}/${keyword}`;
  return { keyword, instancePath: pointer(oneOf(random, PLACES)(at)), schemaPath, params };
};
const unit = (random: Random, at: number): unknown => ({
  valid: false,
  keywordLocation: `${oneOf(random, ['', '/items/anyOf/0', `/properties/p${at}`, '/anyOf/1/oneOf/0'])}/${oneOf(random, KEYWORDS)}`,
  instanceLocation: pointer(oneOf(random, PLACES)(at)),
  error: oneOf(random, MESSAGES),
});

/**
 * For each reader, reports of a size: mixed at random, and those that grow where one part of it is
 * long.
 */
const READERS: Readonly<
  Record<string, { read: Reader; reports: readonly ((size: number, random: Random) => unknown)[] }>
> = {
  zod: {
    read: fromZodIssues,
    reports: [
      (size, random) => times(size, (at) => issue(random, at)),
      (size) =>
        times(size, (at) => ({
          code: 'too_big',
          origin: 'array',
          maximum: 1,
          inclusive: true,
          path: ['rows', at],
        })),
      (size) => [
        {
          code: 'invalid_union',
          path: [],
          errors: times(3, () =>
            times(size / 3, (at) => ({ code: 'invalid_value', values: [at], path: ['x', at] })),
          ),
        },
      ],
      (size) => [
        { code: 'unrecognized_keys', keys: times(size, (at) => `k${at}`), path: ['extras'] },
      ],
      (size) => [
        {
          code: 'invalid_union',
          path: [],
          errors: times(size, (at) => [
            { code: 'invalid_type', expected: 'string', path: ['x', at] },
          ]),
        },
      ],
    ],
  },
  'schema-errors': {
    read: fromNativeErrors,
    reports: [
      (size, random) => times(size, (at) => native(random, at)),
      (size) =>
        times(size, (at) => ({
          keyword: 'anyOf',
          instancePath: '',
          schemaPath: `#${'/anyOf/0'.repeat(Math.min(size - at, 40))}/anyOf`,
          params: {},
        })),
      (size) =>
        times(size, (at) => ({
          keyword: 'maxItems',
          instancePath: `/rows/${at}`,
          schemaPath: '#/x',
          params: { limit: 1 },
        })),
      (size) => [
        {
          keyword: 'errorMessage',
          instancePath: '',
          params: { errors: times(size, () => ({ keyword: 'type' })) },
        },
      ],
    ],
  },
  'schema-output': {
    read: fromSchemaOutput,
    reports: [
      (size, random) => ({ valid: false, errors: times(size, (at) => unit(random, at)) }),
      (size) => ({
        valid: false,
        errors: times(size, (at) => ({
          valid: false,
          keywordLocation: `/items/anyOf${at % 2 ? '' : '/0/type'}`,
          instanceLocation: `/rows/${at >> 1}`,
        })),
      }),
      (size) => ({
        valid: false,
        errors: [
          {
            valid: false,
            keywordLocation: '/required',
            instanceLocation: '',
            error: '“'.repeat(size * 40),
          },
        ],
      }),
    ],
  },
  declared: {
    read: (value, background) =>
      fromDeclared(
        {
          path: '/at',
          rule: { at: '/kind', map: { short: ['minLength', 'type'] } },
          children: '/in',
          validate: true,
        },
        value,
        {
          ...background,
          judge: () =>
            times(2_000, (at): Violation => ({ path: `parts[${at}].name`, rule: 'required' })),
        },
      ),
    reports: [
      (size, random) =>
        times(size, (at) => ({
          at: oneOf(random, PLACES)(at),
          kind: oneOf(random, ['short', 'required', 'nope', '']),
        })),
      (size) =>
        times(size, (at) => ({
          at: `parts.${at}.name`,
          in: times(3, () => ({ kind: 'required', at: 'x' })),
        })),
    ],
  },
};

/**
 * The shortest of some runs, in milliseconds; what else the machine does only makes a run longer.
 */
function shortest(work: () => unknown): number {
  let best = Infinity;
  for (let run = 0; run < 3 && best > 20; run++) {
    const since = performance.now();
    work();
    best = Math.min(best, performance.now() - since);
  }
  return best;
}

/**
 * Fails where eight times as much takes far more than eight times as long: 64 times is what
 * comparing each with each takes, and what else the machine does makes three times as much of
 * either. What is done in a few milliseconds says nothing yet.
 */
function expectLinear(named: string, work: (size: number) => () => unknown, size: number): void {
  const [small, large] = [shortest(work(size)), shortest(work(8 * size))];
  if (large > 60 && large > 30 * small)
    throw new Error(`seed ${SEED}: ${named}: ${size} in ${small} ms, ${8 * size} in ${large} ms`);
}

describe('what is read of a report takes time with its length', () => {
  const random = randomFrom(SEED);
  const all = Object.entries(READERS).flatMap(([name, { read, reports }]) =>
    reports.map((report, at) => ({ name: `${name} ${at}`, read, report })),
  );
  test.each(sampled(all, 3))('$name', ({ name, read, report }) => {
    const options: readonly ForeignOptions[] = [
      { form: rules },
      { form: rules, payload: list(2_000) },
      {},
    ];
    for (const option of ROUNDS > 10 ? options : options.slice(0, 2))
      expectLinear(
        name,
        (size) => {
          const value = report(size, random);
          return () => readerOf(read)(value, option);
        },
        1_250,
      );
  });

  test('our own', () => {
    // Other paths each time, so that none is remembered.
    let run = 0;
    expectLinear(
      'violations',
      (size) => () => {
        run += 1;
        const violations = times(size, (at) => ({
          path: `parts[${run}${at}].name`,
          rule: 'required',
          params: {},
        }));
        return checkErrorList({ violations }, index);
      },
      1_250,
    );
  });
});

const xliffOf = (inner: string): string =>
  `<?xml version="1.0"?><xliff xmlns="urn:oasis:names:tc:xliff:document:2.0" version="2.1" srcLang="en" trgLang="de"><file id="f">${inner}</file></xliff>`;
const sourceOf = (inner: string): string =>
  xliffOf(`<unit id="u" name="k"><segment><source>${inner}</source></segment></unit>`);
const numbered = (size: number, make: (at: number) => string): string => times(size, make).join('');

/**
 * What is read from files, made of one part again and again: those that took time with its square
 * once, and their like.
 */
const FILES: readonly (readonly [string, (size: number) => unknown])[] = [
  ['blank lines of a log', (size) => forLog('\n'.repeat(4 * size))],
  ['comments of XML without an end', (size) => xliff.read(xliffOf('<!--'.repeat(size)), {})],
  ['comments of XML', (size) => xliff.read(xliffOf('<!---->'.repeat(size)), {})],
  ['sections of XML without an end', (size) => xliff.read(sourceOf('<![CDATA['.repeat(size)), {})],
  ['entities of XML', (size) => xliff.read(sourceOf('&amp;'.repeat(size)), {})],
  ['tags of XML that are none', (size) => xliff.read(sourceOf('<'.repeat(size)), {})],
  [
    'escapes of PO',
    (size) =>
      po.read(`msgctxt "a"\nmsgid "${'\\101'.repeat(size)}"\nmsgstr "${'\\n'.repeat(size)}"\n`, {}),
  ],
  [
    'quotes of PO',
    (size) => po.read(`msgctxt "a"\nmsgid "${'\\"'.repeat(size)}\nmsgstr "x"\n`, {}),
  ],
  [
    'lines of PO',
    (size) => po.read(`msgctxt "a"\nmsgid ""\n${'"x"\n'.repeat(size)}msgstr "x"\n`, {}),
  ],
  ['quotes of CSV', (size) => csv.read(`key,target\n${'"'.repeat(size)}`, {})],
  ['escapes of properties', (size) => properties.read(`a=${'\\u00'.repeat(size)}\n`, {})],
  [
    'equal lines of a review',
    (size) =>
      Review.parse(
        '{"keys":["messages","a"],"state":"reviewed","text":"x","source":"y"}\n'.repeat(size),
        'r',
      ),
  ],
  [
    'keys of YAML',
    (size) =>
      parseYaml(
        numbered(size, (at) => `k${at}: 1\n`),
        'a.yaml',
      ),
  ],
  [
    'aliases of YAML',
    (size) => parseYaml(`b: [${numbered(size, (at) => `&a${at} x, *a${at}, `)}]\n`, 'a.yaml'),
  ],
  [
    'forms',
    (size) =>
      readSheet(
        parseYaml(
          `forms:\n${numbered(size / 4, (at) => `  f${at}:\n    fields:\n      a: { required: true }\n`)}`,
          'a.yaml',
        ),
        'a.yaml',
      ),
  ],
  ...[
    'a.',
    '\n',
    '\t',
    'at a',
    'A',
    'a::',
    '/home/',
    'targets.2.',
    'a b.c ',
    ' a.b',
    '"a/',
    '[0]',
  ].flatMap((part): [string, (size: number) => unknown][] => [
    [
      `what is internal in ${JSON.stringify(part)}`,
      (size) => leaksIn(`${part.repeat(4 * size)} x.Y Exception `),
    ],
    [`paths in ${JSON.stringify(part)}`, (size) => rawPathIn(part.repeat(4 * size))],
  ]),
];

describe('what is read of a file takes time with its length', () => {
  test.each(sampled(FILES, 8))('%s', (name, read) => {
    expectLinear(
      name,
      (size) => () => {
        try {
          read(size);
        } catch (error) {
          if (!(error instanceof Complaint) && !(error instanceof TranslationFileError))
            throw error;
        }
      },
      5_000,
    );
  });

  test('a text is held against a message with many arguments', () => {
    const matcher = new TextMatcher();
    const tree = readMessage('a{a}a{b}a{c}a{d}a{e}a{f}a{g}b');
    matcher.add('k', { error: undefined, tree, locale: 'en' } as unknown as Entry);
    const since = performance.now();
    expect([
      matcher.of('a'.repeat(800), 'k').locales.size,
      matcher.of(`${'a'.repeat(400)}b`, 'k').locales.size,
    ]).toEqual([0, 1]);
    expect(performance.now() - since).toBeLessThan(IN_VAIN);
  });
});

test.each(Object.entries(READERS))(
  '%s: of more entries than are read it is told how many',
  (name, { read, reports }) => {
    const [report] = reports;
    if (name === 'schema-output' || !report) return;
    const found: ReadViolations = readerOf(read)(report(MOST_READ + 500, randomFrom(SEED)), {
      form: rules,
    });
    expect(found.length).toBeLessThanOrEqual(MOST_READ + 10);
    expect(found.more).toBeGreaterThan(0);
  },
);
