import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import plurals from 'cldr-core/supplemental/plurals.json' with { type: 'json' };
import { PROBLEM_STATUSES } from '../src/core/body/problems.js';
import { isFormOf, ruleArguments } from '../src/core/check/kinds/offers.js';
import { parseLocale } from '../src/core/locale/tag.js';
import { walk } from '../src/core/message/tree.js';
import { FORMAT_NAMES } from '../src/core/rules/format-names.js';
import { TYPE_NAMES } from '../src/core/rules/types.js';
import { FIELD_ARGUMENTS, VOCABULARY } from '../src/core/rules/vocabulary.js';
import { FRAMES, isInflection, Purposes, type TextKind } from '../src/core/texts/purpose.js';
import { readCatalog } from '../src/core/texts/read.js';
import type { Violation } from '../src/core/rules/violation.js';
import { World } from './support/world.js';

const folder = path.join(__dirname, '..', 'src', 'starter');
const locales = readdirSync(folder).map((file) => path.basename(file, '.json'));
const cardinal = plurals.supplemental['plurals-type-cardinal'] as Record<string, object>;

/** Categories that only millions or decimals reach; a text may leave them out. */
const RARE: Record<string, string[]> = {
  fr: ['many'],
  es: ['many'],
  it: ['many'],
  pt: ['many'],
  'pt-PT': ['many'],
};

test('there are thirty-one, two of them Portuguese and two Chinese', () => {
  const wanted =
    'ar cs da de el en es fi fr he hi hu id it ja ko nb nl pl pt pt-PT ro ru sk sv th tr uk vi zh zh-Hant';
  expect(locales.sort().join(' ')).toBe(wanted);
});

/** The categories of a language that single numbers (`=0`, `=1`) leave to say. */
function openCategories(tag: string, numbers: readonly number[]): string[] {
  const rules = new Intl.PluralRules(tag);
  const met = [...Array.from({ length: 201 }, (_, n) => n), 0.1, 0.5, 1.5, 1000, 1_000_000].filter(
    (n) => !numbers.includes(n),
  );
  const open = new Set<string>(met.map((n) => rules.select(n)));
  return [...open].filter((name) => !RARE[tag]?.includes(name));
}

/** "true or false" is two more among other types, and no list in the list. */
const AMONG_OTHERS: Record<string, string> = {
  en: 'a number, true, or false',
  de: 'eine Zahl, true oder false',
  ja: '数値、true、またはfalse',
};

/** The rules whose messages ask for no parameter. */
const ASK_FOR_NOTHING =
  'required absent contains knownIn newIn anyOf oneOf not false unnamed'.split(' ');

/** What a sentence has to tell of each rule, by what its arguments are called. */
const TOLD = [
  'min',
  'max',
  'step',
  'choices',
  'example',
  'counterpart',
  'limit',
  'name',
  'text',
  'first',
  'second',
  'expected',
  'format',
];

