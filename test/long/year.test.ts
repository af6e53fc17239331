// A year of a team: two people with clones of one repository, and translators who send back what
// they will. No text that somebody wrote is lost without having been listed, and `check` tells what
// clients read.
import { expect, test } from '@jest/globals';
import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { git } from '../support/git.js';
import { folderWith, textOf, zeitwort, type Outcome } from '../support/program.js';
import { oneOf, randomFrom, ROUNDS, SEED, type Random } from '../support/torture.js';

const FORMATS = ['csv', 'properties', 'po', 'xliff'] as const;
type Format = (typeof FORMATS)[number];
interface Sent {
  readonly format: Format;
  readonly text: string;
}

/** Each text that somebody writes is a word of its own: `T7de` a message, `B8en` a label. */
const WORD = /\b[TB]\d+(?:en|de)\b/g;
const FIELDS = ['host', 'guests[*].seat', 'nights', 'note'];
const RULES = ['required', 'maxLength', 'minimum', 'pattern'];
const FILES = {
  'zeitwort.yaml':
    "original: en\nlocales: [en, de]\ntexts: ['messages/*.json']\nrules: [rules/*.yaml]\n",
  'rules/visit.yaml': `forms:
  visit:
    fields:
      host: { required: true, maxLength: 9 }
      'guests[*].seat': { required: true, minimum: 1 }
      nights: { minimum: 1 }
      note: { pattern: { regex: '^a', example: abc }, maxLength: 80 }
`,
  'messages/en.json': { locale: 'en', messages: { required: 'T1en {label}', maxLength: 'T2en' } },
  'messages/de.json': { locale: 'de', messages: { required: 'T3de {label}' } },
};

class Team {
  private made = 3;
  private readonly folders: readonly string[];
  private readonly outbox: Sent[] = [];
  readonly log: string[] = [];

  constructor(private readonly random: Random) {
    const origin = folderWith({});
    git(origin, 'init', '-q', '--bare');
    this.folders = [1, 2].map(() => folderWith({}));
    const [first = '', second = ''] = this.folders;
    git(first, 'clone', '-q', origin, '.');
    for (const [file, value] of Object.entries(FILES)) {
      mkdirSync(path.dirname(path.join(first, file)), { recursive: true });
      const text = typeof value === 'string' ? value : `${JSON.stringify(value, undefined, 2)}\n`;
      writeFileSync(path.join(first, file), text);
    }
    zeitwort(['merge', '--install'], first);
    git(first, 'add', '.');
    git(first, 'commit', '-qm', 'x');
    git(first, 'push', '-q', 'origin', 'HEAD:main');
    git(second, 'clone', '-q', '-b', 'main', origin, '.');
    zeitwort(['merge', '--install'], second);
  }

  private word(kind: 'T' | 'B', locale: string): string {
    this.made += 1;
    return `${kind}${this.made}${locale}`;
  }

  /** The words in all catalogs of a folder, marks of conflicts or not. */
  private words(folder: string): Set<string> {
    const files = readdirSync(path.join(folder, 'messages')).filter((file) => /\.json$/.test(file));
    return new Set(files.flatMap((file) => textOf(folder, `messages/${file}`).match(WORD) ?? []));
  }

  /** The words of each catalog in a commit, or now; a draft is the same word in another. */
  private wordsAt(folder: string, commit?: string): Set<string> {
    const words = ['messages/en.json', 'messages/de.json'].flatMap((file) => {
      const text =
        commit === undefined ? textOf(folder, file) : git(folder, 'show', `${commit}:${file}`);
      return (text.match(WORD) ?? []).map((word) => `${file} ${word}`);
    });
    return new Set(words);
  }

  private run(folder: string, words: readonly string[]): Outcome {
    this.log.push(`${this.folders.indexOf(folder)} ${words.join(' ')}`);
    const outcome = zeitwort(words, folder);
    // What stands under both names, since one side wrote it where the other renamed, is refused.
    const isRefused = words[0] === 'rename' && outcome.err.includes('is there already, beside');
    const wrong = outcome.code === 2 && !isRefused ? outcome.err : '';
    expect([this.log, wrong]).toEqual([this.log, '']);
    return outcome;
  }

