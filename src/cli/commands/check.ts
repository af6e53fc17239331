import path from 'node:path';
import { Option, type Command } from 'commander';
import { streams } from '../../exchange/streams.js';
import type { CheckResult } from '../../core/check/subject/result.js';
import { COVERAGES, coveredShare } from '../../core/check/subject/coverage.js';
import type { Finding } from '../../core/finding.js';
import { kindsOf } from '../shared/kinds.js';
import type { Locale } from '../../core/locale/tag.js';
import { CONFIG_FILE } from '../../workspace/disk/find.js';
import { checkFolder, WorkspaceCheck } from '../../workspace/checking/check-workspace.js';
import { complaint } from '../../workspace/disk/complaint.js';
import type { Observed } from '../../core/check/observed.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { tellFailure } from '../shared/failure.js';
import type { WorkspaceFolder } from '../../workspace/reading/folder.js';
import {
  collect,
  historyOption,
  localesOf,
  openFolder,
  withWorkspace,
  type WorkspaceOptions,
} from '../shared/options.js';
import { split } from '../shared/pairs.js';
import { checkJson } from '../print/check-json.js';
import { checkText, percent } from '../print/check-text.js';
import { progressBar } from '../print/progress.js';
import { jsonPieces } from '../print/json-stream.js';
import { counted, lines, paint, print, say, writeAll } from '../print/out.js';

declare const ZEITWORT_VERSION: string;

/** From which findings on the exit code is 1, the least grave first. */
const FAIL_ON = ['info', 'warning', 'error', 'never'] as const;

interface Options extends WorkspaceOptions {
  readonly locale?: string;
  readonly format: 'text' | 'json' | 'sarif' | 'junit' | 'markdown';
  readonly history: number;
  readonly failOn: (typeof FAIL_ON)[number];
  readonly minCoverage: readonly string[];
  readonly baseline?: string;
  readonly writeBaseline?: boolean;
  readonly kind: readonly string[];
  readonly skipKind: readonly string[];
  readonly changed?: string;
  readonly staged?: boolean;
  readonly files: readonly string[];
  readonly cache: boolean;
  readonly observed?: readonly string[];
  readonly tally?: string;
  readonly watch?: boolean;
  readonly all?: boolean;
}

async function chosen(
  findings: readonly Finding[],
  options: Options,
  workspace: WorkspaceFolder,
): Promise<readonly Finding[]> {
  const only = kindsOf(options.kind, '--kind');
  const skipped = kindsOf(options.skipKind, '--skip-kind');
  const kept = findings.filter(
    ({ kind }) => (only.length === 0 || only.includes(kind)) && !skipped.includes(kind),
  );
  if (options.changed === undefined) return kept;
  const { findingsIn } = await import('../../workspace/checking/changed.js');
  return findingsIn(options.changed, kept, workspace);
}

/**
 * The findings that the baseline does not know; with `--write-baseline` all found are known from
 * now on.
 */
async function unknownOf(
  found: readonly Finding[],
  { baseline, writeBaseline }: Options,
): Promise<readonly Finding[]> {
  if (baseline === undefined) return found;
  const {
    readBaseline,
    unknownTo,
    writeBaseline: write,
  } = await import('../../workspace/checking/baseline.js');
  if (writeBaseline) write(baseline, found);
  return unknownTo(readBaseline(baseline), found);
}

/** Returns a sentence for each locale below the required coverage. */
function shortfalls(
  { matrix, coverage }: CheckResult,
  wanted: readonly string[],
  workspace: WorkspaceFolder,
): string[] {
  return wanted.flatMap((text) => {
    const byLocale = text.includes('=');
    const [tag, number] = byLocale
      ? split(text, '=', '--min-coverage de=90')
      : (['', text] as const);
    const least = Number(number);
    if (!/^\d+(\.\d+)?$/.test(number) || least > 100)
      throw complaint('wrong-use', [
        `--min-coverage takes a percentage, such as 90 or de=90, not "${text}"`,
      ]);
    const locale: Locale | undefined = byLocale ? workspace.locale(tag) : undefined;
    const share = locale === undefined ? coverage : coveredShare(matrix, [locale]);
    if (share * 100 >= least) return [];
    return [
      `the coverage${locale === undefined ? '' : ` of ${locale}`} is ${percent(share)}, and ${number} % is asked for`,
    ];
  });
}

