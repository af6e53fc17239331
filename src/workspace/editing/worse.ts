import path from 'node:path';
import type { Finding } from '../../core/finding.js';
import type { Locale } from '../../core/locale/tag.js';
import type { Origin } from '../../core/origin.js';
import type { Address } from '../../core/texts/purpose.js';
import { WorkspaceCheck } from '../checking/check-workspace.js';
import { Workspace } from '../reading/workspace.js';
import type { Edits } from './edits.js';
import type { Decision } from './importing.js';

/** Kinds that say how far a text is, not what is wrong with it. */
const OF_STATES: ReadonlySet<string> = new Set(['stale', 'unreviewed', 'behind-original']);

const idOf = ({ file, keys }: Pick<Origin, 'file' | 'keys'>): string =>
  JSON.stringify([file, keys]);

/** Where a text stands, a label's inflections too. */
function originOf(workspace: Workspace, locale: Locale, address: Address): Origin | undefined {
  const label = workspace.table.at(locale, { ...address, key: '' });
  const inflection =
    address.kind === 'label' && address.key !== ''
      ? label?.inflections.get(address.key)
      : undefined;
  return (inflection ?? workspace.table.at(locale, address))?.origin;
}

/** The findings about texts, by where these stand. */
function byText(findings: readonly Finding[]): Map<string, Finding[]> {
  const found = new Map<string, Finding[]>();
  for (const finding of findings) {
    if (!finding.spot || finding.severity === 'info' || OF_STATES.has(finding.kind)) continue;
    const id = idOf(finding.spot);
    found.set(id, [...(found.get(id) ?? []), finding]);
  }
  return found;
}

/**
 * Returns the findings that some edits would add.
 * @returns sentences by decision, in their order; of texts with such alone
 */
export async function newFindings(
  workspace: Workspace,
  edits: Edits,
  locale: Locale,
  decisions: readonly Decision[],
): Promise<Map<Decision, string[]>> {
  const found = new Map<Decision, string[]>();
  const taken = decisions.filter(({ text }) => text !== undefined);
  if (taken.length === 0) return found;
  const check = new WorkspaceCheck([locale]);
  const before = byText((await check.next(workspace)).findings);
  const changes = [...edits.changes()];
  const unsaved = new Map(workspace.unsaved);
  for (const { file, now } of changes) unsaved.set(path.join(workspace.folder, file), now ?? '');
  const edited = Workspace.open(workspace.folder, workspace.shownFrom, unsaved);
  const { findings } = await check.next(edited, new Set(changes.map(({ file }) => file)));
  const after = byText(findings);
  for (const decision of taken) {
    const { address } = decision.known;
    const [was, is] = [workspace, edited].map((one) => originOf(one, locale, address));
    const known = new Set((was && before.get(idOf(was)))?.map(({ kind }) => kind));
    const added = ((is && after.get(idOf(is))) ?? []).filter(({ kind }) => !known.has(kind));
    if (added.length > 0)
      found.set(
        decision,
        added.map(({ message }) => message),
      );
  }
  return found;
}
