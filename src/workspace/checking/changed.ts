import { realpathSync } from 'node:fs';
import path from 'node:path';
import type { Finding } from '../../core/finding.js';
import { git } from '../git.js';
import type { WorkspaceFolder } from '../folder.js';

const PURPOSE = 'what changed';

/** Lines of files, first and last, that changed since a revision (or in a range of them); whole files that are new. */
function changedLines({ folder, watched }: WorkspaceFolder, revision: string): Map<string, [number, number][]> {
  const top = git(folder, ['rev-parse', '--show-toplevel'], PURPOSE).toString().trim();
  const found = new Map<string, [number, number][]>();
  // Of texts that are shared with others, those that lie in the same repository.
  const places = watched.filter((place) => !path.relative(realpathSync(top), place).startsWith('..'));
  let file = '';
  for (const line of git(
    folder,
    ['diff', '--unified=0', '--no-color', '--no-ext-diff', '--no-textconv', '--end-of-options', revision, '--', ...places],
    PURPOSE,
  )
    .toString()
    .split('\n')) {
    const name = /^\+\+\+ (?:"?b\/(.*?)"?)$/.exec(line)?.[1];
    if (name !== undefined) file = path.join(top, name);
    const hunk = /^@@ -\S+ \+(\d+)(?:,(\d+))? @@/.exec(line);
    if (!hunk) continue;
    const first = Number(hunk[1]);
    const count = hunk[2] === undefined ? 1 : Number(hunk[2]);
    // Where lines were only taken out, the line before is what the change touched.
    found.set(file, [...(found.get(file) ?? []), [first, first + Math.max(count, 1) - 1]]);
  }
  for (const name of git(folder, ['ls-files', '--others', '--exclude-standard', '--full-name', '--', ...places], PURPOSE)
    .toString()
    .split('\n'))
    if (name !== '') found.set(path.join(top, name), [[1, Infinity]]);
  return found;
}

/**
 * Findings whose place a change touched.
 * @param revision a revision, or a range such as main..HEAD
 * @throws {Complaint} when git does not know it
 */
export function findingsIn(revision: string, findings: readonly Finding[], workspace: WorkspaceFolder): Finding[] {
  const changed = changedLines(workspace, revision);
  return findings.filter(({ spot }) => {
    const lines = spot && changed.get(path.join(workspace.folder, spot.file));
    const line = spot && workspace.place(spot).line;
    return line !== undefined && (lines?.some(([first, last]) => first <= line && line <= last) ?? false);
  });
}