async function show(
  result: CheckResult,
  locales: readonly Locale[],
  workspace: WorkspaceFolder,
  { format, all, history }: Options,
  seen: Seen | undefined,
  hidden: number,
): Promise<void> {
  switch (format) {
    case 'text':
      if (seen) {
        const { observedText } = await import('../print/check-observed.js');
        print(observedText(seen.observed, seen.total, locales));
      }
      return writeAll(lines(checkText(result, locales, workspace, { all, hidden })), 'people');
    case 'json':
      return writeJson({
        ...checkJson(result, locales, workspace),
        ...(seen ? { observed: await observedIn(seen) } : {}),
        ...(history > 0 ? { history: await historyJson(workspace, history) } : {}),
      });
    case 'sarif': {
      const { checkSarif } = await import('../print/check-sarif.js');
      return writeJson(checkSarif(result, workspace, ZEITWORT_VERSION));
    }
    case 'junit': {
      const { checkJunit } = await import('../print/check-junit.js');
      return writeAll(lines(checkJunit(result, workspace)));
    }
    case 'markdown': {
      const { checkMarkdown } = await import('../print/check-markdown.js');
      return writeAll(lines(checkMarkdown(result, locales, workspace)));
    }
  }
}

/** Returns the observed counts; the module that formats them is loaded only where it is needed. */
async function observedIn({ observed }: Seen): Promise<object> {
  const { observedJson } = await import('../print/check-observed.js');
  return observedJson(observed);
}

/** Coverage at the last commits, with the counts by their names. */
async function historyJson(folder: WorkspaceFolder, most: number): Promise<object[]> {
  const { coverageHistory } = await import('../../workspace/checking/history.js');
  const { Workspace } = await import('../../workspace/reading/workspace.js');
  return coverageHistory(Workspace.in(folder), most).map(({ commit, time, locales }) => ({
    commit,
    time: time === undefined ? undefined : new Date(time * 1000).toISOString(),
    locales: Object.fromEntries(
      Object.entries(locales).map(([locale, counts]) => [
        locale,
        Object.fromEntries(COVERAGES.map((name, at) => [name, counts[at] ?? 0])),
      ]),
    ),
  }));
}

const writeJson = async (value: unknown): Promise<void> => {
  await writeAll(jsonPieces(value));
  await writeAll(['\n']);
};

/** Prints a hint that helps with many of the findings, where there is one. */
function hint(findings: readonly Finding[], { config: { original } }: WorkspaceFolder): void {
  const unnamed = findings.filter(
    ({ kind, locale }) => kind === 'missing-label' && locale === original,
  ).length;
  if (unnamed > 1)
    print(
      `Next: zeitwort fill --labels drafts the ${unnamed} labels that ${original} lacks, out of names.`,
    );
}

/** The findings in files that are named; all where none is. */
function inFiles(
  findings: readonly Finding[],
  files: readonly string[],
  folder: WorkspaceFolder,
): readonly Finding[] {
  if (files.length === 0) return findings;
  const named = new Set(files.map((file) => path.resolve(file)));
  return findings.filter(
    ({ spot }) => spot && named.has(path.resolve(folder.shownFrom, folder.shown(spot.file))),
  );
}

/**
 * Checks what git has staged, and reports all findings that the next commit would add, in any file.
 */
async function checkIndex(options: Options, folder: WorkspaceFolder): Promise<void> {
  const { checkStaged } = await import('../../workspace/checking/staged.js');
  const ofStaged = (staged: WorkspaceFolder): readonly Locale[] =>
    localesOf(staged, options.locale);
  const { result, folder: staged } = await checkStaged(folder, ofStaged, {
    asked: kindsOf(options.kind, '--kind'),
  });
  await reported(result, ofStaged(staged), staged, options);
}

