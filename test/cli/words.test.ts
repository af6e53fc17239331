import { describe, expect, test } from '@jest/globals';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { copyOf, zeitwort } from '../support/program.js';

/**
 * A form with an array in an array, types, formats, literals and limits; a language of its own
 * wordings beside the starters.
 */
const SHEET = `forms:
  crew:
    request: POST /crews
    fields:
      'teams[*].people[*].name': { type: string, required: true, maxLength: 3 }
      'teams[*].people[*].mail': { type: string, format: email }
      'teams[*].people[*].role': { enum: [lead, cook] }
      'teams[*].people[*].from': { earliest: '2027-03-09T21:30:00Z' }
      iOSVersion: { type: integer, minimum: 1 }
`;
const catalog = (locale: string, more: object = {}): object => ({
  locale,
  fields: {
    teams: { label: 'teams' },
    'teams[*]': { label: 'team {teams_number}' },
    'teams[*].people': { label: 'people' },
    'teams[*].people[*]': { label: 'person {people_number}' },
    'teams[*].people[*].name': { label: 'name' },
    'teams[*].people[*].mail': { label: 'mail' },
    'teams[*].people[*].role': { label: 'role', choices: { cook: 'cook of the day' } },
    'teams[*].people[*].from': { label: 'begin' },
    iOSVersion: { label: 'iOS version' },
  },
  ...more,
});

const folderOf = (en: object = {}): string =>
  copyOf('small', {
    'zeitwort.yaml':
      'original: en\nlocales: [en, de]\ntexts: [messages/*.json]\nrules: [rules/crew.yaml]\nbody: { shape: list, inline: true }\nproblems: { ship-full: { status: 409, params: { seats: 4 } } }\n',
    'rules/crew.yaml': SHEET,
    'messages/en.json': catalog('en', en),
    'messages/de.json': catalog('de'),
  });

interface Told {
  text: string;
  inline?: string;
}

const person = { name: 'Ilse', mail: 'ilse', role: 'captain', from: '2027-03-09T20:30:00+01:00' };
function tried(folder: string, ...args: string[]): Told[] {
  writeFileSync(
    path.join(folder, 'crew.json'),
    JSON.stringify({ teams: [{ people: [person] }], iOSVersion: 0 }),
  );
  return JSON.parse(
    zeitwort(['try', 'crew.json', '--form', 'crew', ...args], folder).out,
  ) as Told[];
}

