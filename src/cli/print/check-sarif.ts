import type { CheckResult } from '../../core/check/subject/result.js';
import { KINDS } from '../../core/check/kinds.js';
import type { Finding, Severity } from '../../core/finding.js';
import { forSarif } from '../../core/text/media.js';
import { fingerprints } from '../../workspace/checking/fingerprints.js';
import type { WorkspaceFolder } from '../../workspace/reading/folder.js';
import { Streamed } from './json-stream.js';

const LEVELS: Record<Severity, 'error' | 'warning' | 'note'> = {
  error: 'error',
  warning: 'warning',
  info: 'note',
};

const uriOf = (file: string): string => file.split('/').map(encodeURIComponent).join('/');

/** A file below the folder where the check was run; one elsewhere by its whole path. */
const artifactOf = (file: string): object =>
  /^(?:\.\.?\/|\/)/.test(file) ? { uri: uriOf(file) } : { uri: uriOf(file), uriBaseId: 'SRCROOT' };

/**
 * The findings as SARIF 2.1.0, with a rule for each kind, regions, and fingerprints that stay while
 * lines move.
 */
export function checkSarif(
  { findings }: CheckResult,
  workspace: WorkspaceFolder,
  version: string,
): object {
  const rules = KINDS.map(({ kind, severity, about, remedy }) => ({
    id: kind,
    shortDescription: { text: forSarif(about) },
    help: { text: forSarif(remedy) },
    defaultConfiguration: { level: LEVELS[severity] },
  }));
  return {
    $schema: 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/os/schemas/sarif-schema-2.1.0.json',
    version: '2.1.0',
    // Columns count UTF-16 units, as everywhere here.
    runs: [
      {
        tool: { driver: { name: 'zeitwort', version, rules } },
        columnKind: 'utf16CodeUnits',
        // No URI: a log that is shared does not leak local paths.
        originalUriBaseIds: {
          SRCROOT: { description: { text: 'The folder that the check was run in.' } },
        },
        results: new Streamed(resultsOf(findings, workspace)),
      },
    ],
  };
}

function* resultsOf(findings: readonly Finding[], workspace: WorkspaceFolder): Generator<object> {
  const ids = fingerprints(findings);
  for (const [
    at,
    { kind, severity, message, spot, locale, form, path, rule },
  ] of findings.entries()) {
    const location = spot && workspace.place(spot);
    const region =
      location?.line === undefined
        ? {}
        : { region: { startLine: location.line, startColumn: location.column ?? 1 } };
    yield {
      ruleId: kind,
      ruleIndex: KINDS.findIndex((one) => one.kind === kind),
      level: LEVELS[severity],
      message: { text: forSarif(message) },
      ...(location
        ? {
            locations: [
              { physicalLocation: { artifactLocation: artifactOf(location.file), ...region } },
            ],
          }
        : {}),
      partialFingerprints: { 'finding/v1': ids[at] },
      properties: { locale, form, path, rule },
    };
  }
}
