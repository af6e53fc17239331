// Merges of catalogs and reviews, with real branches of git and the built program as its driver.
import { describe, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { removeIn, setIn } from '../../src/workspace/documents/json-text.js';
import { git } from '../support/git.js';
import { folderWith, textOf, zeitwort } from '../support/program.js';

const SETTINGS = "original: en\nlocales: [en, de]\ntexts: ['messages/*.json']\nrules: [r.yaml]\n";
const RULES =
  'forms: { visit: { fields: { host: { maxLength: 9, required: true, pattern: ^a, format: date }, "guests[*].seat": { minimum: 1 } } } }\n';
const EN = {
  locale: 'en',
  messages: { required: 'Give {label}.', maxLength: 'Too long.', minimum: 'At least {min}.' },
  fields: {
    host: { label: { text: 'host', definite: 'the host' } },
    'guests[*].seat': { label: 'seat of {guests_number}' },
  },
};

type Layout = (value: unknown) => string;
const inLines: Layout = (value) => `${JSON.stringify(value, undefined, 2)}\n`;
const inOneLine: Layout = (value) => `${JSON.stringify(value)}\n`;

/** A repository with a workspace that git merges by the program. */
function repository(layout: Layout, catalog: unknown = EN): string {
  const folder = folderWith({
    'zeitwort.yaml': SETTINGS,
    'r.yaml': RULES,
    'messages/en.json': layout(catalog),
    'messages/de.json': layout({ locale: 'de' }),
  });
  git(folder, 'init', '-q');
  expect(zeitwort(['merge', '--install'], folder).code).toBe(0);
  commit(folder);
  git(folder, 'branch', 'theirs');
  return folder;
}

function commit(folder: string): void {
  git(folder, 'add', '.');
  git(folder, 'commit', '-qm', 'x');
}

const catalog = (folder: string): typeof EN =>
  JSON.parse(textOf(folder, 'messages/en.json')) as typeof EN;
const change = (folder: string, from: string, to: string): void => {
  const text = textOf(folder, 'messages/en.json');
  expect(text).toContain(from);
  writeFileSync(path.join(folder, 'messages/en.json'), text.replace(from, to));
};

type Change = (folder: string) => void;
/** Merges what two branches made; tells whether git had nothing left to ask. */
function merged(folder: string, ours: Change, theirs: Change): boolean {
  ours(folder);
  commit(folder);
  git(folder, 'checkout', '-q', 'theirs');
  theirs(folder);
  commit(folder);
  git(folder, 'checkout', '-q', 'main');
  try {
    git(folder, 'merge', '-q', '-m', 'm', 'theirs');
    return true;
  } catch {
    return false;
  }
}

/** Somebody writes a text by hand: the keys, then the text. */
const set =
  (...words: string[]): Change =>
  (folder) => {
    const keys = words.slice(0, -1);
    const text = textOf(folder, 'messages/en.json');
    writeFileSync(path.join(folder, 'messages/en.json'), setIn(text, keys, words.at(-1)));
  };

describe.each([
  ['in lines', inLines],
  ['in one line', inOneLine],
])('a catalog %s', (_, layout) => {
  test('has what both added at one place, and what each changed', () => {
    const folder = repository(layout);
    const isClean = merged(
      folder,
      (at) => {
        set('messages', 'pattern', 'Like {example}.')(at);
        set('messages', 'required', 'Please give {label}.')(at);
      },
      (at) => {
        set('messages', 'format', 'Not {format}.')(at);
        set('messages', 'maxLength', 'Far too long.')(at);
      },
    );
    expect([isClean, catalog(folder).messages]).toEqual([
      true,
      {
        required: 'Please give {label}.',
        maxLength: 'Far too long.',
        minimum: 'At least {min}.',
        pattern: 'Like {example}.',
        format: 'Not {format}.',
      },
    ]);
  });

  test('keeps a changed text of a field that the other renamed, and order that the other made', () => {
    const folder = repository(layout);
    const isClean = merged(
      folder,
      (at) => {
        expect(zeitwort(['rename', 'field', 'guests', 'people'], at).code).toBe(0);
        expect(zeitwort(['fix', '--sort', 'names'], at).out).toContain(
          'entries in the order of their names',
        );
      },
      (at) => {
        set('fields', 'guests[*].seat', 'messages', 'minimum', 'From {min} on.')(at);
        set('messages', 'minimum', '{min} or more.')(at);
      },
    );
    const { fields, messages } = catalog(folder);
    expect([isClean, Object.keys(messages), messages.minimum, fields]).toEqual([
      true,
      ['maxLength', 'minimum', 'required'],
      '{min} or more.',
      {
        host: EN.fields.host,
        'people[*].seat': {
          label: 'seat of {people_number}',
          messages: { minimum: 'From {min} on.' },
        },
      },
    ]);
  });

  test('marks what both changed, each text by itself, and is resolved from the index', () => {
    const folder = repository(layout);
    const isClean = merged(
      folder,
      (at) => {
        set('messages', 'required', 'Ours.')(at);
        set('messages', 'maxLength', 'Ours alone.')(at);
        const file = path.join(at, 'messages/en.json');
        writeFileSync(file, removeIn(textOf(at, 'messages/en.json'), ['messages', 'minimum']));
      },
      (at) => {
        set('messages', 'required', 'Theirs.')(at);
        set('messages', 'minimum', 'Theirs of {min}.')(at);
      },
    );
    expect(isClean).toBe(false);
    const text = textOf(folder, 'messages/en.json');
    expect(text).toMatch(
      /^<{7} ours\n *"required": ?"Ours\.",\n={7}\n *"required": ?"Theirs\.",\n>{7} theirs$/m,
    );
    expect(text).toMatch(/^<{7} ours\n={7}\n *"minimum": ?"Theirs of \{min\}\.",?\n>{7} theirs$/m);
    for (const side of ['ours', 'theirs'] as const) {
      const chosen = text.replace(
        /^<{7} ours\n([^]*?)={7}\n([^]*?)>{7} theirs\n/gm,
        side === 'ours' ? '$1' : '$2',
      );
      writeFileSync(path.join(folder, 'messages/en.json'), chosen);
      const shown = zeitwort(['show', '--format', 'json', '--locale', 'en'], folder).out;
      expect(shown).toContain(side === 'ours' ? 'Ours.' : 'Theirs of {min}.');
      expect(shown).toContain('Ours alone.');
    }
    // As git leaves it that knows no driver, as on another machine.
    git(folder, 'config', '--remove-section', 'merge.zeitwort');
    git(folder, 'checkout', '--merge', 'messages/en.json');
    expect(zeitwort(['check'], folder).code).toBe(2);
    const { code, err } = zeitwort(['merge', 'messages/en.json'], folder);
    expect([code, err]).toEqual([
      1,
      `zeitwort: messages/en.json: both sides changed messages > required; it is marked, choose one.
zeitwort: messages/en.json: both sides changed messages > minimum; it is marked, choose one.
`,
    ]);
    expect(textOf(folder, 'messages/en.json')).toBe(text);
    change(folder, 'Ours alone.', 'By hand.');
    expect(zeitwort(['merge', 'messages/en.json'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining(
        'somebody edited messages/en.json since git left the merge open',
      ),
    });
  });
});

test('a label is one with its inflections; details of a text are not', () => {
  const folder = repository(inLines);
  const isClean = merged(
    folder,
    (at) => {
      set('fields', 'host', 'label', 'text', 'warden')(at);
      change(at, '"Too long."', '{ "text": "Too long.", "note": "beside the input" }');
    },
    (at) => {
      set('fields', 'host', 'label', 'genitive', 'of the host')(at);
      change(at, '"Too long."', '"Shorter, please."');
    },
  );
  expect(isClean).toBe(false);
  const text = textOf(folder, 'messages/en.json');
  expect(text.match(/^<{7}/gm)).toHaveLength(1);
  expect(text).toMatch(/^<{7} ours\n *"label": \{[^}]*"text": "warden"/m);
  expect(text).toContain('{ "text": "Shorter, please.", "note": "beside the input" }');
});

test('comments of both stay; a program that is gone, or what cannot be read, is left to git', () => {
  const commented = (value: unknown): string =>
    inLines(value).replace('    "maxLength"', '    // of lengths\n    "maxLength"');
  const folder = repository(commented);
  const ours: Change = (at) => {
    change(at, '"Give {label}."', '"Please give {label}."');
  };
  const theirs: Change = (at) => {
    change(at, '    // of lengths\n', '    // of lengths, in characters\n');
    change(at, '"At least {min}."', '"From {min}."');
  };
  expect(merged(folder, ours, theirs)).toBe(true);
  expect(textOf(folder, 'messages/en.json')).toContain('// of lengths, in characters\n');

  for (const broken of [
    (at: string): void => {
      const said = git(at, 'config', 'merge.zeitwort.driver').trim();
      git(at, 'config', 'merge.zeitwort.driver', said.replace(/^'[^']*'/, "'/nowhere/node'"));
    },
    (at: string): void => {
      change(at, '"maxLength"', '"required"');
    },
  ]) {
    const other = repository(inLines);
    const isClean = merged(
      other,
      (at) => {
        broken(at);
        change(at, 'Give {label}.', 'Ours.');
      },
      (at) => {
        change(at, 'Give {label}.', 'Theirs.');
      },
    );
    expect(isClean).toBe(false);
    expect(textOf(other, 'messages/en.json')).toMatch(
      /^<{7} ours\n[^]*Ours\.[^]*^={7}\n[^]*Theirs\.[^]*^>{7} theirs$/m,
    );
  }
});

describe('reviews', () => {
  const german = { locale: 'de', messages: { required: 'Fehlt.', maxLength: 'Zu lang.' } };
  const states = (folder: string): Record<string, string> =>
    Object.fromEntries(
      (
        JSON.parse(zeitwort(['review', '--locale', 'de', '--format', 'json'], folder).out) as {
          key: string;
          state: string;
        }[]
      ).map(({ key, state }) => [key, state]),
    );

  test.each([
    ['joined by git alone', false],
    ['joined by the program', true],
  ])('%s: a mark and an edit both hold', (_, isOurs) => {
    const folder = repository(inLines);
    writeFileSync(path.join(folder, 'messages/de.json'), inLines(german));
    zeitwort(['fill', '--locale', 'de'], folder);
    if (isOurs) {
      const attributes = path.join(folder, '.gitattributes');
      writeFileSync(attributes, '*.json merge=zeitwort\n*.review.jsonl merge=zeitwort\n');
    }
    commit(folder);
    git(folder, 'branch', '-f', 'theirs');
    const isClean = merged(
      folder,
      (at) => {
        zeitwort(['review', '--locale', 'de', '--mark', 'reviewed'], at);
      },
      (at) => {
        zeitwort(['set', '--locale', 'de', '--rule', 'minimum', 'Mindestens {min}.'], at);
        zeitwort(['set', '--locale', 'de', '--rule', 'required', 'Fehlt noch.'], at);
      },
    );
    expect([isClean, states(folder)]).toEqual([
      true,
      expect.objectContaining({
        maxLength: 'reviewed',
        minimum: 'translated',
        required: 'translated',
      }),
    ]);
    // What was joined is written in one line a text again.
    zeitwort(['review', '--locale', 'de', '--mark', 'final'], folder);
    const lines = textOf(folder, 'messages/de.review.jsonl').trim().split('\n');
    expect(
      new Set(lines.map((line) => JSON.stringify((JSON.parse(line) as { keys: unknown }).keys)))
        .size,
    ).toBe(lines.length);
    // A renaming and a mark hold both, too.
    commit(folder);
    git(folder, 'branch', '-f', 'theirs');
    expect(
      merged(
        folder,
        (at) => void zeitwort(['review', '--locale', 'de', '--mark', 'translated'], at),
        (at) => void zeitwort(['rename', 'field', 'host', 'guide'], at),
      ),
    ).toBe(true);
    const { out } = zeitwort(['review', '--locale', 'de', '--format', 'json'], folder);
    const label = (JSON.parse(out) as { path?: string; state: string }[]).find(
      ({ path: at }) => at === 'guide',
    );
    expect(label?.state).toBe('translated');
  });
});