/** One check, printed; the exit code is set. */
async function checkOnce(options: Options, folder: WorkspaceFolder): Promise<void> {
  const locales = localesOf(folder, options.locale);
  const asked = kindsOf(options.kind, '--kind');
  const progress = await progressBar('texts');
  const result = await checkFolder(folder, {
    locales,
    asked,
    keep: options.cache,
    progress: progress.show,
  });
  progress.end();
  await toldOfFiles(result, locales, folder, options);
}

async function toldOfFiles(
  result: CheckResult,
  locales: readonly Locale[],
  folder: WorkspaceFolder,
  options: Options,
): Promise<void> {
  const findings = inFiles(result.findings, options.files, folder);
  await reported({ ...result, findings }, locales, folder, options);
}

/** Prints a result, as far as it is asked for; the exit code is set. */
async function reported(
  all: CheckResult,
  locales: readonly Locale[],
  folder: WorkspaceFolder,
  options: Options,
): Promise<void> {
  const found = await chosen(all.findings, options, folder);
  const findings = await unknownOf(found, options);
  const seen =
    options.observed === undefined ? undefined : await observe(options.observed, folder, all);
  const result = seen ? { ...all, matrix: seen.matrix } : all;
  await show(
    { ...result, findings },
    locales,
    folder,
    options,
    seen,
    found.length - findings.length,
  );
  if (options.format === 'text') hint(findings, folder);
  const short = shortfalls(result, options.minCoverage, folder);
  for (const sentence of short) say(sentence);
  const least = FAIL_ON.indexOf(options.failOn);
  const grave = findings.some(({ severity }) => FAIL_ON.indexOf(severity) >= least);
  if (short.length > 0 || grave) process.exitCode = 1;
}

interface Seen {
  readonly observed: readonly Observed[];
  readonly total: number;
  readonly matrix: CheckResult['matrix'];
}

async function observe(
  files: readonly string[],
  folder: WorkspaceFolder,
  { matrix }: CheckResult,
): Promise<Seen> {
  const [{ readObserved }, { Workspace: Opened }] = await Promise.all([
    import('../../workspace/checking/observing.js'),
    import('../../workspace/reading/workspace.js'),
  ]);
  const observations = await readObserved(files, Opened.open(folder.folder, folder.shownFrom));
  return {
    observed: observations.sorted(matrix),
    total: observations.total,
    matrix: observations.order(matrix),
  };
}

/** Writes what was observed as a shorter log of the same. */
async function tallyObserved(
  files: readonly string[],
  out: string,
  { folder, shownFrom }: WorkspaceFolder,
): Promise<void> {
  const [{ readObserved }, { Workspace: Opened }, { writeWhole }] = await Promise.all([
    import('../../workspace/checking/observing.js'),
    import('../../workspace/reading/workspace.js'),
    import('../../workspace/disk/write.js'),
  ]);
  const observations = await readObserved(files, Opened.open(folder, shownFrom));
  const lines = observations.tally();
  const text = lines.map((line) => `${JSON.stringify(line)}\n`).join('');
  if (out === '-') streams().stdout.write(text);
  else {
    writeWhole(out, text);
    print(
      `Wrote ${out}: ${counted(observations.total, 'violation')} of ${counted(lines.length, 'rule')}`,
    );
  }
}

/** Wipes the terminal, what scrolled out of it too; elsewhere a line sets the runs apart. */
function wipe(): void {
  const { stdout } = streams();
  stdout.write(stdout.isTTY ? '\x1b[2J\x1b[3J\x1b[H' : `\n--- ${new Date().toISOString()} ---\n`);
}

/**
 * Checks again after each save, reading only changed files; a broken file is reported, and the next
 * save ends that.
 */
