import type { CheckResult } from '../../core/check/check.js';
import { KINDS } from '../../core/check/kinds.js';
import type { Finding } from '../../core/finding.js';
import type { WorkspaceFolder } from '../../workspace/folder.js';
import { xmlText as xml } from '../../core/body/shapes/problem.js';

/** A finding's place as a text. */
export function placeText({ spot }: Finding, workspace: WorkspaceFolder): string {
  if (!spot) return 'the workspace';
  const { file, line, column } = workspace.place(spot);
  return [file, line, column].filter((part) => part !== undefined).join(':');
}

/** The findings as JUnit's XML: a suite for each kind, a failed case for each finding, a passed one where there is none. */
export function checkJunit({ findings }: CheckResult, workspace: WorkspaceFolder): string {
  const suites = KINDS.map(({ kind }) => {
    const own = findings.filter((finding) => finding.kind === kind);
    const failures = own.filter(({ severity }) => severity !== 'info').length;
    const cases = own.map((finding) => {
      const { severity, message } = finding;
      const head = `<testcase classname="${kind}" name="${xml(`${placeText(finding, workspace)} ${message}`)}"`;
      if (severity === 'info') return `    ${head}><system-out>${xml(message)}</system-out></testcase>`;
      return `    ${head}><failure type="${severity}" message="${xml(message)}">${xml(`${placeText(finding, workspace)}: ${message}`)}</failure></testcase>`;
    });
    const body = cases.length > 0 ? cases : [`    <testcase classname="${kind}" name="none found"/>`];
    return `  <testsuite name="${kind}" tests="${body.length}" failures="${failures}" errors="0" skipped="0">\n${body.join('\n')}\n  </testsuite>`;
  });
  const failures = findings.filter(({ severity }) => severity !== 'info').length;
  const tests = KINDS.reduce((sum, { kind }) => sum + Math.max(1, findings.filter((one) => one.kind === kind).length), 0);
  return `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites name="zeitwort check" tests="${tests}" failures="${failures}" errors="0">\n${suites.join('\n')}\n</testsuites>\n`;
}
