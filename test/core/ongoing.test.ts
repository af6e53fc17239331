import { describe, expect, test } from '@jest/globals';
import { check } from '../../src/core/check/check.js';
import type { Subject } from '../../src/core/check/context.js';
import { OngoingCheck } from '../../src/core/check/ongoing.js';
import { parseLocale } from '../../src/core/locale/tag.js';
import { messageCursor } from '../../src/core/message/cursor.js';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import type { Catalog } from '../../src/core/texts/catalog.js';
import { Texts } from '../../src/core/texts/ladder.js';
import { Purposes } from '../../src/core/texts/purpose.js';
import { readCatalog } from '../../src/core/texts/read.js';
import { renewed } from '../../src/core/texts/renewed.js';
import { Table } from '../../src/core/texts/table.js';
import { oneOf, randomFrom, SEED, type Random } from '../support/torture.js';

const LOCALES = ['en', 'de', 'de-AT', 'pl'].map(parseLocale);
const [ORIGINAL] = LOCALES as [(typeof LOCALES)[number]];

const LOG = {
  title: { required: true, maxLength: 9, pattern: '^a' },
  'rows[*].hue': { enum: ['red', 'blue'], required: true },
  word: { secret: true, minLength: 3 },
  notes: { external: { tidy: { hours: 2 } } },
};

/** What may become of a field while somebody writes rules. */
const RULES = [
  { maxLength: 12 },
  { required: true },
  { minimum: 9, external: { tidy: { hours: 3 } } },
  { enum: ['red'], secret: true },
  { maxLenght: 1 },
];

const formsOf = (id: string, fields: object): FormIndex[] =>
  readSheet({ forms: { [id]: { fields } } }, `${id}.yaml`).forms.map((form) => new FormIndex(form));

type Json = Record<string, unknown>;

/** What texts say, whole and broken, with all that makes findings of one another. */
const SAID = [
  ...[
    '{label} is invalid.',
    '{label_start} is given.',
    'Give {label_accusative}',
    'At most {max}.',
    'At most 9 characters.',
    '{value} is it',
  ],
  ...[
    '{max, plural, one {#} other {#}}',
    '{max, plural, one {#',
    '{label',
    'Same words in both languages.',
    'red',
    '',
    '{example}',
    '{label} is late.',
    '{label_gender, select, plural {some} feminine {a} other {it}}',
    'a  b',
  ],
];
const LABELS = [
  'red',
  'Rot',
  { text: 'Titel', gender: 'plural', accusative: 'den Titel' },
  { text: 'zeit', gender: 'feminine' },
  '{',
];
const KEYS = ['required', 'maxLength', 'requird', 'tidy', 'pattern', 'named', 'enum', 'minLength'];
const PATHS = ['title', 'rows[*]', 'rows[*].hue', 'word', 'titel', 'notes'];

function edited(catalog: Json, random: Random): Json {
  const now = structuredClone(catalog) as Record<string, Record<string, unknown> | undefined>;
  const put = (object: Json, key: string, value: unknown): void => {
    if (random(4) === 0) object[key] = undefined;
    else object[key] = value;
  };
  const text = (): unknown =>
    random(5) === 0 ? { text: oneOf(random, SAID), limit: 20, excused: { 'vague-message': 'why' } } : oneOf(random, SAID);
  const fields = (now.fields ??= {});
  const path = oneOf(random, PATHS);
  const field = (fields[path] ??= {}) as Json;
  switch (random(4)) {
    case 0:
      put((now.messages ??= {}), oneOf(random, KEYS), text());
      break;
    case 1:
      put((field.messages ??= {}) as Json, oneOf(random, KEYS), text());
      break;
    case 2:
      put(field, 'label', oneOf(random, LABELS));
      break;
    default:
      put((field.choices ??= {}) as Json, oneOf(random, ['red', 'blue']), 'rot');
  }
  return JSON.parse(JSON.stringify(now)) as Json;
}

/** A reading of some catalogs: all of it new, or with what has not changed taken from the one before. */
class Reading {
  readonly table: Table;
  private readonly catalogs = new Map<string, Catalog>();

