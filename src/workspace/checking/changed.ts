import path from 'node:path';
import { diffArrays } from 'diff';
import type { Finding } from '../../core/finding.js';
import type { WorkspaceFolder } from '../reading/folder.js';
import { Repository } from '../git/repository.js';

/** First and last line, from 1. */
type Lines = readonly [number, number];

const ALL: readonly Lines[] = [[1, Infinity]];

/**
 * With more edits than that the whole file counts as changed: to find the fewest takes time with
 * their square.
 */
const MOST_EDITS = 5_000;

/**
 * The lines of a text that differ from another, line ends alike. Where lines are only taken out,
 * the line before counts.
 */
function changedLines(before: string, after: string): readonly Lines[] {
  const parts = diffArrays(before.split(/\r?\n/), after.split(/\r?\n/), {
    maxEditLength: MOST_EDITS,
  }) as
    { readonly count: number; readonly added: boolean; readonly removed: boolean }[] | undefined;
  if (parts === undefined) return ALL;
  const changed: Lines[] = [];
  let line = 1;
  for (const [at, { count, added, removed }] of parts.entries()) {
    if (added) changed.push([line, line + count - 1]);
    else if (removed && !parts[at + 1]?.added && !parts[at - 1]?.added)
      changed.push([Math.max(line - 1, 1), Math.max(line - 1, 1)]);
    if (!removed) line += count;
  }
  return changed;
}

/**
 * The two sides of `a..b` and `a...b`, which begins where the two parted; of one revision, that and
 * the work tree.
 */
function sidesOf(
  repository: Repository,
  revision: string,
): { readonly from: string; readonly to?: string } {
  const [, one = '', dots, other = ''] = /^(.*?)(\.{2,3})(.*)$/s.exec(revision) ?? [];
  if (dots === undefined) return { from: repository.commit(revision) };
  const [first, last] = [one || 'HEAD', other || 'HEAD'];
  return {
    from: dots === '...' ? repository.base(first, last) : repository.commit(first),
    to: repository.commit(last),
  };
}

/**
 * Findings whose place a change touched: in a file that the revision has not, or in a line that is
 * another there. Contents are compared here, so that nothing that a repository says of its files
 * (attributes, what is ignored) decides.
 * @param revision a revision, compared with the work tree, or a range such as main..HEAD
 * @throws {Complaint} when git does not know it
 */
export function findingsIn(
  revision: string,
  findings: readonly Finding[],
  workspace: WorkspaceFolder,
): Finding[] {
  const repository = Repository.around(workspace.folder, 'what changed');
  const { from, to } = sidesOf(repository, revision);
  const names = new Map<string, string>();
  for (const { spot } of findings) {
    if (!spot || names.has(spot.file)) continue;
    const folder = repository.nameOf(path.dirname(path.join(workspace.folder, spot.file)));
    if (folder !== undefined)
      names.set(
        spot.file,
        [folder, path.basename(spot.file)].filter((part) => part !== '').join('/'),
      );
  }
  const textsOf = textsAt(repository, [...names.values()]);
  const before = textsOf(from);
  const after = to === undefined ? undefined : textsOf(to);
  const changed = new Map<string, readonly Lines[]>();
  for (const [file, name] of names) {
    const [old, now] = [before.get(name), after ? after.get(name) : workspace.textOf(file)];
    changed.set(file, old === undefined || now === undefined ? ALL : changedLines(old, now));
  }
  return findings.filter(({ spot }) => {
    const lines = spot && changed.get(spot.file);
    if (!lines) return false;
    const { line } = workspace.place(spot);
    return line !== undefined && lines.some(([first, last]) => first <= line && line <= last);
  });
}

/** The texts of some files in a commit, by their names. */
function textsAt(
  repository: Repository,
  names: readonly string[],
): (commit: string) => Map<string, string> {
  return (commit) => {
    const known = names.length === 0 ? new Map<string, never>() : repository.files(commit, names);
    const ids = new Map(
      [...known].flatMap(([name, { id }]) => (id === undefined ? [] : [[name, id] as const])),
    );
    const bytes = repository.bytes([...new Set(ids.values())]);
    return new Map([...ids].map(([name, id]) => [name, bytes.get(id)?.toString('utf8') ?? '']));
  };
}
