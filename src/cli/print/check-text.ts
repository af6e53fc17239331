import { getOrMake } from '../../core/base/get-or-make.js';
import { causesOf, type Cause } from '../../core/check/subject/causes.js';
import type { CheckResult, CoverageLine } from '../../core/check/subject/result.js';
import { coveredShare, isCovered } from '../../core/check/subject/coverage.js';
import type { Finding, Severity } from '../../core/finding.js';
import type { Locale } from '../../core/locale/tag.js';
import type { FileLocation } from '../../workspace/disk/complaint.js';
import type { WorkspaceFolder } from '../../workspace/reading/folder.js';
import { countOf } from './check-json.js';
import { counted, paint, width } from './out.js';
import { cut, table, widthOf, wrap, type Column } from './table.js';

const COLOURS: Record<Severity, (text: string) => string> = {
  error: paint.red,
  warning: paint.yellow,
  info: paint.cyan,
};

/** Hundredths, never rounded up to all of it. */
export const percent = (share: number): string => `${Math.floor(share * 100)} %`;

/**
 * How many rules of a field have a text of its own, the starter's, none: `2+1` or `2+0 −1`; with
 * the house's between, `2+1+1`.
 */
function cell(rows: readonly CoverageLine[], locale: Locale): string {
  const states = rows.map(({ locales }) => locales.get(locale));
  const own = states.filter((state) => state === 'written').length;
  const starter = states.filter((state) => state === 'starter').length;
  const lacking = states.filter((state) => !isCovered(state)).length;
  const house = states.filter((state) => state === 'house').length;
  const text = house === 0 ? `${own}+${starter}` : `${own}+${house}+${starter}`;
  return lacking === 0 ? text : `${text} ${paint.red(`−${lacking}`)}`;
}

function groups<T>(items: readonly T[], key: (item: T) => string): Map<string, T[]> {
  const found = new Map<string, T[]>();
  for (const item of items) {
    const id = key(item);
    getOrMake(found, id, () => []).push(item);
  }
  return found;
}

/** More languages than this make a table that fits no window; the bars below show as much. */
const MOST_COLUMNS = 14;
/**
 * With more fields than this the table has the forms, and those fields only that lack something.
 */
const MOST_FIELDS = 80;
const MOST_LACKING = 40;

const lacks = (rows: readonly CoverageLine[], locales: readonly Locale[]): boolean =>
  rows.some(({ locales: states }) => locales.some((locale) => !isCovered(states.get(locale))));

const fieldOf = (line: CoverageLine): string => `${line.in} ${line.path}`;

function haveFewFields(matrix: readonly CoverageLine[]): boolean {
  const fields = new Set<string>();
  for (const line of matrix)
    if (fields.add(`${line.form} ${fieldOf(line)}`).size > MOST_FIELDS) return false;
  return true;
}

function coverageTable(matrix: readonly CoverageLine[], locales: readonly Locale[]): string {
  const columns: Column[] = [
    { head: paint.dim('form and field') },
    ...locales.map((locale): Column => ({ head: paint.dim(locale), align: 'right' })),
  ];
  const rows: string[][] = [];
  const whole = haveFewFields(matrix);
  let lacking = 0;
  for (const [form, ofForm] of groups(matrix, (line) => line.form)) {
    rows.push([paint.bold(form), ...locales.map((locale) => (whole ? '' : cell(ofForm, locale)))]);
    if (!whole && !lacks(ofForm, locales)) continue;
    for (const ofField of groups(ofForm, fieldOf).values()) {
      if (!whole && (!lacks(ofField, locales) || ++lacking > MOST_LACKING)) continue;
      const field = ofField[0];
      const name = field
        ? (field.path || 'the body') + (field.in === 'body' ? '' : ` (${field.in})`)
        : '';
      rows.push([`  ${name}`, ...locales.map((locale) => cell(ofField, locale))]);
    }
  }
  rows.push([
    paint.bold('covered'),
    ...locales.map((locale) => paint.bold(percent(coveredShare(matrix, [locale])))),
  ]);
  return table(columns, rows);
}

/**
 * The most further places of one cause that are printed, and that are looked for in their files.
 */
const MOST_PLACES = 4;
const MOST_LOOKED_AT = 200;

/** A finding and where it is. */
interface Placed {
  readonly finding: Finding;
  readonly location: FileLocation | undefined;
}

