import type { CheckResult } from '../../core/check/subject/result.js';
import { coveredShare } from '../../core/check/subject/coverage.js';
import { forMarkdown, markdownCode } from '../../core/text/media.js';
import type { Locale } from '../../core/locale/tag.js';
import type { WorkspaceFolder } from '../../workspace/reading/folder.js';
import { countOf } from './check-json.js';
import { placeText } from './check-junit.js';
import { percent } from './check-text.js';
import { counted } from './out.js';

/** The result for a merge request: a line, the coverage by locale, a table of findings. */
export function* checkMarkdown(
  { matrix, coverage, findings }: CheckResult,
  locales: readonly Locale[],
  workspace: WorkspaceFolder,
): Generator<string> {
  const counts = `${counted(countOf(findings, 'error'), 'error')}, ${counted(countOf(findings, 'warning'), 'warning')}`;
  yield `**${percent(coverage)} covered**, ${counts}`;
  yield '';
  yield `| ${locales.join(' | ')} |`;
  yield `|${locales.map(() => ' --- |').join('')}`;
  yield `| ${locales.map((locale) => percent(coveredShare(matrix, [locale]))).join(' | ')} |`;
  if (findings.length > 0) yield '\n| | kind | location | finding |\n| --- | --- | --- | --- |';
  for (const finding of findings) {
    const { severity, kind, message } = finding;
    yield `| ${severity} | \`${kind}\` | ${markdownCode(placeText(finding, workspace))} | ${forMarkdown(message)} |`;
  }
}