async function watchOn(options: Options): Promise<void> {
  const [{ repeat }, { Workspace: Opened }] = await Promise.all([
    import('../shared/watching.js'),
    import('../../workspace/reading/workspace.js'),
  ]);
  const { folder, shownFrom, watched } = openFolder(options);
  let open: Workspace | undefined;
  let check: WorkspaceCheck | undefined;
  const pending = new Set<string>();
  await repeat(folder, watched, async (changed) => {
    for (const file of changed) pending.add(file);
    wipe();
    try {
      open = open ? open.reopen({ changed: pending }) : Opened.open(folder, shownFrom);
      const locales = localesOf(open, options.locale);
      // Which languages there are is in the settings.
      if (pending.has(CONFIG_FILE)) check = undefined;
      const result = await (check ??= new WorkspaceCheck(locales, {
        asked: kindsOf(options.kind, '--kind'),
      })).next(open, pending);
      pending.clear();
      await toldOfFiles(result, locales, open, options);
    } catch (error) {
      tellFailure(error, false);
    }
    print(paint.dim('Watching; save a file to check again, press Ctrl+C to stop.'));
  });
  process.exitCode = 0;
}

async function check(files: readonly string[], given: Omit<Options, 'files'>): Promise<void> {
  const options = { ...given, files };
  if (options.writeBaseline && options.baseline === undefined)
    throw complaint('wrong-use', ['--write-baseline goes with --baseline FILE']);
  if (options.history > 0 && options.format !== 'json')
    throw complaint('wrong-use', ['--history goes with --format json; "report" draws it']);
  if (options.tally !== undefined) {
    if (options.observed === undefined)
      throw complaint('wrong-use', ['--tally goes with --observed FILE']);
    await tallyObserved(options.observed, options.tally, openFolder(options));
    return;
  }
  if (
    options.staged &&
    (options.watch || options.changed !== undefined || options.observed !== undefined)
  )
    throw complaint('wrong-use', [
      '--staged looks at what git has staged; --watch, --changed and --observed at the work tree',
    ]);
  if (options.watch) await watchOn(options);
  else if (options.staged) await checkIndex(options, openFolder(options));
  else await checkOnce(options, openFolder(options));
}

export function define(command: Command): void {
  withWorkspace(command)
    .argument('[files...]', 'print only findings in these files')
    .option('--locale <tag>', 'check this language only')
    .addOption(
      new Option('--format <format>', 'how to print')
        .choices(['text', 'json', 'sarif', 'junit', 'markdown'])
        .default('text'),
    )
    .addOption(
      new Option('--fail-on <severity>', 'the least severity that makes the exit code 1')
        .choices(FAIL_ON)
        .default('error'),
    )
    .option(
      '--min-coverage <percent>',
      'exit with 1 below this coverage, of all locales or of one: 90, de=80 (repeatable)',
      collect,
      [],
    )
    .addOption(historyOption().default(0))
    .option('--baseline <file>', 'a file of known findings, which are not reported')
    .option('--write-baseline', 'write all current findings into the baseline')
    .option(
      '--kind <kinds>',
      'only these kinds of findings, separated by commas (repeatable)',
      collect,
      [],
    )
    .option('--skip-kind <kinds>', 'all but these kinds', collect, [])
    .option('--changed <revision>', 'only what a git revision or range touched, such as main..HEAD')
    .option(
      '--staged',
      'check what git has staged, and print the findings that the next commit would add, in any file',
    )
    .option(
      '--observed <files...>',
      'logs or metrics of production: list the violations that occurred, most frequent first',
    )
    .option(
      '--tally <file>',
      'with --observed: write the counts into a file for a later --observed, and check nothing',
    )
    .option('--all', 'print each finding, file by file; do not group them by cause')
    .option('--watch', 'check again after each save')
    .option('--no-cache', 'do not use or keep the result of an earlier check')
    .addHelpText(
      'after',
      '\nThe exit code is 1 where an error was found, unless --fail-on says otherwise.',
    )
    .action(check);
}