describe.each(locales)('the starter catalog %s', (tag) => {
  const root = JSON.parse(readFileSync(path.join(folder, `${tag}.json`), 'utf8')) as Record<
    string,
    unknown
  >;
  const { texts, problems, remarks } = readCatalog(
    root,
    `${tag}.json`,
    parseLocale(tag),
    'starter',
    new Purposes(),
  ).catalog;
  const keysOf = (kind: TextKind): string[] =>
    texts
      .filter(({ purpose }) => purpose.kind === kind && !isInflection(purpose))
      .map(({ purpose }) => purpose.key);
  const messages = texts.filter(({ purpose: { kind } }) => kind === 'message' || kind === 'inline');

  test('is written as JSON is printed, so that a copy has its places', () => {
    expect(`${JSON.stringify(root, undefined, 2)}\n`).toBe(
      readFileSync(path.join(folder, `${tag}.json`), 'utf8'),
    );
  });

  test('has every rule, also beside its input, every problem, frame and type, and nothing else', () => {
    expect(remarks).toEqual([]);
    expect(texts.flatMap(({ error, text }) => (error ? [text] : []))).toEqual([]);
    const general = [...VOCABULARY.keys()].flatMap((id) =>
      ASK_FOR_NOTHING.includes(id) ? [] : [`${id}.general`],
    );
    expect(keysOf('message').sort()).toEqual([...VOCABULARY.keys(), ...general].sort());
    expect(keysOf('inline').sort()).toEqual([...VOCABULARY.keys()].sort());
    expect([...problems].sort()).toEqual([...PROBLEM_STATUSES.keys()].sort());
    const parts = [...PROBLEM_STATUSES.keys()].flatMap((id) => [`${id} title`, `${id} detail`]);
    expect(keysOf('problem').sort()).toEqual(parts.sort());
    // Most languages write dates and times as CLDR has them.
    const written = ['date', 'clock', 'moment'];
    const joining = Object.keys(FRAMES).filter((name) => !written.includes(name));
    expect(keysOf('frame').filter((name) => !written.includes(name))).toEqual(joining);
    const words = keysOf('word');
    expect(words).toEqual(
      expect.arrayContaining([
        ...TYPE_NAMES.map((name) => `type ${name}`),
        'type file',
        'format other',
      ]),
    );
    const formats = words.flatMap((key) => (key.startsWith('format ') ? [key.slice(7)] : []));
    expect(formats.filter((name) => name !== 'other' && !FORMAT_NAMES.includes(name))).toEqual([]);
  });

  test('asks only for what each rule has on offer, and tells all that it has', () => {
    for (const entry of messages) {
      const rule = entry.purpose.key;
      const offers = new Set([...FIELD_ARGUMENTS.map(({ name }) => name), ...ruleArguments(rule)]);
      const names = [...entry.arguments.keys()];
      const unknown = names.filter(
        (name) => !offers.has(name) && !isFormOf(name, (word) => offers.has(word)),
      );
      // A size is said with its unit, a format in words that have the example.
      const tells = (fact: string): boolean =>
        names.some((name) => name === fact || name.startsWith(`${fact}_`)) ||
        (/^m..$/.test(fact) && names.includes('size')) ||
        (fact === 'example' && names.some((name) => name.startsWith('format_words')));
      const silent = ruleArguments(rule).filter((name) => TOLD.includes(name) && !tells(name));
      expect([rule, unknown, silent]).toEqual([rule, [], []]);
    }
  });

  test("has the locale's plural categories in every plural", () => {
    expect(
      Object.keys(cardinal[tag] ?? cardinal[tag.replace(/-.*/, '')] ?? {}).length,
    ).toBeGreaterThan(0);
    for (const { tree, text } of texts) {
      walk(tree, (node) => {
        if (node.kind !== 'plural') return;
        const exact = node.cases.flatMap(({ exactly }) => (exactly === undefined ? [] : [exactly]));
        const named = node.cases.flatMap(({ selector, exactly }) =>
          exactly === undefined ? [selector] : [],
        );
        const wanted = openCategories(tag, exact);
        expect([text, wanted.filter((name) => !named.includes(name))]).toEqual([text, []]);
        expect([
          text,
          named.filter((name) => !wanted.includes(name) && !RARE[tag]?.includes(name)),
        ]).toEqual([text, []]);
      });
    }
  });

  describe('every sentence of it', () => {
    // Labels of every gender and number, with and without inflections, one with a capital of its
    // own, on top and nested.
    const label = (text: string, gender?: string): object =>
      gender === undefined
        ? { text }
        : { text, gender, accusative: `${text}-x`, genitive: `${text}-y` };
    const fields = {
      plain: { label: label('Zq') },
      own: { label: label('zqOS') },
      one: { label: label('Zf', 'feminine') },
      many: { label: label('Zp', 'plural') },
      other: { label: label('Zo', 'masculine') },
      'list[*]': { label: 'Zl {list_number}' },
      'list[*].inner[*]': { label: 'Zi {inner_number}' },
      'list[*].inner[*].one': { label: label('Zd', 'neuter') },
    };
    const rules = Object.fromEntries(
      [...Object.keys(fields), 'list[*].unnamed'].map((name) => [name, { external: { any: {} } }]),
    );
    const world = new World({
      texts: [{ locale: tag, fields }],
      starters: [root],
      forms: { form: { fields: rules } },
      original: tag,
      warn: ({ message }) => {
        throw new Error(message);
      },
    });
    // Thai has no mark at the end of a sentence.
    const END = /[.。।]$/;
    const LITERAL = 'Kw 9,-';
    const LABELS = /Z[qfpdo]|zqOS/;
    const quotes =
      (JSON.parse(JSON.stringify(root.frames)) as Record<string, string>).quoted?.split('{text}') ??
      [];
    const [open = '', close = ''] = quotes;
    const QUOTED = /[“”„«»「」"][^“”„«»「」"]*[“”„«»「」"]/g;
    const BETWEEN_SCRIPTS = /[\u3040-\u30ff\u4e00-\u9fff] |[a-zA-Z\d] [\u3040-\u30ff\u4e00-\u9fff]/;
    const bare = (text: string): string => text.replace(/[\u2066-\u2069\u200e\u200f]/g, '');

    const values: Record<string, Record<string, unknown>[]> = {
      type: [...TYPE_NAMES, 'file']
        .map((expected): Record<string, unknown> => ({ expected }))
        .concat({ expected: ['string', 'null'] }, { expected: ['number', 'boolean'] }),
      format: [...FORMAT_NAMES, 'house-code'].map((format) => ({ format })),
      const: [LITERAL, true, null, 2027, 0.5].map((expected) => ({ expected })),
      pattern: [{ example: LITERAL }, {}],
      letterCase: [{ case: 'upper' }, { case: 'lower' }],
      uniqueItems: [{ first: 1, second: 3 }],
      multipleOf: [{ step: 0.25 }],
      range: [{ min: -3, max: 12_345.5 }],
      mediaType: [{ types: ['image/png'] }, { types: ['image/png', 'image/*'] }],
      knownIn: [{ table: 'houses' }],
      newIn: [{ table: 'houses' }],
    };
    for (const rule of ['enum', 'noneOf'])
      values[rule] = [{ choices: [LITERAL] }, { choices: ['a', LITERAL, 3] }];
    for (const rule of ['beginsWith', 'finishesWith', 'containsText'])
      values[rule] = [{ text: LITERAL }];
    for (const rule of ['additionalProperties', 'unevaluatedProperties', 'propertyNames'])
      values[rule] = [{ name: LITERAL }];
    for (const rule of ['repeats', 'differsFrom', 'dependentRequired'])
      values[rule] = [{ field: 'other' }];
    const counts = [0, 1, 2, 3, 5, 11, 21, 100, 1_000_000];
    for (const [name, list] of [
      ['min', ['minLength', 'minItems', 'minProperties', 'minBytes']],
      ['max', ['maxLength', 'maxItems', 'maxProperties', 'maxBytes']],
    ] as const)
      for (const rule of list)
        values[rule] = counts.filter((n) => n > 0 || name === 'max').map((n) => ({ [name]: n }));
    for (const [rule, name] of [
      ['minContains', 'min'],
      ['maxContains', 'max'],
    ] as const)
      values[rule] = counts
        .filter((n) => n > 0 || name === 'max')
        .flatMap((n) => [{ [name]: n, expected: LITERAL }, { [name]: n }]);
    values.contains = [{ expected: LITERAL }, {}];
    for (const rule of ['atLeastOne', 'exactlyOne']) values[rule] = [{ members: ['one', 'many'] }];
    for (const [rule, name] of [
      ['minimum', 'min'],
      ['exclusiveMinimum', 'min'],
      ['maximum', 'max'],
      ['exclusiveMaximum', 'max'],
    ] as const)
      values[rule] = [{ [name]: -3 }, { [name]: 3600 }, { [name]: 0.125 }, { field: 'other' }];
    const limits = [
      '2027-03-01',
      '21:47',
      '21:47:15Z',
      '2027-03-09T21:47:00Z',
      '2027-03-09T21:47',
      'today',
    ];
    for (const rule of ['earliest', 'latest'])
      values[rule] = [true, false].flatMap((exclusive) => [
        ...limits.map((limit) => ({ limit, exclusive })),
        { field: 'other', exclusive },
      ]);

    const paths = [
      'plain',
      'own',
      'one',
      'many',
      'list[1]',
      'list[1].inner[0].one',
      'list[1].unnamed',
      '',
    ];
    const cases = [...VOCABULARY.keys()].flatMap((rule) =>
      (values[rule] ?? [{}]).flatMap((params) =>
        paths.map((at): Violation => ({ path: at, rule, params, value: 'x' })),
      ),
    );

    test('is whole, ends and is spaced as sentences are, and tells its literals, limits and other fields', () => {
      const faults: string[] = [];
      for (const { path: at, rule, params = {} } of cases) {
        const { text, inline = '' } = world.say(
          { path: at, rule, params, value: 'x' },
          tag,
          0,
          true,
        );
        const hold = (what: string, fine: boolean): void => {
          if (!fine) faults.push(`${what}: ${text} | ${inline}`);
        };
        const plain = bare(text);
        for (const said of [text, inline]) {
          const own = bare(said).replaceAll(LITERAL, 'Q').replace(QUOTED, 'Q');
          hold(
            'hole',
            !/[{}#]|undefined|NaN|\[| {2}|^\s|\s$|[.。]{2}|[,;:]{2}|\(\)/.test(own) &&
              said.length > 2,
          );
          hold('isolates', said.split('\u2068').length === said.split('\u2069').length);
        }
        hold('end', END.test(text) !== (tag === 'th') && !END.test(inline));
        // Members are named beside an input too.
        if (!('members' in params)) hold('label', !LABELS.test(bare(inline).replaceAll('Zo', '')));
        if (/^(plain|own|one|many)$/.test(at))
          hold('subject', LABELS.test(plain.replaceAll('Zo', '')));
        if (at.includes('inner'))
          hold('place', /Zl 2.*Zi 1|Zi 1.*Zl 2/.test(text) && text.includes('Zd'));
        // Literals and the names of other fields stand in the quotes of the language.
        for (const literal of [LITERAL, 'Zo'])
          hold(
            'quotes',
            plain.split(literal).length === plain.split(open + literal + close).length,
          );
        const { limit, expected, field } = params;
        if (typeof limit === 'string') {
          hold('time', !limit.includes(':') || text.includes('47'));
          hold('date', !limit.includes('-') || text.includes('2027'));
          hold('zone', !limit.endsWith('Z') || text.includes('UTC'));
        }
        // CLDR's pattern for one has the symbol first in Hebrew; one byte may be a word.
        if (rule.endsWith('Bytes'))
          hold('size', /\d[\s\u00a0]?\p{L}|בייט|بايت/u.test(plain) && !/[KM]i?B\d/.test(plain));
        if (tag === 'de' && typeof limit === 'string' && limit.includes(':'))
          hold('clock', text.includes('\u00a0Uhr'));
        hold('other', field === undefined || text.includes('Zo'));
        if (rule === 'type' && String(expected) === 'number,boolean')
          hold('list', text.includes(AMONG_OTHERS[tag] ?? ''));
        if (rule === 'const' && expected !== LITERAL)
          hold('literal', text.includes(JSON.stringify(expected)));
        if (tag === 'fr')
          hold('spaces', !/[^\s\u00a0\u202f]( )?[:;!?»](?=\s|$)|«[^\u00a0\u202f]/.test(plain));
        else hold('spaces', !/ [.,;:!?。、，：；](?=\s|$)/.test(plain));
        // CLDR sets a blank before units.
        if ((tag === 'ja' || tag === 'zh' || tag === 'zh-Hant') && !rule.endsWith('Bytes'))
          hold(
            'spaces',
            !BETWEEN_SCRIPTS.test(plain.replace(/Z[li] \d|UTC \d|\d UTC|日 |\d KiB|\d MB/g, '')),
          );
      }
      expect(faults).toEqual([]);
    });

    test('a rule without its parameters has a sentence, and it is not the one of every mistake', () => {
      const quiet = new World({
        texts: [{ locale: tag, fields }],
        starters: [root],
        forms: { form: { fields: rules } },
        original: tag,
      });
      const say = (rule: string): string => bare(quiet.say({ path: 'plain', rule }, tag).text);
      const general = say('unnamed');
      for (const rule of VOCABULARY.keys()) {
        const text = say(rule);
        expect([rule, text]).toEqual([rule, expect.stringContaining('Zq')]);
        expect([rule, text, END.test(text)]).toEqual([rule, text, tag !== 'th']);
        if (rule !== 'unnamed') expect([rule, text]).not.toEqual([rule, general]);
        expect([rule, text]).toEqual([rule, expect.not.stringMatching(/[{}#]|undefined| {2}/)]);
      }
    });

    test('every problem is told with and without its arguments', () => {
      for (const id of PROBLEM_STATUSES.keys())
        for (const args of [
          {},
          { count: 1, fields: 1 },
          { count: 21, fields: 5 },
          { line: 3, column: 14, located: 'yes' },
          { seconds: 30, timed: 'yes' },
        ]) {
          const { title, detail } = world.texts.problem('form', id, parseLocale(tag));
          const told = { located: 'no', timed: 'no', count: 2, fields: 1, ...args };
          expect(title?.format({}, parseLocale(tag))(told)).not.toMatch(/[{}#]|[.。।]$/);
          expect(detail?.format({}, parseLocale(tag))(told)).toMatch(
            tag === 'th' ? /^[^{}#]*[^.]$/ : /^[^{}#]*[.。।]$/,
          );
        }
    });
  });
});

/** Sentences of the starters in locales that they are borrowed for, or that are their own. */
const saidIn = (tag: string, ...violations: Violation[]): string[] => {
  const languages = [tag, tag.replace(/-.*/, '')];
  const starters = languages
    .filter((one) => locales.includes(one))
    .map((one) => JSON.parse(readFileSync(path.join(folder, `${one}.json`), 'utf8')) as never);
  const world = new World({ texts: [], forms: { f: { fields: {} } }, starters });
  return violations.map((violation) => world.say(violation, tag).text);
};

test.each([
  ['es', ['a la 1:30', 'al 1 de marzo de 2027', 'al 8 de marzo de 2027 a las 14:30 UTC']],
  ['pt', ['à 01:30', 'a 1º de março de 2027', '8 de março de 2027 às 14:30 UTC']],
  ['cs', ['než 1:30', '1. března 2027', '8. března 2027 ve\u00a014:30 UTC']],
  ['it', ['alle ore 01:30', 'al 1º marzo 2027', 'all’8 marzo 2027 alle ore 14:30 UTC']],
  ['el', ['από τη 01:30', 'την 1η Μαρτίου 2027', 'τις 8 Μαρτίου 2027 στις 14:30 UTC']],
  ['vi', ['lúc 01:30', 'ngày 1 tháng 3 năm 2027', '14:30 UTC ngày 8 tháng 3 năm 2027']],
  ['th', ['เวลา 01:30', 'วันที่ 1 มีนาคม ค.ศ. 2027', 'วันที่ 8 มีนาคม ค.ศ. 2027 เวลา 14:30 UTC']],
  ['zh-Hant', ['01:30', '2027年3月1日', '2027年3月8日 14:30 UTC']],
  ['de', ['01:30\u00a0Uhr', 'dem 1. März 2027', '8. März 2027 um 14:30\u00a0Uhr UTC']],
])('%s says times, dates and both as its sentences do', (tag, wanted) => {
  const limits = ['01:30', '2027-03-01', '2027-03-08T14:30:00Z'];
  const said = saidIn(
    tag,
    ...limits.map((limit) => ({ path: 'start', rule: 'earliest', params: { limit } })),
  );
  expect(said).toEqual(wanted.map((one) => expect.stringContaining(one)));
});

test.each([
  ['de-CH', ['1’234.5', '8. März 2027']],
  ['es-MX', ['1,234.5', '8 de marzo de 2027']],
  ['ar-EG', ['١٬٢٣٤٫٥', '٨ مارس ٢٠٢٧']],
  ['en-IN', ['1,234.5', '8 March 2027']],
])('a text that %s borrows has its numbers and dates', (tag, wanted) => {
  const said = saidIn(
    tag,
    { path: 'count', rule: 'maximum', params: { max: 1234.5 } },
    { path: 'start', rule: 'earliest', params: { limit: '2027-03-08' } },
  ).map((text) => text.replace("1'234.5", '1’234.5'));
  expect(said).toEqual(wanted.map((one) => expect.stringContaining(one)));
});

test('units, first letters and lists are those of the language', () => {
  const size = (tag: string, max = 65536): string =>
    saidIn(tag, { path: 'f', rule: 'maxBytes', params: { max } }).join();
  expect(size('fr')).toMatch(/64\sKio/);
  expect(size('uk')).toMatch(/64\sКіБ/);
  expect([size('he', 1), size('ar', 2), size('zh-Hant', 1)]).toEqual([
    expect.stringContaining('בייט אחד'),
    expect.stringContaining('بايتين'),
    expect.stringContaining('1位元組'),
  ]);
  const count = (tag: string, label: string): string =>
    saidIn(tag, { path: 'f', rule: 'minItems', params: { min: 2 }, label }).join();
  expect(count('nl', 'ijstaart')).toMatch(/^IJstaart/);
  expect(count('ja', 'iban')).toMatch(/^iban/);
  expect(count('tr', 'iban')).toMatch(/^İban/);
});
