import type { CheckResult } from '../../core/check/check.js';
import type { Finding, Severity } from '../../core/finding.js';
import type { Locale } from '../../core/locale/tag.js';
import type { WorkspaceFolder } from '../../workspace/folder.js';

export function countOf(findings: readonly Finding[], severity: Severity): number {
  return findings.filter((finding) => finding.severity === severity).length;
}

/** The result of a check for programs; the reference has its form. Coverage is a share from 0 to 1. */
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
    coverage: matrix.map(({ form, path, code, locales: states }) => ({
      form,
      path,
      rule: code,
      locales: Object.fromEntries(states),
    })),
    findings: findings.map(({ kind, severity, locale, form, path, rule, message, spot }) => {
      const { file, line, column } = spot ? workspace.place(spot) : {};
      return { kind, severity, locale, form, path, rule, file, line, column, offset: spot?.offset, message };
    }),
  };
}
