import type { CheckResult } from '../../core/check/subject/result.js';
import type { Finding, Severity } from '../../core/finding.js';
import type { Locale } from '../../core/locale/tag.js';
import type { WorkspaceFolder } from '../../workspace/reading/folder.js';
import { Streamed } from './json-stream.js';

export function countOf(findings: readonly Finding[], severity: Severity): number {
  return findings.filter((finding) => finding.severity === severity).length;
}

/**
 * The result of a check for programs; the reference has its form. Coverage is a share from 0 to 1.
 */
export function checkJson(
  { matrix, coverage, findings }: CheckResult,
  locales: readonly Locale[],
  workspace: WorkspaceFolder,
): object {
  return {
    summary: {
      rules: matrix.length,
      locales: locales.length,
      coverage,
      errors: countOf(findings, 'error'),
      warnings: countOf(findings, 'warning'),
    },
    coverage: new Streamed(coverageLines(matrix)),
    findings: new Streamed(placedFindings(findings, workspace)),
  };
}

function* coverageLines(matrix: CheckResult['matrix']): Generator<object> {
  for (const { form, path, code, locales: states } of matrix)
    yield { form, path, rule: code, locales: Object.fromEntries(states) };
}

function* placedFindings(
  findings: readonly Finding[],
  workspace: WorkspaceFolder,
): Generator<object> {
  for (const { kind, severity, locale, form, path, rule, message, spot } of findings) {
    const { file, line, column } = spot ? workspace.place(spot) : {};
    yield {
      kind,
      severity,
      locale,
      form,
      path,
      rule,
      file,
      line,
      column,
      offset: spot?.offset,
      message,
    };
  }
}
