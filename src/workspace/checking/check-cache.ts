import { createHash } from 'node:crypto';
import { statSync } from 'node:fs';
import path from 'node:path';
import type { CheckResult, CoverageLine } from '../../core/check/result.js';
import type { Coverage } from '../../core/check/coverage.js';
import type { Finding } from '../../core/finding.js';
import type { Locale } from '../../core/locale/tag.js';
import { CONFIG_FILE } from '../config.js';
import type { WorkspaceFolder } from '../folder.js';
import { programFile } from '../installed.js';
import { readBytes, reviewFileOf } from '../files.js';
import { readPlain, scratchIfOurs, scratchOf } from '../scratch.js';
import { replaceFile } from '../write.js';

/** What a kept result was made from; one made from anything else is not used. */
interface Made {
  readonly by: string;
  readonly asked: string;
  /** Each file read, and the hash of its bytes (empty where it was not there). */
  readonly files: readonly (readonly [string, string])[];
}

/** A result as it is kept: states of coverage once, with the rows that have them. */
interface Kept {
  readonly states: readonly (readonly (readonly [Locale, Coverage])[])[];
  readonly rows: readonly (readonly [string, string, CoverageLine['in'], string, number])[];
  readonly coverage: number;
  readonly findings: readonly Finding[];
}

const hashOf = (bytes: Buffer | string): string => createHash('sha256').update(bytes).digest('hex');

function hashOfFile(file: string): string {
  try {
    return hashOf(readBytes(file, file, 'plain'));
  } catch {
    return '';
  }
}

/** Another version, or another build of this one, may find other things. */
function maker(): string {
  const file = programFile();
  try {
    const { size, mtimeMs } = statSync(file);
    return `1 ${size} ${mtimeMs} ${process.version}`;
  } catch {
    return '';
  }
}

/** The files that the settings name, in order; what schemas refer to is known only once they were read. */
function namedFiles(folder: WorkspaceFolder): string[] {
  const { rules, texts, tables } = folder.config;
  const catalogs = folder.files(texts);
  return [CONFIG_FILE, ...folder.files(rules), ...catalogs, ...catalogs.map(reviewFileOf), ...Object.values(tables)];
}

function madeFrom(folder: WorkspaceFolder, files: readonly string[], asked: string): Made {
  return {
    by: maker(),
    asked,
    files: [...new Set(files)].map((file) => [file, hashOfFile(path.join(folder.folder, file))] as const),
  };
}

function pack({ matrix, coverage, findings }: CheckResult): Kept {
  const known = new Map<CoverageLine['locales'], number>();
  const rows = matrix.map(({ form, path: at, in: place, code, locales }) => {
    let state = known.get(locales);
    if (state === undefined) known.set(locales, (state = known.size));
    return [form, at, place, code, state] as const;
  });
  return { states: [...known.keys()].map((locales) => [...locales]), rows, coverage, findings };
}

function unpack({ states, rows, coverage, findings }: Kept): CheckResult {
  const maps = states.map((state) => new Map(state));
  const none: CoverageLine['locales'] = new Map();
  const matrix = rows.map(([form, at, place, code, state]) => ({
    form,
    path: at,
    in: place,
    code,
    locales: maps[state] ?? none,
  }));
  return { matrix, coverage, findings };
}

/** The result of the last check of a workspace, kept in its scratch folder as long as no byte of what it read changed. */
export class CheckCache {
  private readonly name = 'check.json';

  constructor(
    private readonly folder: WorkspaceFolder,
    /** What else the result hangs on: the locales and kinds asked for. */
    private readonly asked: string,
  ) {}

  /** The kept result, if all that it was made from is still the same. */
  read(): CheckResult | undefined {
    let head: Made & { sum: string };
    let body: string;
    try {
      const scratch = scratchIfOurs(this.folder.folder);
      // Not through a link: it may have come with the workspace.
      const text = scratch === undefined ? '' : (readPlain(path.join(scratch, this.name))?.toString('utf8') ?? '');
      const end = text.indexOf('\n');
      head = JSON.parse(text.slice(0, end)) as Made & { sum: string };
      body = text.slice(end + 1);
      // Whatever happened to the file, a crash or another hand: only what was written whole is believed.
      if (hashOf(body) !== head.sum || head.by !== maker() || head.asked !== this.asked || head.by === '') return undefined;
      const named = new Set(namedFiles(this.folder));
      const before = new Map(head.files);
      if ([...named].some((file) => !before.has(file))) return undefined;
      // What is kept is believed nothing before it is told true: no file elsewhere is looked at for its sake.
      const isElsewhere = (file: string): boolean => path.isAbsolute(file) || file.split(/[/\\]/).includes('..');
      if ([...before.keys()].some((file) => isElsewhere(file) && !named.has(file))) return undefined;
      for (const [file, hash] of before) if (hashOfFile(path.join(this.folder.folder, file)) !== hash) return undefined;
      return unpack(JSON.parse(body) as Kept);
    } catch {
      return undefined;
    }
  }

  /** Keeps a result; where the folder does not let us, the next check is made anew, and that is all. */
  write(result: CheckResult, filesRead: Iterable<string>): void {
    const read = [...filesRead].filter((file) => !file.startsWith('starter/'));
    const body = JSON.stringify(pack(result));
    try {
      const made = madeFrom(this.folder, [...namedFiles(this.folder), ...read], this.asked);
      const file = path.join(scratchOf(this.folder.folder), this.name);
      replaceFile(file, `${JSON.stringify({ ...made, sum: hashOf(body) })}\n${body}`);
    } catch {
      // A folder that cannot be written to is checked all the same.
    }
  }
}
