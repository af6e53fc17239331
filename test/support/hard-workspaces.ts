// Workspaces with what is hard to say from a pack.
import { folderWith } from './program.js';

// There are no texts of ours in hi and fa: what nobody wrote there is said in English.
export const LANGUAGES = ['en', 'de', 'pl', 'ar', 'ja', 'he', 'fr', 'hi', 'uk', 'pt-PT', 'fa'];

/**
 * What the demo does not have: values and names of clients, maps, lists in lists, odd names,
 * parameters, languages without texts.
 */
export const store = (): string =>
  folderWith({
    'zeitwort.yaml': `original: en\nlocales: [${LANGUAGES.join(', ')}]\ntexts: [texts/*.json]\nrules: [rules/*.yaml]\n`,
    'rules/store.yaml': `forms:
  plate-store:
    request: PUT /plates
    query:
      page: { type: integer, minimum: 1, maximum: 12500 }
      'filter.band': { enum: [h-alpha, O3, 'λ 5'] }
    header:
      X-Night: { required: true, format: date }
    fields:
      '': { type: object, additionalProperties: false }
      plates: { type: array, minItems: 1, maxItems: 12, uniqueItems: true, contains: { expected: flat } }
      'plates[*].id': { type: string, required: true, maxLength: 1200, format: uuid }
      'plates[*].parts[*].size': { type: [number, string], multipleOf: 0.25, exclusiveMinimum: -1500.5, maximum: 1234567.125 }
      'plates[*].parts[*].parts[*]': { type: number, range: { min: 1, max: 9 } }
      'notes.*': { type: string, maxLength: 80, startsWith: 'N-' }
      'notes.*.by["odd.name"]': { type: string, required: true }
      secretWord: { type: string, secret: true, minLength: 8 }
      'ключ/~': { required: true, format: email }
      begin: { format: date-time, earliest: '2027-02-01T10:00:00Z' }
      end: { format: date, latest: today, earliest: { field: begin } }
      upload: { maxBytes: 5000000, mediaType: { types: [image/png, image/jpeg] } }
      'grid[*][*]': { type: number, minimum: 0 }
      outside: { type: string, external: { not-in-archive: { count: 4, of: 'north wing', when: [1, 2] } } }
`,
    'texts/en.json': {
      locale: 'en',
      messages: {
        'not-in-archive':
          '{subject_start} {value_quoted} is in none of the {count, plural, one {# archive} other {# archives}} of {of}.',
        minLength: {
          text: '{subject_start} has {actual} of {min} characters: {value}.',
          inline: '{actual}/{min} {value}',
        },
      },
      fields: {
        'notes.*': {
          label: 'note {notes_key}',
          messages: { maxLength: '{label} {notes_key_quoted}: {max}.' },
        },
        'plates[0]': { label: 'the first plate' },
        'plates[*]': { label: 'plate {plates_number}' },
        'grid[*][*]': { label: 'cell {grid_number} × {grid_number_2}' },
      },
    },
    ...Object.fromEntries(
      LANGUAGES.slice(1).map((locale) => [
        `texts/${locale}.json`,
        {
          locale,
          messages: { 'not-in-archive': '{value} {value_quoted} {count} {of} {subject} 100%' },
        },
      ]),
    ),
  });

/** Definitions that recur, and fields at any depth. */
export const assembly = (): string =>
  folderWith({
    'zeitwort.yaml':
      'original: en\nlocales: [en, de, ar, pl]\ntexts: [texts/*.json]\nrules: [rules/*]\n',
    'rules/assembly.schema.json': {
      $id: 'assembly',
      required: ['mount'],
      properties: {
        mount: { $ref: '#/$defs/Part' },
        spares: { type: 'array', items: { $ref: '#/$defs/Part' } },
        byName: { additionalProperties: { $ref: '#/$defs/Part' } },
        tree: { $ref: '#/$defs/Node' },
      },
      $defs: {
        Part: {
          type: 'object',
          title: 'Part',
          required: ['name'],
          properties: {
            name: { type: 'string', title: 'part name', maxLength: 20 },
            weight: { type: 'number', minimum: 0.5 },
            parts: { type: 'array', maxItems: 5, items: { $ref: '#/$defs/Part' } },
          },
        },
        Node: {
          type: 'object',
          properties: {
            left: { $ref: '#/$defs/Node' },
            right: { $ref: '#/$defs/Node' },
            tags: { type: 'array', items: { type: 'string', minLength: 2 } },
            more: { additionalProperties: { $ref: '#/$defs/Leaf' } },
          },
        },
        Leaf: {
          required: ['size'],
          properties: { size: { type: 'integer', maximum: 7 }, node: { $ref: '#/$defs/Node' } },
        },
      },
    },
    'rules/survey.yaml': `forms:
  survey:
    fields:
      '..note': { type: string, maxLength: 30 }
      'areas[*]..code': { type: string, required: true, maxLength: 4 }
      'areas[*]..rows[*].n': { type: integer, maximum: 4 }
      '..cells[*]': { type: integer, maximum: 9 }
`,
    'texts/en.json': {
      locale: 'en',
      fields: {
        'Part::name': { label: 'name of the part' },
        'Part::parts[*].weight': {
          messages: { minimum: 'Part {parts_number} weighs too little: {value} {subject}' },
        },
        'mount.name': { label: 'name of the mount' },
        'spares[*].parts[0].name': { label: 'first name of spare {spares_number}' },
        '..note': { label: 'the note' },
      },
    },
    'texts/de.json': {
      locale: 'de',
      fields: {
        'Part::name': { label: 'Name des Teils' },
        'Part::parts[*]': { label: 'Teil {parts_number}' },
      },
    },
  });

/**
 * What only ICU says: ordinals, offsets, styles, dates of a request, and names that a case and a
 * text ask for.
 */
export const styled = (): string =>
  folderWith({
    'zeitwort.yaml':
      'original: en\nlocales: [en, de, es, ar]\nzone: Asia/Tokyo\ntexts: [texts/*.json]\nrules: [rules/*.yaml]\n',
    'rules/plates.yaml': `forms:
  plates:
    fields:
      plate: { external: { seen-before: { times: 12, share: 0.25, since: '2027-02-01', at: '2027-03-09T21:30:00Z', by: 'ليلى {x}', kind: "it's" } } }
`,
    ...Object.fromEntries(
      [
        [
          'en',
          '{subject_start}: {times, selectordinal, one {#st} two {#nd} few {#rd} other {#th}} time, {share, number, percent}',
        ],
        [
          'de',
          '{subject_start}: {since, date, long} {at, date, long} {times, plural, offset:1 =1 {niemand} one {# mehr} other {# mehr}}',
        ],
        [
          'es',
          "{by_quoted} '{'{by}'}' {kind, select, other {{kind} {times, plural, one {#} other {# {times} {share}}}}}",
        ],
        [
          'ar',
          '{by} {kind} {times, plural, zero {#} one {#} two {#} few {#} many {#} other {#}} {share, number, percent}',
        ],
      ].map(([locale, text]) => [
        `texts/${locale}.json`,
        { locale, messages: { 'seen-before': text } },
      ]),
    ),
  });