/** The line of the file that a finding is about, cut to the window, and a caret under the place. */
function excerpt(
  { finding: { spot }, location: location }: Placed,
  workspace: WorkspaceFolder,
): string[] {
  const written = spot && location?.line ? workspace.lineText(spot.file, location.line) : undefined;
  if (!location?.line || !location.column || written === undefined) return [];
  const number = String(location.line);
  const room = Math.max(20, width() - number.length - 6);
  // What stands far to the right is moved into the window; a line without end is not measured for
  // that.
  const isFar = location.column > 4 * room || widthOf(written.slice(0, location.column)) > room;
  const from = isFar ? Math.max(0, location.column - Math.floor(room / 2)) : 0;
  const line = written.slice(from, from + 3 * room).replaceAll('\t', ' ');
  const shown = cut(line, room);
  const indent = ' '.repeat(widthOf(line.slice(0, location.column - 1 - from)));
  return [
    `  ${paint.dim(`${number} |`)} ${shown}`,
    `  ${paint.dim(`${' '.repeat(number.length)} |`)} ${indent}${paint.red('^')}`,
  ];
}

const whereOf = (location: FileLocation | undefined): string =>
  location
    ? [location.file, location.line, location.column].filter((part) => part !== undefined).join(':')
    : 'the workspace';

/** @param others places of the same */
function findingLines(
  placed: Placed,
  message: string,
  others: readonly string[],
  workspace: WorkspaceFolder,
): string {
  const { finding, location: location } = placed;
  const { kind, severity } = finding;
  const sentence = wrap(message, width() - 3).join('\n  ');
  const more =
    others.length > MOST_PLACES
      ? [...others.slice(0, MOST_PLACES), `${others.length - MOST_PLACES} more`]
      : others;
  return [
    `${whereOf(location)}  ${COLOURS[severity](severity)} ${paint.bold(kind)}`,
    `  ${sentence}`,
    ...excerpt(placed, workspace),
    ...(more.length === 0
      ? []
      : [`  ${paint.dim(wrap(`also at ${more.join(', ')}`, width() - 3).join('\n  '))}`]),
  ].join('\n');
}

/** Findings file by file, in the order of the places in each. */
function* inFileOrder(findings: readonly Finding[], workspace: WorkspaceFolder): Generator<Placed> {
  for (const ofFile of groups(findings, ({ spot }) => spot?.file ?? '').values()) {
    const placed = ofFile.map((finding): Placed => ({
      finding,
      location: finding.spot && workspace.place(finding.spot),
    }));
    yield* placed.sort((one, other) => (one.location?.line ?? 0) - (other.location?.line ?? 0));
  }
}

/** Returns the lines about findings of one cause: the first place, and the others. */
function causeLines({ finding, message, all }: Cause, workspace: WorkspaceFolder): string {
  const location = finding.spot && workspace.place(finding.spot);
  const own = whereOf(location);
  const others = new Set(
    all.slice(0, MOST_LOOKED_AT).map(({ spot }) => whereOf(spot && workspace.place(spot))),
  );
  others.delete(own);
  return findingLines({ finding, location: location }, message, [...others], workspace);
}

/** With more causes than this, the kinds are counted, and the gravest causes are printed. */
const MOST_CAUSES = 25;
/**
 * With more causes than this, as in an old project, the output says where to begin, and fits a
 * screen.
 */
const OVERWHELMING = 100;
/** So many are named to begin with. */
const FIRST = 3;
const MOST_KINDS = 12;
const MOST_BARS = 8;

/** How often each kind was found, the gravest first. */
function summary(findings: readonly Finding[], most: number): string {
  const rows = [
    ...groups(findings, ({ severity, kind }) => `${severity} ${kind}`).values(),
  ].flatMap((all) => {
    const [first] = all;
    return first ? [{ first, count: all.length }] : [];
  });
  const severities = Object.keys(COLOURS);
  rows.sort(
    (one, other) =>
      severities.indexOf(one.first.severity) - severities.indexOf(other.first.severity) ||
      other.count - one.count,
  );
  const columns: Column[] = [{ head: '', align: 'right' }, { head: '' }, { head: '' }];
  const shown = rows.length > most ? rows.slice(0, most - 1) : rows;
  const lines = shown.map(({ first: { severity, kind }, count }) => [
    String(count),
    COLOURS[severity](severity),
    kind,
  ]);
  const rest = rows.slice(shown.length);
  const left = rest.reduce((sum, { count }) => sum + count, 0);
  return table(
    columns,
    rest.length === 0
      ? lines
      : [...lines, [String(left), '', paint.dim(`of ${rest.length} more kinds`)]],
  );
}

