import { printPath } from '../../core/path/path.js';
import type { Failure } from '../../exchange/keywords/failure.js';
import type { ReadEntry } from '../../exchange/violations/foreign.js';
import { table } from './table.js';

function place({ path, in: part = 'body' }: Failure): string {
  const text = printPath(path);
  return part === 'body' ? text || 'the whole body' : `${part} ${text}`;
}

function row(at: string, failure: Failure): string[] {
  const where = place(failure);
  if (failure.branches) return [at, where, failure.rule, `${failure.branches.length} alternatives`];
  const { rule, as, params = {} } = failure;
  const given = Object.entries(params).map(([name, value]) => `${name} ${JSON.stringify(value)}`);
  return [at, where, as === undefined ? rule : `${rule} as ${as}`, given.join(', ')];
}

/** How the entries of a report were read: each by its place in the report, and what it became. */
export function explained(read: readonly ReadEntry[]): string {
  if (read.length === 0) return 'The report has no entries.';
  const rows = read.flatMap(({ at, failures }) =>
    failures.length === 0
      ? [[at, '', 'nothing by itself', '']]
      : failures.map((failure) => row(at || 'the whole', failure)),
  );
  return table(
    [{ head: 'entry' }, { head: 'path' }, { head: 'rule' }, { head: 'parameters' }],
    rows,
  );
}