  constructor(
    readonly roots: ReadonlyMap<string, Json>,
    readonly purposes: Purposes,
    readonly forms: readonly FormIndex[],
    before?: Reading,
  ) {
    this.table = new Table(
      {
        original: ORIGINAL,
        files: LOCALES.map((locale) => ({ file: `${locale}.json`, locale })),
        read: (file) => {
          const locale = parseLocale(file.replace('.json', ''));
          const root = roots.get(locale) ?? {};
          const known = before?.roots.get(locale) === root ? before.catalogs.get(file) : undefined;
          const catalog = known ?? this.renew(readCatalog(root, file, locale, 'written', purposes).catalog, before);
          this.catalogs.set(file, catalog);
          return catalog;
        },
        starter: () => undefined,
        titles: () => [],
        kept: (locale) => (before?.roots.get(locale) === roots.get(locale) ? before?.table.column(locale) : undefined),
      },
      purposes,
    );
  }

  private renew(catalog: Catalog, before: Reading | undefined): Catalog {
    const known = before?.catalogs.get(catalog.file);
    return known ? renewed(catalog, known) : catalog;
  }

  get subject(): Subject {
    for (const locale of LOCALES) this.table.column(locale);
    return {
      forms: this.forms.map(({ form }) => form),
      indexOf: (form) => this.forms.find((index) => index.form === form) ?? new FormIndex(form),
      texts: new Texts(this.table, { original: ORIGINAL, fallbacks: new Map() }),
      ...{ locales: LOCALES, languages: LOCALES, original: ORIGINAL, problems: [], settings: 'zeitwort.yaml' },
      remarks: this.table.catalogs.flatMap(({ remarks }) => remarks),
    };
  }
}

const sorted = (list: readonly unknown[]): string[] => list.map((one) => JSON.stringify(one)).sort();

test('one check after the other finds what each finds alone, whatever was edited', () => {
  const random = randomFrom(SEED);
  const options = { asked: ['only-fallback', 'behind-original', 'sample-argument'] as const };
  const ongoing = new OngoingCheck(options);
  let forms = [formsOf('log', LOG), formsOf('pass', { title: { required: { as: 'named' } } })];
  let reading = new Reading(new Map(LOCALES.map((locale) => [locale, { locale }])), new Purposes(), forms.flat());
  const kinds = new Set<string>();
  for (let step = 0; step < 200; step++) {
    const { findings, coverage, matrix } = ongoing.next(reading.subject);
    const alone = check(new Reading(reading.roots, new Purposes(), reading.forms).subject, options);
    expect([step, sorted(findings)]).toEqual([step, sorted(alone.findings)]);
    expect([step, coverage, JSON.stringify(matrix)]).toEqual([step, alone.coverage, JSON.stringify(alone.matrix)]);
    for (const { kind } of findings) kinds.add(kind);
    const roots = new Map(reading.roots);
    for (const locale of LOCALES) if (random(3) === 0) roots.set(locale, edited(roots.get(locale) ?? {}, random));
    if (random(4) === 0) forms = [formsOf('log', { ...LOG, [oneOf(random, PATHS)]: oneOf(random, RULES) }), ...forms.slice(1)];
    reading = new Reading(roots, reading.purposes, forms.flat(), reading);
  }
  // Enough has been found for that to mean something.
  expect(kinds.size).toBeGreaterThan(20);
});

describe('what is being typed in a message', () => {
  test.each<[string, object]>([
    ['words |', { in: 'text' }],
    ['{|', { in: 'name', typed: '' }],
    ['{ la|bel}', { in: 'name', typed: 'la' }],
    ['{max, pl|', { in: 'type', name: 'max', typed: 'pl' }],
    ['{at, date, lo|', { in: 'style', name: 'at', type: 'date', typed: 'lo' }],
    ['{max, plural, one {#} fe|', { in: 'case', name: 'max', type: 'plural', typed: 'fe', there: ['one'] }],
    ['{max, plural, one {# {|', { in: 'name', typed: '' }],
    ['{max, plural, one {#} other {#}}|', { in: 'text' }],
    ["'{' is no brace|", { in: 'text' }],
    ["it''s {na|", { in: 'name', typed: 'na' }],
    ['{nested, select, yes {} |', { in: 'case', name: 'nested', type: 'select', typed: '', there: ['yes'] }],
  ])('%s', (typed, cursor) => {
    const offset = typed.indexOf('|');
    expect(messageCursor(typed.replace('|', ''), offset)).toMatchObject(cursor);
  });
});
