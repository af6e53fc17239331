import { getOrMake } from '../../core/base/get-or-make.js';
import { createHash } from 'node:crypto';
import { statSync } from 'node:fs';
import path from 'node:path';
import type { CheckResult, CoverageLine } from '../../core/check/subject/result.js';
import type { Coverage } from '../../core/check/subject/coverage.js';
import type { Finding } from '../../core/finding.js';
import type { Locale } from '../../core/locale/tag.js';
import { CONFIG_FILE } from '../disk/find.js';
import type { WorkspaceFolder } from '../reading/folder.js';
import { programFile } from '../disk/installed.js';
import { readBytes, reviewFileOf } from '../disk/files.js';
import { readPlain } from '../disk/scratch.js';
import { keep, keptFile } from '../disk/user-cache.js';

/** The inputs of a kept result; a result of other inputs is not used. */
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
export function maker(): string {
  const file = programFile();
  try {
    const { size, mtimeMs } = statSync(file);
    return `1 ${size} ${mtimeMs} ${process.version}`;
  } catch {
    return '';
  }
}

/**
 * The files that the settings name, in order; what schemas refer to is known only once they were
 * read.
 */
function namedFiles(folder: WorkspaceFolder): string[] {
  const { rules, texts, terms, tables } = folder.config;
  const catalogs = folder.files(texts);
  const { house } = folder;
  return [
    CONFIG_FILE,
    ...(house
      ? [house.settingsFile, ...house.files([...house.config.texts, ...house.config.terms])]
      : []),
    ...folder.files(rules),
    ...folder.files(terms),
    ...catalogs,
    ...catalogs.map(reviewFileOf),
    ...Object.values(tables),
  ];
}

function madeFrom(folder: WorkspaceFolder, files: readonly string[], asked: string): Made {
  return {
    by: maker(),
    asked,
    files: [...new Set(files)].map(
      (file) => [file, hashOfFile(path.join(folder.folder, file))] as const,
    ),
  };
}

function pack({ matrix, coverage, findings }: CheckResult): Kept {
  const known = new Map<CoverageLine['locales'], number>();
  const rows = matrix.map(({ form, path: at, in: part, code, locales }) => {
    const state = getOrMake(known, locales, () => known.size);
    return [form, at, part, code, state] as const;
  });
  return { states: [...known.keys()].map((locales) => [...locales]), rows, coverage, findings };
}

function unpack({ states, rows, coverage, findings }: Kept): CheckResult {
  const maps = states.map((state) => new Map(state));
  const none: CoverageLine['locales'] = new Map();
  const matrix = rows.map(([form, at, part, code, state]) => ({
    form,
    path: at,
    in: part,
    code,
    locales: maps[state] ?? none,
  }));
  return { matrix, coverage, findings };
}

/**
 * The result of the last check of a workspace, kept in the user's own cache folder as long as no
 * byte of what it read changed.
 */
export class CheckCache {
  /** Where it is kept; nothing where there is no place that nobody else can write to. */
  private readonly file: string | undefined;

  constructor(
    private readonly folder: WorkspaceFolder,
    /** Further inputs: the locales and kinds asked for. */
    private readonly asked: string,
  ) {
    this.file = keptFile(folder.folder, 'check');
  }

  /** The kept result, if all that it was made from is still the same. */
  read(): CheckResult | undefined {
    let head: Made & { sum: string };
    let body: string;
    try {
      const text = this.file === undefined ? '' : (readPlain(this.file)?.toString('utf8') ?? '');
      const end = text.indexOf('\n');
      head = JSON.parse(text.slice(0, end)) as Made & { sum: string };
      body = text.slice(end + 1);
      // Whatever happened to the file, a crash or another hand: only what was written whole is
      // believed.
      if (
        hashOf(body) !== head.sum ||
        head.by !== maker() ||
        head.asked !== this.asked ||
        head.by === ''
      )
        return undefined;
      const named = new Set(namedFiles(this.folder));
      const before = new Map(head.files);
      if ([...named].some((file) => !before.has(file))) return undefined;
      for (const [file, hash] of before)
        if (hashOfFile(path.join(this.folder.folder, file)) !== hash) return undefined;
      return unpack(JSON.parse(body) as Kept);
    } catch {
      return undefined;
    }
  }

  /** Keeps a result. */
  write(result: CheckResult, filesRead: Iterable<string>): void {
    if (this.file === undefined) return;
    const read = [...filesRead].filter((file) => !file.startsWith('starter/'));
    const body = JSON.stringify(pack(result));
    try {
      const made = madeFrom(this.folder, [...namedFiles(this.folder), ...read], this.asked);
      keep(this.file, `${JSON.stringify({ ...made, sum: hashOf(body) })}\n${body}`);
    } catch {
      // Where nothing can be kept, the next check is made anew.
    }
  }
}