/** Returns the causes to mend first: the gravest, and of different kinds where possible. */
function firstOf(causes: readonly Cause[]): Cause[] {
  const [{ finding: gravest } = { finding: undefined }] = causes;
  const grave = causes.filter(({ finding }) => finding.severity === gravest?.severity);
  const largest = grave.toSorted((one, other) => other.all.length - one.all.length);
  const ofEach = largest.filter(
    ({ finding }, at) => largest.findIndex((one) => one.finding.kind === finding.kind) === at,
  );
  return [...new Set([...ofEach, ...largest, ...causes])].slice(0, FIRST);
}

function* byCause(
  causes: readonly Cause[],
  findings: readonly Finding[],
  workspace: WorkspaceFolder,
): Generator<string> {
  if (causes.length <= OVERWHELMING) {
    for (const cause of causes.slice(0, MOST_CAUSES)) yield causeLines(cause, workspace);
    const rest = causes.length - MOST_CAUSES;
    if (rest <= 0) return;
    yield '';
    yield `${rest} more ${rest === 1 ? 'cause' : 'causes'}. All findings, by kind; --all prints each, and --kind one kind:`;
    yield summary(findings, Infinity);
    return;
  }
  yield `${counted(findings.length, 'finding')} of ${counted(causes.length, 'cause')}, by kind:`;
  yield summary(findings, MOST_KINDS);
  yield '';
  yield paint.bold('To begin with, since it mends most:');
  yield '';
  for (const cause of firstOf(causes)) yield causeLines(cause, workspace);
  yield '';
  yield paint.dim(
    '--kind KIND prints one kind by its causes, --all each finding with its location.',
  );
}

const BAR = 20;

function bars(matrix: readonly CoverageLine[], locales: readonly Locale[]): string[] {
  const shares = locales.map((locale) => ({ locale, share: coveredShare(matrix, [locale]) }));
  // Where there are very many, those that lack most.
  const isMuch = locales.length > MOST_COLUMNS;
  const shown = isMuch
    ? shares.toSorted((one, other) => one.share - other.share).slice(0, MOST_BARS)
    : shares;
  const tags = Math.max(...shown.map(({ locale }) => locale.length));
  const lines = shown.map(({ locale, share }) => {
    const full = Math.floor(share * BAR);
    const bar = paint.green('█'.repeat(full)) + paint.dim('░'.repeat(BAR - full));
    return `${locale.padEnd(tags)}  ${bar}  ${percent(share)}`;
  });
  if (!isMuch) return lines;
  const least = percent(
    Math.min(...shares.filter((one) => !shown.includes(one)).map(({ share }) => share)),
  );
  return [...lines, paint.dim(`and ${locales.length - MOST_BARS} more locales, ${least} at least`)];
}

export interface TextOptions {
  /** Whether each finding is printed by itself, file by file. */
  readonly all?: boolean | undefined;
  /** How many findings a baseline keeps silent. */
  readonly hidden?: number | undefined;
}

function legend(matrix: readonly CoverageLine[]): string {
  const hasHouse = matrix.some(({ locales }) => [...locales.values()].includes('house'));
  return `2+1: two rules are written, one has the starter text; ${hasHouse ? '2+3+1: three have the house’s; ' : ''}−1: one is a draft, fallback or missing`;
}

/**
 * The result of a check for people: the coverage table, the findings with their places, a bar a
 * locale, a summary.
 */
export function* checkText(
  { matrix, coverage, findings }: CheckResult,
  locales: readonly Locale[],
  workspace: WorkspaceFolder,
  { all: asksAll = false, hidden = 0 }: TextOptions = {},
): Generator<string> {
  const causes = asksAll ? [] : causesOf(findings);
  // The bars show as much about many fields that lack nothing.
  const showsRows = matrix.length > 0 && (haveFewFields(matrix) || lacks(matrix, locales));
  if (showsRows && locales.length <= MOST_COLUMNS && causes.length <= OVERWHELMING) {
    yield coverageTable(matrix, locales);
    yield paint.dim(legend(matrix));
    yield '';
  }
  if (asksAll) {
    for (const placed of inFileOrder(findings, workspace))
      yield findingLines(placed, placed.finding.message, [], workspace);
  } else yield* byCause(causes, findings, workspace);
  if (findings.length > 0) yield '';
  if (matrix.length > 0) yield* bars(matrix, locales);
  const counts = `${counted(countOf(findings, 'error'), 'error')}, ${counted(countOf(findings, 'warning'), 'warning')}`;
  const covered = matrix.length > 0 ? ` ${percent(coverage)} covered,` : '';
  yield `${counted(matrix.length, 'rule')} in ${counted(locales.length, 'locale')}:${covered} ${counts}`;
  if (hidden > 0) yield `The baseline keeps ${counted(hidden, 'known finding')} silent.`;
}