  /** Runs a command that may let go of what it prints, and of so many words else. */
  private keeping(folder: string, words: readonly string[], replaced = 0): Outcome {
    const before = this.words(folder);
    const outcome = this.run(folder, words);
    const after = this.words(folder);
    const told = new Set(`${outcome.out}${outcome.err}`.match(WORD) ?? []);
    const gone = [...before].filter((word) => !after.has(word) && !told.has(word));
    expect([this.log, gone.slice(replaced)]).toEqual([this.log, []]);
    return outcome;
  }

  private fields(folder: string): string[] {
    return FIELDS.map((field) =>
      textOf(folder, 'rules/visit.yaml').includes('people')
        ? field.replace('guests', 'people')
        : field,
    );
  }

  private write(folder: string): void {
    const locale = oneOf(this.random, ['en', 'de']);
    const field = oneOf(this.random, this.fields(folder));
    const about = oneOf<() => string[]>(this.random, [
      () => ['--field', field, '--label', this.word('B', locale)],
      () => [
        '--field',
        field,
        '--rule',
        oneOf(this.random, RULES),
        '--force',
        this.word('T', locale),
      ],
      () => ['--rule', oneOf(this.random, RULES), this.word('T', locale)],
    ])();
    this.keeping(folder, ['set', '--locale', locale, ...about], 1);
  }

  private send(folder: string): void {
    const format = oneOf(this.random, FORMATS);
    const words = ['export', '--format', format, '--locale', 'de', '--out', '-'];
    this.outbox.push({ format, text: this.run(folder, words).out });
  }

  /** What a translator makes of a file: some is translated, some left out, moved or broken. */
  private returned({ format, text }: Sent): string {
    const translated = text.replace(/\b[TB]\d+de\b/g, (word) =>
      this.random(4) > 0
        ? word
        : this.word(word.startsWith('B') ? 'B' : 'T', 'de') + (this.random(6) === 0 ? ' {' : ''),
    );
    if (format !== 'properties') return translated;
    const lines = translated
      .split('\n')
      .filter((line) => !line.startsWith('|') || this.random(8) > 0)
      .map((line) =>
        /^\|.*\|label\|.* = $/.test(line) && this.random(2) === 0
          ? line + this.word('B', 'de')
          : line,
      );
    return (this.random(2) === 0 ? lines : lines.toReversed()).join('\n');
  }

  private receive(folder: string): void {
    const sent = this.outbox[this.random(Math.max(1, this.outbox.length))];
    if (!sent) return;
    const text = this.returned(sent);
    const known = this.words(folder);
    writeFileSync(path.join(folder, 'back.txt'), text);
    const take = this.random(3) === 0 ? ['--take', oneOf(this.random, ['returned', 'kept'])] : [];
    const { out, err } = this.keeping(folder, [
      ...['import', 'back.txt', '--format', sent.format, '--locale', 'de', '--slip', 'slip.txt'],
      ...take,
    ]);
    const slip = existsSync(path.join(folder, 'slip.txt')) ? textOf(folder, 'slip.txt') : '';
    const found = new Set([...this.words(folder), ...(`${out}${err}${slip}`.match(WORD) ?? [])]);
    const fresh = (text.match(/\b[TB]\d+de\b/g) ?? []).filter(
      (word) => !sent.text.includes(word) && !known.has(word),
    );
    // Who takes what is here says so of all that came.
    if (!take.includes('kept'))
      expect([this.log, fresh.filter((word) => !found.has(word))]).toEqual([this.log, []]);
  }

  private decide(folder: string, file: string): void {
    const text = textOf(folder, file).replace(
      /^<{7}[^\n]*\n([^]*?)^={7}\n([^]*?)^>{7}[^\n]*\n/gm,
      (_, ours: string, theirs: string) => (this.random(2) === 0 ? ours : theirs),
    );
    writeFileSync(path.join(folder, file), text);
  }

  private commit(folder: string): void {
    git(folder, 'add', 'messages', 'rules');
    if (git(folder, 'status', '--porcelain', '-uno') !== '') git(folder, 'commit', '-qm', 'x');
  }

