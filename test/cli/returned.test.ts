// What translators send back, against what was exported and what is here by now.
import { describe, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { parse } from 'jsonc-parser';
import { git } from '../support/git.js';
import { copyOf, textOf, zeitwort } from '../support/program.js';

const FORMATS = ['xliff', 'po', 'csv', 'properties'] as const;
type Format = (typeof FORMATS)[number];

const exported = (folder: string, format: Format, locale: string): string =>
  zeitwort(['export', '--format', format, '--locale', locale, '--out', '-'], folder).out;

function take(folder: string, format: Format, text: string, ...more: readonly string[]) {
  writeFileSync(path.join(folder, 'back.txt'), text);
  const asked = ['import', 'back.txt', '--format', format, '--locale', 'de', ...more];
  return zeitwort(asked, folder);
}

const label = (folder: string, field: string): unknown => {
  const { fields } = parse(textOf(folder, 'messages/de.json')) as {
    fields: Record<string, { label: { text: string } | string }>;
  };
  const own = fields[field]?.label;
  return typeof own === 'object' ? own.text : own;
};
const setLabel = (folder: string, field: string, text: string): void => {
  const { code } = zeitwort(['set', '--locale', 'de', '--field', field, '--label', text], folder);
  expect(code).toBe(0);
};

/** How a target stands in each format. */
const AS_TARGET: Readonly<Record<Format, (text: string) => string>> = {
  xliff: (text) => `>${text}</target>`,
  po: (text) => `msgstr "${text}"`,
  csv: (text) => `,${text},`,
  properties: (text) => `= ${text}\n`,
};
const translated = (format: Format, file: string, from: string, to: string): string => {
  expect(file).toContain(AS_TARGET[format](from));
  return file.replace(AS_TARGET[format](from), () => AS_TARGET[format](to));
};

/** A file as a program leaves it that does not keep how texts were exported. */
const unmarked = (text: string): string => text.replace(/\.?\b[0-9a-f]{12}-[a-z]+\b/g, '');

describe.each(FORMATS)('%s', (format) => {
  test('what nobody touched changes nothing; what both changed is listed, and waits for --take', () => {
    const folder = copyOf('observatory');
    const sent = exported(folder, format, 'de');
    const back = translated(
      format,
      translated(format, sent, 'Titel', 'Überschrift'),
      'Semester',
      'Halbjahr',
    );
    setLabel(folder, 'semester', 'Trimester');
    setLabel(folder, 'nights', 'Zahl der Nächte');
    const first = take(folder, format, back);
    expect([label(folder, 'title'), label(folder, 'semester'), label(folder, 'nights')]).toEqual([
      'Überschrift',
      'Trimester',
      'Zahl der Nächte',
    ]);
    expect(first).toMatchObject({
      code: 1,
      out: expect.stringMatching(
        /\|semester\|label\|  changed here and by the translator\n {2}- Trimester\n {2}\+ Halbjahr/,
      ),
      err: expect.stringContaining('1 text changed here and by the translator stays'),
    });
    expect(take(folder, format, back, '--take', 'kept')).toMatchObject({ code: 0, err: '' });
    expect(take(folder, format, back, '--take', 'returned').code).toBe(0);
    expect([label(folder, 'semester'), label(folder, 'nights')]).toEqual([
      'Halbjahr',
      'Zahl der Nächte',
    ]);
  });

  test('a slip has what was not taken in, with the reasons, and goes in when it is mended', () => {
    const folder = copyOf('observatory');
    const sent = exported(folder, format, 'de');
    const odd = translated(format, sent, 'Titel', 'Titel {');
    const back = translated(format, odd, 'Semester', 'Halbjahr');
    setLabel(folder, 'semester', 'Trimester');
    const { code, err } = take(folder, format, back, '--slip', 'slip.txt');
    expect([code, err]).toEqual([
      1,
      expect.stringContaining('wrote slip.txt: 2 texts to be sent again'),
    ]);
    const slip = textOf(folder, 'slip.txt');
    expect(slip).toMatch(
      /This was not taken in: at character \d+: [^]*somebody changed it meanwhile to: Trimester/,
    );
    const mended = slip.replace('Titel {', 'Überschrift');
    expect(take(folder, format, mended, '--slip', 'none.txt')).toMatchObject({
      code: 0,
      err: expect.stringContaining('none.txt was not written'),
    });
    expect([label(folder, 'title'), label(folder, 'semester')]).toEqual([
      'Überschrift',
      'Halbjahr',
    ]);
  });

  test('two translators of one file lose nothing', () => {
    const folder = copyOf('observatory');
    const sent = exported(folder, format, 'de');
    take(folder, format, translated(format, sent, 'Semester', 'Halbjahr'));
    take(folder, format, translated(format, sent, 'Kurzfassung', 'Zusammenfassung'));
    expect([label(folder, 'semester'), label(folder, 'abstract')]).toEqual([
      'Halbjahr',
      'Zusammenfassung',
    ]);
  });

  test('a draft with another text is a translation, and clients read it', () => {
    const folder = copyOf('observatory');
    zeitwort(['review', '--locale', 'de', '--field', 'semester', '--mark', 'initial'], folder);
    // Who edits a PO file takes the mark of a draft away, as its editors do.
    const sent = exported(folder, format, 'de').replace(/#, fuzzy\n/g, '');
    const back = translated(format, sent, 'Semester', 'Halbjahr');
    expect(take(folder, format, back).code).toBe(0);
    const { out } = zeitwort(['review', '--locale', 'de', '--format', 'json'], folder);
    const all = JSON.parse(out) as { path?: string; text: string; state: string }[];
    expect(all.find((one) => one.path === 'semester')).toMatchObject({
      text: 'Halbjahr',
      state: 'translated',
    });
  });

  test('a place that was renamed meanwhile is found by its text', () => {
    const folder = copyOf('observatory');
    const back = translated(format, exported(folder, format, 'de'), 'Semester', 'Halbjahr');
    const { code } = zeitwort(['rename', 'field', 'semester', 'term'], folder);
    expect(code).toBe(0);
    take(folder, format, back);
    expect(label(folder, 'term')).toBe('Halbjahr');
  });

  test('without what was exported, a text that git knows is no work of the translator', () => {
    const folder = copyOf('observatory');
    const sent = unmarked(exported(folder, format, 'de'));
    for (const step of [['init'], ['add', '.'], ['commit', '-m', 'first']]) git(folder, ...step);
    setLabel(folder, 'semester', 'Trimester');
    expect(take(folder, format, sent)).toMatchObject({ code: 0, out: 'Nothing to change.\n' });
    const other = take(folder, format, translated(format, sent, 'Semester', 'Halbjahr'));
    expect(other.err).toContain('1 text changed here and by the translator stays');
    expect(label(folder, 'semester')).toBe('Trimester');
  });
});

const KEY = '|nights|message|maximum';
const rows = (folder: string): string[] => exported(folder, 'csv', 'de').split('\r\n');

describe('is judged as check does', () => {
  const PLURAL =
    'Es {max, plural, one {kann höchstens # Nacht} other {können höchstens # Nächte}} sein.';
  test.each([
    [
      'a case of the language is gone',
      'Höchstens {max, plural, other {# Nächte}}.',
      /no case for one/,
    ],
    ['markup', `<b>${PLURAL}</b>`, /<b>/],
    ['blank', '   ', /it came back blank; the text stays/],
  ])('%s', (_, target, why) => {
    const folder = copyOf('observatory');
    const before = textOf(folder, 'messages/de.json');
    const all = rows(folder);
    const at = all.findIndex((line) => line.startsWith(KEY));
    all[at] = (all[at] ?? '').replace(/("[^"]*"),("[^"]*")/, `$1,"${target}"`);
    const { err } = take(folder, 'csv', all.join('\r\n'));
    expect(err).toMatch(why);
    expect(textOf(folder, 'messages/de.json')).toBe(before);
    if (target.trim() === '') return;
    expect(take(folder, 'csv', all.join('\r\n'), '--anyway').code).toBe(0);
    expect(textOf(folder, 'messages/de.json')).not.toBe(before);
  });

  test('order does not matter; a key twice is told; notes are kept; a state that is none refuses nothing', () => {
    const folder = copyOf('observatory');
    const [head = '', ...all] = rows(folder).filter((line) =>
      /^(?:key|\|(?:title|lead)\|)/.test(line),
    );
    const lines = [
      'key,target,state,note',
      '|lead|label|dative,der Leitung,,',
      '|title|label|,Überschrift,done,Or rather “Titel”?',
      '|abstract|label|,eins,,',
      '|abstract|label|,zwei,,',
    ];
    expect([head !== '', all.length > 0]).toEqual([true, true]);
    const back = take(folder, 'csv', lines.join('\n'), '--take', 'returned');
    expect(back).toMatchObject({
      code: 1,
      out: expect.stringContaining('note: Or rather “Titel”?'),
    });
    expect(back.err).toContain(
      '|abstract|label|: it stands 2 times, with different texts; keep one',
    );
    expect(back.err).toContain('|title|label|: "done" is not a state');
    expect(back.err).toContain('|lead|label|dative: no text asks for this inflection');
    expect(label(folder, 'title')).toBe('Überschrift');
    expect(textOf(folder, 'messages/de.review.jsonl')).toContain('"note":"Or rather “Titel”?"');
    expect(zeitwort(['review', '--field', 'title', '--locale', 'de'], folder).out).toMatch(
      /translator {2}Or rather “Titel”\?/,
    );
  });

  test('texts of another language and half of a text are refused', () => {
    const folder = copyOf('observatory');
    for (const format of FORMATS)
      expect(take(folder, format, exported(folder, format, 'pl'))).toMatchObject({
        code: 2,
        err: expect.stringContaining('the texts are in pl, not in de'),
      });
    const half = exported(folder, 'xliff', 'de').replace(
      /<segment[^>]*>\s*<source[^>]*>semester[\s\S]*?<\/segment>/,
      '<segment><source>seme</source><target>Halb</target></segment><segment><source>ster</source></segment>',
    );
    expect(take(folder, 'xliff', half)).toMatchObject({
      code: 1,
      err: expect.stringContaining('it is in several segments, and not all of them are translated'),
    });
  });
});
