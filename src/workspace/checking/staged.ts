import type { CheckResult } from '../../core/check/subject/result.js';
import type { Finding } from '../../core/finding.js';
import type { Locale } from '../../core/locale/tag.js';
import { Revision } from '../git/revision.js';
import { WorkspaceFolder } from '../reading/folder.js';
import { NOTHING_UNSAVED, type Storage } from '../disk/storage.js';
import { checkFolder, type CheckRequest } from './check-workspace.js';
import { fingerprints } from './fingerprints.js';
import { unknownTo } from './baseline.js';

/** The check of what is staged. */
export interface StagedCheck {
  readonly folder: WorkspaceFolder;
  readonly result: CheckResult;
}

/**
 * Returns the workspace of the last commit; nothing where there is no commit, or the commit has
 * none.
 */
function lastCommit(folder: string): Revision | undefined {
  try {
    return Revision.of(folder, 'HEAD');
  } catch {
    return undefined;
  }
}

/**
 * Checks what git has staged, whatever the work tree holds: what the next commit would bring is all
 * that was not found in the last one already.
 * @throws {Complaint} when there is no repository, or the workspace is not in it
 */
export async function checkStaged(
  { folder, shownFrom }: WorkspaceFolder,
  localesOf: (folder: WorkspaceFolder) => readonly Locale[],
  request: Omit<CheckRequest, 'locales' | 'keep'>,
): Promise<StagedCheck> {
  const opened = (storage: Storage): WorkspaceFolder =>
    WorkspaceFolder.openFolder(folder, shownFrom, NOTHING_UNSAVED, storage);
  const staged = opened(Revision.of(folder));
  const result = await checkFolder(staged, { ...request, locales: localesOf(staged) });
  const last = lastCommit(folder);
  const before: readonly Finding[] = last
    ? (await checkFolder(opened(last), request)).findings
    : [];
  return {
    folder: staged,
    result: { ...result, findings: unknownTo(new Set(fingerprints(before)), result.findings) },
  };
}
