import {
  DiagnosticSeverity,
  DiagnosticTag,
  type Diagnostic,
  type DiagnosticRelatedInformation,
} from 'vscode-languageserver/node';
import type { Row } from '../core/check/subject/context.js';
import { KINDS } from '../core/check/kinds.js';
import type { Finding, FindingKind, Severity } from '../core/finding.js';
import type { Entry } from '../core/texts/entry.js';
import type { Spot } from '../core/origin.js';
import type { Complaint } from '../workspace/disk/complaint.js';
import { CONFIG_FILE } from '../workspace/disk/find.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import { entryAt } from './entries.js';
import { extentOf } from './extents.js';
import type { OpenText } from './positions.js';

/** The source of diagnostics. */
export const TELLER = 'zeitwort';

const SEVERITIES: Readonly<Record<Severity, DiagnosticSeverity>> = {
  error: DiagnosticSeverity.Error,
  warning: DiagnosticSeverity.Warning,
  info: DiagnosticSeverity.Information,
};

/** Findings about something unused, which can be removed. */
const IDLE: ReadonlySet<FindingKind> = new Set<FindingKind>([
  ...([
    'unused-message',
    'unused-label',
    'unused-excuse',
    'shadowed',
    'plural-extra',
    'unruled-field',
  ] as const),
]);

/** Finds files of a workspace for a client. */
export interface Locations {
  /** The address of a file, by its name in the workspace. */
  readonly uri: (file: string) => string;
  /** Its text as it was read. */
  readonly source: (file: string) => OpenText | undefined;
  /** The rules that a text is for. */
  readonly rows: (entry: Entry) => readonly Row[];
}

/** Where a spot is, for a client; nothing where its file is not there. */
export function locationOf(
  spot: Spot,
  workspace: Workspace,
  places: Locations,
): DiagnosticRelatedInformation['location'] | undefined {
  const source = places.source(spot.file);
  const from = workspace.offsetOf(spot);
  if (!source || from === undefined) return undefined;
  return { uri: places.uri(spot.file), range: source.range(extentOf(source.text, from, spot)) };
}

/** Returns related places: the rule that a text is for, and the original's text. */
function relatedTo(
  finding: Finding,
  workspace: Workspace,
  places: Locations,
): DiagnosticRelatedInformation[] {
  const { spot } = finding;
  const entry = spot && entryAt(workspace, spot.file, spot.keys);
  if (!entry) return [];
  const { original } = workspace.config;
  const meant =
    entry.locale === original ? undefined : workspace.table.cell(original, entry.purpose);
  const originalPlace = meant && locationOf({ ...meant.origin, at: 'value' }, workspace, places);
  const { kind } = entry.purpose;
  const [row] = kind === 'message' || kind === 'inline' ? places.rows(entry) : [];
  const declared = row && locationOf({ ...row.use.origin, at: 'key' }, workspace, places);
  return [
    ...(meant && originalPlace
      ? [{ location: originalPlace, message: `The original in ${original}: ${meant.text}` }]
      : []),
    ...(declared ? [{ location: declared, message: `The rule "${row.code}"` }] : []),
  ];
}

/** A finding for a client, at the same place and in the same words as `check` has it. */
export function diagnosticOf(
  finding: Finding,
  workspace: Workspace,
  places: Locations,
  source: OpenText,
): Diagnostic {
  const { spot = { file: CONFIG_FILE, keys: [], at: 'value' }, kind, message, severity } = finding;
  const related = relatedTo(finding, workspace, places);
  return {
    range: source.range(extentOf(source.text, workspace.offsetOf(spot) ?? 0, spot)),
    severity: SEVERITIES[severity],
    code: kind,
    source: TELLER,
    message,
    ...(IDLE.has(kind) ? { tags: [DiagnosticTag.Unnecessary] } : {}),
    ...(related.length > 0 ? { relatedInformation: related } : {}),
  };
}

/** A file that cannot be read, for a client. */
export function complaintOf({ sentence, location }: Complaint, source: OpenText): Diagnostic {
  const at = { line: (location?.line ?? 1) - 1, character: (location?.column ?? 1) - 1 };
  const from = source.document.offsetAt(at);
  const said = `${sentence.charAt(0).toUpperCase()}${sentence.slice(1)}.`;
  return {
    range: source.range(extentOf(source.text, from, { at: 'key' })),
    severity: DiagnosticSeverity.Error,
    source: TELLER,
    message: said,
  };
}

/** Explains a kind of finding: why it matters, the remedy, and an example. */
export function aboutKind(name: string): string | undefined {
  const kind = KINDS.find((one) => one.kind === name);
  return (
    kind &&
    `**${kind.kind}** (${kind.severity})\n\n${kind.about}\n\n${kind.remedy}\n\n\`\`\`\n${kind.example}\n\`\`\``
  );
}
