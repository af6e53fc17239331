import stringWidth from 'string-width';
import type { CheckResult, CoverageLine } from '../../core/check/check.js';
import { coveredShare, isCovered } from '../../core/check/coverage.js';
import type { Finding, Severity } from '../../core/finding.js';
import type { Locale } from '../../core/locale/tag.js';
import type { WorkspaceFolder } from '../../workspace/folder.js';
import { countOf } from './check-json.js';
import { counted, paint, width } from './out.js';
import { cut, table, wrap, type Column } from './table.js';

const COLOURS: Record<Severity, (text: string) => string> = { error: paint.red, warning: paint.yellow, info: paint.cyan };

/** Hundredths, never rounded up to all of it. */
export const percent = (share: number): string => `${Math.floor(share * 100)} %`;

/** How many rules of a field have a text of its own, the starter's, none: `2+1` or `2+0 −1`. */
function cell(rows: readonly CoverageLine[], locale: Locale): string {
  const states = rows.map(({ locales }) => locales.get(locale));
  const own = states.filter((state) => state === 'written').length;
  const starter = states.filter((state) => state === 'starter').length;
  const lacking = states.filter((state) => !isCovered(state)).length;
  const text = `${own}+${starter}`;
  return lacking === 0 ? text : `${text} ${paint.red(`−${lacking}`)}`;
}

function groups<T>(items: readonly T[], key: (item: T) => string): Map<string, T[]> {
  const found = new Map<string, T[]>();
  for (const item of items) {
    const group = found.get(key(item));
    if (group) group.push(item);
    else found.set(key(item), [item]);
  }
  return found;
}

/** More languages than this make a table that fits no window; the bars below tell as much. */
const MOST_COLUMNS = 14;
/** With more fields than this the table has the forms, and those fields only that lack something. */
const MOST_FIELDS = 80;
const MOST_LACKING = 40;

const lacks = (rows: readonly CoverageLine[], locales: readonly Locale[]): boolean =>
  rows.some(({ locales: states }) => locales.some((locale) => !isCovered(states.get(locale))));

function coverageTable(matrix: readonly CoverageLine[], locales: readonly Locale[]): string {
  const columns: Column[] = [
    { head: paint.dim('form and field') },
    ...locales.map((locale): Column => ({ head: paint.dim(locale), align: 'right' })),
  ];
  const rows: string[][] = [];
  const fieldOf = (line: CoverageLine): string => `${line.in} ${line.path}`;
  const byForm = groups(matrix, (line) => line.form);
  const whole = [...byForm.values()].reduce((sum, ofForm) => sum + groups(ofForm, fieldOf).size, 0) <= MOST_FIELDS;
  let lacking = 0;
  for (const [form, ofForm] of byForm) {
    rows.push([paint.bold(form), ...locales.map((locale) => (whole ? '' : cell(ofForm, locale)))]);
    for (const ofField of groups(ofForm, fieldOf).values()) {
      if (!whole && (!lacks(ofField, locales) || ++lacking > MOST_LACKING)) continue;
      const field = ofField[0];
      const name = field ? (field.path || 'the body') + (field.in === 'body' ? '' : ` (${field.in})`) : '';
      rows.push([`  ${name}`, ...locales.map((locale) => cell(ofField, locale))]);
    }
  }
  rows.push([paint.bold('covered'), ...locales.map((locale) => paint.bold(percent(coveredShare(matrix, [locale]))))]);
  return table(columns, rows);
}

/** The line of the file that a finding is about, cut to the window, and a caret under the place. */
function excerpt({ spot }: Finding, workspace: WorkspaceFolder): string[] {
  const place = spot && workspace.place(spot);
  const written = spot && workspace.lineAt(spot);
  if (!place?.line || !place.column || written === undefined) return [];
  const line = written.replaceAll('\t', ' ');
  const number = String(place.line);
  const room = Math.max(20, width() - number.length - 6);
  // What stands far to the right is moved into the window.
  const from = stringWidth(line.slice(0, place.column)) > room ? Math.max(0, place.column - Math.floor(room / 2)) : 0;
  const shown = cut(line.slice(from), room);
  const indent = ' '.repeat(stringWidth(line.slice(from, place.column - 1)));
  return [
    `  ${paint.dim(`${number} |`)} ${shown}`,
    `  ${paint.dim(`${' '.repeat(number.length)} |`)} ${indent}${paint.red('^')}`,
  ];
}

function findingLines(finding: Finding, workspace: WorkspaceFolder): string {
  const { kind, severity, spot, message } = finding;
  const place = spot ? workspace.place(spot) : undefined;
  const where = place ? [place.file, place.line, place.column].filter((part) => part !== undefined).join(':') : 'the workspace';
  const sentence = wrap(message, width() - 3).join('\n  ');
  return [`${where}  ${COLOURS[severity](severity)} ${paint.bold(kind)}`, `  ${sentence}`, ...excerpt(finding, workspace)].join(
    '\n',
  );
}

/** Findings file by file, in the order of the places in each. */
function inFileOrder(findings: readonly Finding[], workspace: WorkspaceFolder): Finding[] {
  const lineOf = ({ spot }: Finding): number => (spot ? (workspace.place(spot).line ?? 0) : 0);
  return [...groups(findings, ({ spot }) => spot?.file ?? '').values()].flatMap((ofFile) =>
    [...ofFile].sort((one, other) => lineOf(one) - lineOf(other)),
  );
}

const BAR = 20;

function bars(matrix: readonly CoverageLine[], locales: readonly Locale[]): string[] {
  const tags = Math.max(...locales.map((locale) => locale.length));
  return locales.map((locale) => {
    const share = coveredShare(matrix, [locale]);
    const full = Math.floor(share * BAR);
    const bar = paint.green('█'.repeat(full)) + paint.dim('░'.repeat(BAR - full));
    return `${locale.padEnd(tags)}  ${bar}  ${percent(share)}`;
  });
}

/** The result of a check for people: the coverage table, the findings with their places, a bar a locale, a summary. */
export function checkText(
  { matrix, coverage, findings }: CheckResult,
  locales: readonly Locale[],
  workspace: WorkspaceFolder,
): string {
  const legend = paint.dim('2+1: two rules with a text of your own and one with the starter text; −1: one without');
  const head = locales.length > MOST_COLUMNS ? [] : [coverageTable(matrix, locales), legend, ''];
  const counts = `${counted(countOf(findings, 'error'), 'error')}, ${counted(countOf(findings, 'warning'), 'warning')}`;
  const summary = `${counted(matrix.length, 'rule')} in ${counted(locales.length, 'locale')}: ${percent(coverage)} covered, ${counts}`;
  return [
    ...head,
    ...inFileOrder(findings, workspace).map((finding) => findingLines(finding, workspace)),
    ...(findings.length > 0 ? [''] : []),
    ...bars(matrix, locales),
    summary,
  ].join('\n');
}
