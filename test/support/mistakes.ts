export type Json = Record<string, unknown>;

export interface Case {
  readonly kind: string;
  readonly severity?: 'error' | 'warning' | 'info';
  /**
   * The keys of the place in the file of rules (`rules.yaml`) or of the texts (`0.json`, …), and
   * the offset in the text.
   */
  readonly at: readonly [string, ...(string | number)[]];
  readonly offset?: number;
  readonly says: string;
  readonly fields?: Json;
  readonly texts: readonly Json[];
  readonly mended: { readonly fields?: Json; readonly texts?: readonly Json[] };
  readonly languages?: readonly string[];
  /** Answers have texts for beside the inputs. */
  readonly asksInline?: true;
}

export const title = { title: { required: true, maxLength: 120 } };
export const en = (messages: Json, fields: Json = {}): Json => ({
  locale: 'en',
  messages,
  fields: { title: { label: 'title' }, ...fields },
});
export const of = (locale: string, messages: Json, fields: Json = {}): Json => ({
  ...en(messages, fields),
  locale,
});
export const message = (at: string, key: string): readonly [string, ...string[]] => [
  at,
  'messages',
  key,
];

/**
 * A mistake of each kind about coverage, messages and rules, with the place, and a twin in which it
 * is mended.
 */
export const MISTAKES: Case[] = [
  {
    kind: 'missing-word',
    at: ['rules.yaml', 'forms', 'f', 'fields', 'title', 'type'],
    says: 'The type "integer" has no word in en, and messages there name it',
    fields: { title: { type: 'integer' } },
    texts: [
      {
        ...en({ type: '{label_start} must be {expected_words}.' }),
        words: { type: { object: 'an object' } },
      },
    ],
    mended: {
      texts: [
        {
          ...en({ type: '{label_start} must be {expected_words}.' }),
          words: { type: { object: 'an object', integer: 'a whole number' } },
        },
      ],
    },
  },
  {
    kind: 'missing-word',
    at: ['zeitwort.yaml', 'locales'],
    says: 'There is no frame "quoted" in en; “…” stands in',
    fields: { title: { repeats: 'title' } },
    texts: [en({ repeats: '{label_start} must be {counterpart_quoted}.' })],
    mended: {
      texts: [
        {
          ...en({ repeats: '{label_start} must be {counterpart_quoted}.' }),
          frames: { quoted: '“{text}”' },
        },
      ],
    },
  },
  {
    kind: 'missing-choice',
    at: ['rules.yaml', 'forms', 'f', 'fields', 'filter', 'enum'],
    says: '"o3" of filter has no name in de, but has one in en',
    fields: { filter: { enum: ['ha', 'o3'] } },
    texts: [
      en({}, { filter: { label: 'f', choices: { ha: 'H', o3: 'O' } } }),
      of('de', {}, { filter: { label: 'f', choices: { ha: 'H' } } }),
    ],
    mended: {
      texts: [
        en({}, { filter: { label: 'f', choices: { ha: 'H' } } }),
        of('de', {}, { filter: { label: 'f', choices: { ha: 'H' } } }),
      ],
    },
    languages: ['en', 'de'],
  },
  {
    kind: 'unused-label',
    at: ['0.json', 'fields', 'titel'],
    says: 'No form has a field at titel. Did you mean title?',
    texts: [en({}, { titel: { label: 'x' } })],
    mended: {
      texts: [en({}, { '[*]': { label: 'x' }, title: { label: 'x' } })],
      fields: { ...title, '[*].a': {} },
    },
  },
  {
    kind: 'unruled-field',
    at: ['0.json', 'fields', 'nights'],
    says: 'nights has a label and no rule',
    fields: { ...title, nights: {} },
    texts: [en({}, { nights: { label: 'nights' } })],
    mended: { fields: { ...title, 'nights.count': { required: true } } },
  },
  {
    kind: 'shadowed',
    at: ['0.json', 'messages', 'required'],
    says: 'a more special one stands in front of it',
    texts: [en({ required: 'x' }, { title: { label: 't', messages: { required: 'y' } } })],
    mended: { fields: { ...title, other: { required: true } } },
  },
  {
    kind: 'tie',
    at: ['0.json', 'fields', '..b[*].a'],
    says: '..b[*].a and ..a cover the same fields',
    fields: { 'b[*].a': { required: true } },
    texts: [en({}, { '..a': { label: 'x' }, '..b[*].a': { label: 'y' } })],
    mended: { texts: [en({}, { '..a': { label: 'x' }, 'b[*].a': { label: 'y' } })] },
  },
  {
    kind: 'argument-clash',
    at: ['rules.yaml', 'forms', 'f', 'fields', 'targets[*].plan', 'external', 'fits'],
    says: 'The parameter "targets_number" hides the position',
    fields: { 'targets[*].plan': { external: { fits: { targets_number: 3 } } } },
    texts: [],
    mended: { fields: { 'targets[*].plan': { external: { fits: { hours: 3 } } } } },
  },
  {
    kind: 'argument-mismatch',
    at: message('1.json', 'maxLength'),
    says: 'leaves out {max} and adds {actual}',
    texts: [
      en({ maxLength: '{label_start}: {max}' }),
      of('de', { maxLength: '{label}: {actual}' }),
    ],
    mended: {
      texts: [
        en({ maxLength: '{label_start}: {max}' }),
        of('de', { maxLength: '{place} {label_dative}: {max}' }),
      ],
    },
    languages: ['en', 'de'],
  },
  {
    kind: 'plural-gap',
    severity: 'error',
    at: message('0.json', 'maxLength'),
    offset: 2,
    says: 'has no case for few, many, which pl has. Add few {…} many {…}.',
    texts: [of('pl', { maxLength: 'x {max, plural, one {#} other {#}}' })],
    mended: {
      texts: [of('pl', { maxLength: 'x {max, plural, one {#} few {#} many {#} other {#}}' })],
    },
    languages: ['pl'],
  },
  {
    kind: 'plural-gap',
    severity: 'error',
    at: message('0.json', 'maxLength'),
    says: 'no case for many, which fr has',
    fields: { title: { maxLength: 2_000_000 } },
    texts: [of('fr', { maxLength: '{max, plural, one {#} other {#}}' })],
    mended: { fields: title },
    languages: ['fr'],
  },
  {
    kind: 'plural-gap',
    severity: 'error',
    at: message('0.json', 'maxLength'),
    says: 'The selectordinal of {max} has no case for two, few',
    texts: [en({ maxLength: '{max, selectordinal, one {#st} other {#th}}' })],
    mended: { texts: [en({ maxLength: '{max, plural, =1 {one} other {#}}' })] },
  },
  {
    kind: 'plural-extra',
    at: message('0.json', 'maxLength'),
    offset: 14,
    says: 'en has no plural category "few"',
    texts: [en({ maxLength: '{max, plural, few {#} one {#} other {#}}' })],
    mended: { texts: [en({ maxLength: '{max, plural, =0 {#} one {#} other {#}}' })] },
  },
  {
    kind: 'missing-inline',
    at: message('1.json', 'maxLength'),
    says: '"maxLength" has no "inline" in de',
    texts: [
      en({ maxLength: { text: 'Up to {max}.', inline: 'up to {max}' }, required: 'Give it.' }),
      of('de', { maxLength: 'Bis {max}.', required: 'Gib es an.' }),
    ],
    mended: {
      texts: [
        en({ maxLength: { text: 'Up to {max}.', inline: 'up to {max}' } }),
        of('de', { maxLength: { text: 'Bis {max}.', inline: 'bis {max}' } }),
      ],
    },
    languages: ['de'],
    asksInline: true,
  },
  {
    kind: 'spelt-number',
    at: message('0.json', 'maxLength'),
    offset: 16,
    says: 'In ru the case "one" is for 121 too',
    fields: { title: { maxLength: 121 } },
    texts: [of('ru', { maxLength: 'x {max, plural, one {один} few {#} many {#} other {#}}' })],
    // Nobody meets 0 or 21 where the bound is 120.
    mended: { fields: title },
    languages: ['ru'],
  },
  {
    kind: 'spelt-number',
    at: message('0.json', 'on-duty'),
    says: 'In fr the case "one" is for 0 too',
    fields: { title: { external: { 'on-duty': { hours: 6 } } } },
    texts: [of('fr', { 'on-duty': '{hours, plural, one {une heure} other {# heures}}' })],
    mended: {
      texts: [of('fr', { 'on-duty': '{hours, plural, =0 {rien} one {une heure} other {# h}}' })],
    },
    languages: ['fr'],
  },
  {
    kind: 'select-mismatch',
    at: message('0.json', 'required'),
    offset: 17,
    says: '{nested} is never "yess" (did you mean "yes"?); it can be yes, no.',
    texts: [en({ required: '{nested, select, yess {a} other {b}}' })],
    mended: { texts: [en({ required: '{nested, select, yes {a} other {b}}' })] },
  },
  {
    kind: 'literal-bound',
    at: message('0.json', 'maxLength'),
    offset: 8,
    says: 'The text writes 120, which is {max} of its rule',
    texts: [en({ maxLength: 'At most 120 characters.' })],
    mended: { texts: [en({ maxLength: 'At most {max} characters, not 121.' })] },
  },
  {
    kind: 'nested-too-deep',
    at: message('0.json', 'maxLength'),
    says: 'Cases are nested 4 deep',
    texts: [en({ maxLength: `${'{nested, select, other {'.repeat(4)}x${'}}'.repeat(4)}` })],
    mended: {
      texts: [en({ maxLength: `${'{nested, select, other {'.repeat(3)}x${'}}'.repeat(3)}` })],
    },
  },
  ...(
    [
      [
        { minLength: 5, maxLength: 3 },
        'maxLength',
        '"maxLength" 3 leaves nothing above "minLength" 5',
        { minLength: 3, maxLength: 3 },
      ],
      [
        { exclusiveMinimum: 3, maximum: 3 },
        'maximum',
        'leaves nothing',
        { minimum: 3, maximum: 3 },
      ],
      [
        { enum: ['2027A', 'x'], pattern: '^\\d' },
        'enum',
        '"x" is listed, but "pattern" refuses it',
        { enum: ['2027A'], pattern: '^\\d' },
      ],
      [
        { type: 'string', enum: [1] },
        'enum',
        '1 is listed, but the type refuses it',
        { type: 'string', enum: ['1'] },
      ],
      [
        { earliest: '2027-03-01', latest: '2027-02-01' },
        'latest',
        'is before "earliest"',
        { earliest: '2027-03-01', latest: 'today' },
      ],
    ] as const
  ).map(([wrong, rule, says, right]): Case => ({
    kind: 'bound-conflict',
    severity: 'error',
    at: ['rules.yaml', 'forms', 'f', 'fields', 'a', rule],
    says,
    texts: [],
    fields: { a: wrong },
    mended: { fields: { a: right } },
  })),
  ...(
    [
      [
        { enum: ['x', 'y'] },
        { b: 'z' },
        'b is never "z": it is one of "x", "y"',
        { b: ['x', 'y'] },
      ],
      [{ const: 3 }, { b: [3, 4] }, 'b is never 4: it is always 3', { b: 3 }],
      [{ type: 'integer' }, { b: 'many' }, 'b is never "many": its type is integer', { b: 12 }],
      [
        { required: true },
        { b: { absent: true } },
        'b is required, so it is never absent',
        { b: { absent: false } },
      ],
    ] as const
  ).map(([b, wrong, says, right]): Case => ({
    kind: 'idle-condition',
    severity: 'error',
    at: ['rules.yaml', 'forms', 'f', 'fields', 'a', 'maxLength'],
    says,
    texts: [],
    fields: { a: { maxLength: { max: 3, onlyIf: wrong } }, b },
    mended: { fields: { a: { maxLength: { max: 3, onlyIf: right } }, b } },
  })),
];
