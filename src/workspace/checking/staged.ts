import path from 'node:path';
import type { CheckResult } from '../../core/check/result.js';
import type { Finding } from '../../core/finding.js';
import type { Locale } from '../../core/locale/tag.js';
import { git, unpackAt, type Unpacked } from '../git.js';
import { WorkspaceFolder } from '../folder.js';
import { checkFolder, type CheckRequest } from './check-workspace.js';
import { fingerprints } from './fingerprints.js';
import { unknownTo } from './baseline.js';

/** What is staged, checked; its places are named as those of the work tree are. */
export interface StagedCheck {
  readonly folder: WorkspaceFolder;
  readonly result: CheckResult;
  /** Takes away what was made for it; after that no place can be told. */
  readonly remove: () => void;
}

/** The last commit, where there is one that has the workspace. */
function unpackHead(folder: string): Unpacked | undefined {
  try {
    git(folder, ['rev-parse', '--verify', '--quiet', 'HEAD:./zeitwort.yaml'], 'what the last commit holds');
  } catch {
    return undefined;
  }
  return unpackAt(folder, 'HEAD');
}

async function findingsAt({ folder, remove }: Unpacked, request: CheckRequest): Promise<readonly Finding[]> {
  try {
    return (await checkFolder(WorkspaceFolder.openFolder(folder), request)).findings;
  } finally {
    remove();
  }
}

/**
 * Checks what git has staged, whatever the work tree holds: what the next commit would bring is all that was not found in the
 * last one already.
 * @throws {Complaint} when there is no repository, or the workspace is not in it
 */
export async function checkStaged(
  { folder, shownFrom }: WorkspaceFolder,
  localesOf: (folder: WorkspaceFolder) => readonly Locale[],
  request: Omit<CheckRequest, 'locales' | 'keep'>,
): Promise<StagedCheck> {
  // As far from its root as the work tree is from where somebody stands, so that places read alike.
  const below = path.relative(shownFrom, folder);
  const isBelow = !below.startsWith('..') && !path.isAbsolute(below);
  const staged = unpackAt(folder, undefined, isBelow ? shownFrom : folder);
  try {
    const from = isBelow ? staged.root : path.resolve(staged.folder, path.relative(folder, shownFrom));
    const opened = WorkspaceFolder.openFolder(staged.folder, from);
    const asked = { ...request, locales: localesOf(opened) };
    const result = await checkFolder(opened, asked);
    const head = unpackHead(folder);
    const before = head ? await findingsAt(head, request) : [];
    const findings = unknownTo(new Set(fingerprints(before)), result.findings);
    return { folder: opened, result: { ...result, findings }, remove: staged.remove };
  } catch (error) {
    staged.remove();
    throw error;
  }
}
