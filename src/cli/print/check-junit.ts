import type { CheckResult } from '../../core/check/subject/result.js';
import { KINDS } from '../../core/check/kinds.js';
import type { Finding } from '../../core/finding.js';
import type { WorkspaceFolder } from '../../workspace/reading/folder.js';
import { xmlText as xml } from '../../core/text/markup.js';

/** A finding's place as a text. */
export function placeText({ spot }: Finding, workspace: WorkspaceFolder): string {
  if (!spot) return 'the workspace';
  const { file, line, column } = workspace.place(spot);
  return [file, line, column].filter((part) => part !== undefined).join(':');
}

/**
 * The findings as JUnit's XML: a suite for each kind, a failed case for each finding, a passed one
 * where there is none.
 */
export function* checkJunit(
  { findings }: CheckResult,
  workspace: WorkspaceFolder,
): Generator<string> {
  const byKind = new Map(KINDS.map(({ kind }): [string, Finding[]] => [kind, []]));
  for (const finding of findings) byKind.get(finding.kind)?.push(finding);
  const failed = (own: readonly Finding[]): number =>
    own.filter(({ severity }) => severity !== 'info').length;
  const tests = [...byKind.values()].reduce((sum, own) => sum + Math.max(1, own.length), 0);
  yield `<?xml version="1.0" encoding="UTF-8"?>`;
  yield `<testsuites name="zeitwort check" tests="${tests}" failures="${failed(findings)}" errors="0">`;
  for (const [kind, own] of byKind) {
    yield `  <testsuite name="${kind}" tests="${Math.max(1, own.length)}" failures="${failed(own)}" errors="0" skipped="0">`;
    if (own.length === 0) yield `    <testcase classname="${kind}" name="none found"/>`;
    for (const finding of own) {
      const { severity, message } = finding;
      const place = placeText(finding, workspace);
      const head = `<testcase classname="${kind}" name="${xml(`${place} ${message}`)}"`;
      if (severity === 'info')
        yield `    ${head}><system-out>${xml(message)}</system-out></testcase>`;
      else
        yield `    ${head}><failure type="${severity}" message="${xml(message)}">${xml(`${place}: ${message}`)}</failure></testcase>`;
    }
    yield '  </testsuite>';
  }
  yield '</testsuites>';
}