describe('frames, words and texts for beside the input', () => {
  test('the starters join, quote, name types and tell times, and a first word with a capital inside stays', () => {
    expect(tried(folderOf()).map(({ text, inline }) => [text, inline])).toEqual([
      ['Team 1, person 1: name must have at most 3 characters.', 'must have at most 3 characters'],
      [
        'Team 1, person 1: mail must be a valid email address such as “name@domain.example”.',
        expect.any(String),
      ],
      [
        'Team 1, person 1: role must be one of these: “lead”, cook of the day.',
        'must be one of these: “lead”, cook of the day',
      ],
      [
        'Team 1, person 1: begin must not be before March 9, 2027 at 9:30\u202fPM UTC.',
        expect.any(String),
      ],
      ['iOS version must be at least 1.', 'must be at least 1'],
    ]);
  });

  test('a catalog has its own, one by one; a message without a text for beside the input stands there whole', () => {
    const folder = folderOf({
      frames: { field: '{label} of {place}', quoted: '‘{text}’' },
      words: { format: { email: { text: 'mail address', plural: 'mail addresses' } } },
      messages: {
        format: {
          text: '{subject_start} takes {format_words_plural} ({example}).',
          inline: 'takes {format_words_plural}',
        },
        maxLength:
          '{has_label_genitive, select, yes {No {label_genitive}.} other {{subject_start}: at most {max}.}}',
      },
    });
    expect(
      tried(folder)
        .slice(0, 3)
        .map(({ text, inline }) => [text, inline]),
    ).toEqual([
      ['Name of team 1, person 1: at most 3.', undefined],
      [
        'Mail of team 1, person 1 takes mail addresses (‘name@domain.example’).',
        'takes mail addresses',
      ],
      [
        'Role of team 1, person 1 must be one of these: ‘lead’, cook of the day.',
        expect.any(String),
      ],
    ]);
    // A pack says the same.
    zeitwort(['pack', '--module', '--out', 'packs'], folder);
    const pack = readFileSync(path.join(folder, 'packs', 'en.mjs'), 'utf8');
    for (const text of ['{label} of {place}', 'mail addresses', 'takes {format_words_plural}'])
      expect(pack).toContain(text);
  });

  test('they are set, shown, explained, filled, sent to translators and taken back like all texts', () => {
    const folder = folderOf();
    const set = (...args: string[]): number | null => zeitwort(['set', ...args], folder).code;
    expect(set('{label} @ {place}', '--locale', 'en', '--frame', 'field')).toBe(0);
    expect(set('a round number', '--locale', 'en', '--word', 'type integer')).toBe(0);
    expect(
      set('round numbers', '--locale', 'en', '--word', 'type integer', '--inflected', 'plural'),
    ).toBe(0);
    expect(set('{subject_start} is too small.', '--locale', 'en', '--rule', 'minimum')).toBe(0);
    expect(set('too small', '--locale', 'en', '--rule', 'minimum', '--inline')).toBe(0);
    for (const [args, said] of [
      [['--frame', 'filed'], 'there is no frame "filed" (did you mean "field"?)'],
      [['--word', 'integer'], '--word takes a group and a name, such as "type integer"'],
    ] as const)
      expect(zeitwort(['set', 'x', '--locale', 'en', ...args], folder)).toMatchObject({
        code: 2,
        err: expect.stringContaining(said),
      });
    const { frames, words, messages } = JSON.parse(
      readFileSync(path.join(folder, 'messages/en.json'), 'utf8'),
    ) as Record<string, object>;
    expect({ frames, words, messages }).toEqual({
      frames: { field: '{label} @ {place}' },
      words: { type: { integer: { text: 'a round number', plural: 'round numbers' } } },
      messages: { minimum: { text: '{subject_start} is too small.', inline: 'too small' } },
    });
    const shown = zeitwort(['show', '--locale', 'en'], folder).out;
    for (const name of ['frame field', 'word type integer', 'minimum, beside the input'])
      expect(shown).toContain(name);
    const { out } = zeitwort(['why', 'crew', 'iOSVersion', 'minimum', '--locale', 'en'], folder);
    expect(out).toMatch(
      /Beside the input, from messages\/en\.json:\d+:\d+, it says\n {2}too small\n/,
    );
    const csv = zeitwort(['export', '--format', 'csv', '--locale', 'de', '--out', '-'], folder).out;
    const rows = {
      '|-|frame|field': '{label} ({place})',
      '|-|inline|minimum': 'zu klein',
      '|-|message|minimum': 'Zu klein.',
    };
    for (const key of Object.keys(rows)) expect(csv).toContain(`${key},`);
    const back = [
      'key,target',
      ...Object.entries(rows).map(([key, text]) => `${key},${text}`),
    ].join('\n');
    writeFileSync(path.join(folder, 'back.csv'), back);
    expect(zeitwort(['import', 'back.csv', '--locale', 'de'], folder).code).toBe(0);
    expect(JSON.parse(readFileSync(path.join(folder, 'messages/de.json'), 'utf8'))).toMatchObject({
      frames: { field: '{label} ({place})' },
      messages: { minimum: { text: 'Zu klein.', inline: 'zu klein' } },
    });
    expect(zeitwort(['fill', '--locale', 'de'], folder).code).toBe(0);
    expect(
      zeitwort(['check', '--kind', 'unknown-argument,wrong-structure,message-syntax'], folder).code,
    ).toBe(0);
  });

  test('what is written wrong is told with its place', () => {
    const folder = folderOf({
      frames: { feild: '{label}', field: '{place}, {name}' },
      words: { kind: {}, type: { integer: { text: 'number {min}', has_x: 'y', quoted: 'z' } } },
      messages: { minimum: { text: '{subject_start}.', inline: 5 } },
      problems: {
        'ship-full': { title: 'Full', detail: 'All {seats} seats are taken on {ship}.' },
      },
    });
    const { findings } = JSON.parse(
      zeitwort(['check', '--format', 'json', '--locale', 'en'], folder).out,
    ) as {
      findings: { kind: string; message: string }[];
    };
    const said = findings
      .filter(({ kind }) => /structure|argument$/.test(kind))
      .map(({ message }) => message);
    for (const part of [
      'There is no frame "feild" (did you mean "field"?)',
      '"words" has no key "kind"',
      '"has_x" is not a name of an inflection: messages would take it for something else',
      '"quoted" is not a name of an inflection',
      '"inline" is a text, not 5',
      'There is no argument {name} here. On offer: label, place.',
      'There is no argument {min} here. On offer: none.',
      'There is no argument {ship} here. On offer: seats.',
    ])
      expect(said.join('\n')).toContain(part);
    expect(said).toHaveLength(8);
  });

  test('problems tell when to try again, and their declared parameters are typed', () => {
    const folder = folderOf();
    const render = (...args: string[]): string =>
      zeitwort(['render', '--with-headers', '--problem', ...args], folder).out;
    const timed = render(
      'too-many-requests',
      '--param',
      'seconds=30',
      '--locale',
      'de',
      '--shape',
      'problem',
    );
    expect(timed).toMatch(/^HTTP\/1\.1 429 Too Many Requests\r?\n[^{]*Retry-After: 30\r?\n/);
    expect(timed).toContain('Bitte in 30 Sekunden noch einmal versuchen.');
    expect(render('unavailable', '--shape', 'problem')).toContain('Try again later.');
    expect(zeitwort(['types', '--out', '-'], folder).out).toContain(
      '"ship-full": { seats?: number };',
    );
  });
});