  private sync(folder: string): void {
    this.log.push(`${this.folders.indexOf(folder)} sync`);
    this.commit(folder);
    git(folder, 'fetch', '-q', 'origin');
    const [ours, theirs] = ['HEAD', 'origin/main'];
    const base = git(folder, 'merge-base', ours, theirs).trim();
    const [old, own, other] = [base, ours, theirs].map((at) => this.wordsAt(folder, at));
    let isClean = true;
    try {
      git(folder, 'merge', '-q', '-m', 'm', theirs);
    } catch {
      isClean = false;
    }
    const joined = this.wordsAt(folder);
    const wanted = [...new Set([...(own ?? []), ...(other ?? [])])].filter(
      (word) => !old?.has(word) || (own?.has(word) && other?.has(word)),
    );
    expect([this.log, wanted.filter((word) => !joined.has(word))]).toEqual([this.log, []]);
    if (!isClean) {
      const open = git(folder, 'diff', '--name-only', '--diff-filter=U').trim().split('\n');
      for (const file of open)
        if (file.endsWith('.json')) this.decide(folder, file);
        else git(folder, 'checkout', '--ours', file);
      git(folder, 'add', ...open);
      git(folder, 'commit', '-qm', 'm');
    }
    git(folder, 'push', '-q', 'origin', 'HEAD:main');
  }

  /** Holds what `check` tells of German against what clients read. */
  private judge(folder: string): void {
    const { out } = zeitwort(['check', '--format', 'json', '--locale', 'de'], folder);
    const { coverage } = JSON.parse(out) as {
      coverage: { path: string; rule: string; locales: { de: string } }[];
    };
    const rows = coverage.filter(({ rule }) => RULES.includes(rule));
    const at = (row: { path: string }): string => row.path.replace('[*]', '[0]');
    const violations = rows.map((row) => ({ path: at(row), rule: row.rule }));
    const body = JSON.parse(
      zeitwort(
        ['render', '-', '--locale', 'de'],
        folder,
        JSON.stringify({ form: 'visit', violations }),
      ).out,
    ) as { errors: { detail: string; pointer: string; code: string }[] };
    const written = textOf(folder, 'messages/de.json');
    for (const row of rows) {
      const pointer = `#/${at(row).replace(/\[0\]\./, '/0/')}`;
      const said = body.errors.find(
        (one) => one.pointer === pointer && one.code === row.rule,
      )?.detail;
      const [word] = /\bT\d+(?:en|de)\b/.exec(said ?? '') ?? [];
      const may =
        word === undefined
          ? ['starter']
          : word.endsWith('de')
            ? ['written']
            : ['fallback', 'draft', ...(written.includes(word) ? ['written'] : [])];
      expect([this.log, row, said, may.includes(row.locales.de)]).toEqual([
        this.log,
        row,
        said,
        true,
      ]);
    }
  }

  step(): void {
    const folder = oneOf(this.random, this.folders);
    oneOf<() => void>(this.random, [
      () => this.write(folder),
      () => this.write(folder),
      () => this.send(folder),
      () => this.receive(folder),
      () => this.receive(folder),
      () => void this.keeping(folder, ['fill', '--locale', 'de']),
      () =>
        void this.keeping(folder, [
          'review',
          '--locale',
          'de',
          '--mark',
          oneOf(this.random, ['translated', 'reviewed', 'initial']),
        ]),
      () => void this.keeping(folder, ['fix', '--sort', 'names']),
      () => {
        const [from, to] = this.fields(folder)[1]?.startsWith('people')
          ? ['people', 'guests']
          : ['guests', 'people'];
        this.keeping(folder, ['rename', 'field', from, to]);
      },
      () => this.sync(folder),
      () => this.sync(folder),
    ])();
    if (this.random(4) === 0) this.judge(folder);
  }
}

test('loses no text that is not listed, and check tells what clients read', () => {
  const random = randomFrom(SEED);
  const team = new Team(random);
  for (let round = 0; round < 15 * ROUNDS; round++) team.step();
});
