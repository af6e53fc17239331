import { keyOf } from '../base/memo.js';
import { Signature } from '../message/signature.js';
import type { Entry } from '../texts/entry.js';
import { overview } from '../texts/overview.js';
import type { Address } from '../texts/purpose.js';
import type { Table } from '../texts/table.js';
import type { Locale } from '../locale/tag.js';
import { codeOf, type Form } from '../rules/form.js';
import { Moves, type FieldChange } from './moves.js';

/** A workspace at one time, as far as it is compared. */
export interface Side {
  readonly table: Table;
  readonly forms: readonly Form[];
  readonly original: Locale;
  /** The status of each problem, by name. */
  readonly problems: ReadonlyMap<string, number>;
  /** Whether clients do not read a text, since it is a draft. */
  readonly isDraft: (entry: Entry) => boolean;
}

/** One text that is not what it was. */
export interface TextChange {
  readonly what: Address;
  readonly locale: Locale;
  readonly before?: Entry | undefined;
  readonly after?: Entry | undefined;
  /** Whether the text was a draft, and whether it is one: clients read no drafts. */
  readonly wasDraft: boolean;
  readonly isDraft: boolean;
  /** Arguments that the text asks for now, and that it no longer asks for. */
  readonly gained: readonly string[];
  readonly lost: readonly string[];
}

/** A translation that stayed while its original changed. */
export interface MadeStale {
  readonly what: Address;
  readonly locale: Locale;
  readonly entry: Entry;
}

/** A code that clients may look for: of a rule of a form, or of a problem. */
export interface CodeChange {
  readonly form?: string;
  readonly code: string;
  readonly change: 'added' | 'removed' | 'status';
  /** In words, where it is more than that: the status before and after. */
  readonly detail?: string;
}

/**
 * The effect of a change on clients: none, other texts, more codes or fields, or codes and pointers
 * that no longer come.
 */
export type Verdict = 'same' | 'texts' | 'added' | 'breaking';

export interface Difference {
  readonly texts: readonly TextChange[];
  readonly stale: readonly MadeStale[];
  readonly fields: readonly FieldChange[];
  readonly codes: readonly CodeChange[];
  readonly verdict: Verdict;
}

const idOf = ({ kind, form, path, key }: Address): string =>
  JSON.stringify([kind, form, path, key]);

function changeOf(
  what: Address,
  locale: Locale,
  [old, before]: readonly [Side, Entry | undefined],
  [now, after]: readonly [Side, Entry | undefined],
): TextChange | undefined {
  const wasDraft = before !== undefined && old.isDraft(before);
  const isDraft = after !== undefined && now.isDraft(after);
  if (before?.text === after?.text && wasDraft === isDraft) return undefined;
  const had = (before?.signature ?? Signature.NONE).names;
  const has = (after?.signature ?? Signature.NONE).names;
  const both = before !== undefined && after !== undefined;
  return {
    what,
    locale,
    before,
    after,
    wasDraft,
    isDraft,
    gained: both ? [...has].filter((name) => !had.has(name)) : [],
    lost: both ? [...had].filter((name) => !has.has(name)) : [],
  };
}

/** Whether clients read another text than before. */
const isRead = ({ before, after, wasDraft, isDraft }: TextChange): boolean =>
  (before !== undefined && !wasDraft) || (after !== undefined && !isDraft);

function codesOf(
  { forms, problems }: Side,
  idNow: (form: string) => string,
): Map<string, { form?: string; code: string; status?: number }> {
  const codes = new Map<string, { form?: string; code: string; status?: number }>();
  for (const { id, fields } of forms)
    for (const { uses } of fields)
      for (const use of uses)
        codes.set(keyOf(idNow(id), codeOf(use)), { form: id, code: codeOf(use) });
  for (const [code, status] of problems) codes.set(keyOf(undefined, code), { code, status });
  return codes;
}

function codeChanges(before: Side, after: Side, moves: Moves): CodeChange[] {
  const old = codesOf(before, (form) => moves.form(form));
  const now = codesOf(after, (form) => form);
  const changes: CodeChange[] = [];
  for (const [id, { status, ...code }] of old) {
    const then = now.get(id);
    if (!then) changes.push({ ...code, change: 'removed' });
    else if (then.status !== status)
      changes.push({
        ...code,
        change: 'status',
        detail: `${String(status)} → ${String(then.status)}`,
      });
  }
  for (const [id, { form, code }] of now)
    if (!old.has(id))
      changes.push({ ...(form === undefined ? {} : { form }), code, change: 'added' });
  return changes;
}

/** Returns the effect of a change on clients. */
function verdictOf({ texts, fields, codes }: Omit<Difference, 'verdict'>): Verdict {
  if ([...fields, ...codes].some(({ change }) => change !== 'added')) return 'breaking';
  if (fields.length + codes.length > 0) return 'added';
  return texts.some(isRead) ? 'texts' : 'same';
}

/**
 * Compares two states of a workspace: texts by what they are for, whatever file they stand in,
 * fields, and codes. What is said of a field that has another name now is compared with what is
 * said of it there.
 */
export function difference(before: Side, after: Side): Difference {
  const moves = new Moves(before, after);
  const [old, now] = [overview(before.table), overview(after.table)];
  const nowRows = new Map(now.map((row) => [idOf(row), row]));
  const oldRows = new Map(
    old.map((row) => {
      const moved = moves.address(row);
      return [idOf(nowRows.has(idOf(moved)) ? moved : row), row] as const;
    }),
  );
  const rows = [
    ...now.map((row) => [idOf(row), row] as const),
    ...[...oldRows].filter(([id]) => !nowRows.has(id)),
  ];
  const texts: TextChange[] = [];
  const stale: MadeStale[] = [];
  for (const [id, { kind, form, path, key }] of rows) {
    const what = { kind, form, path, key };
    const [was, is] = [oldRows.get(id)?.texts, nowRows.get(id)?.texts];
    for (const locale of new Set([...(was?.keys() ?? []), ...(is?.keys() ?? [])])) {
      const change = changeOf(what, locale, [before, was?.get(locale)], [after, is?.get(locale)]);
      if (change) texts.push(change);
    }
    const [source, target] = [was?.get(before.original), is?.get(after.original)];
    if (!source || !target || source.text === target.text) continue;
    for (const [locale, entry] of is ?? [])
      if (locale !== after.original && was?.get(locale)?.text === entry.text)
        stale.push({ what, locale, entry });
  }
  const { fields } = moves;
  const found = { texts, stale, fields, codes: codeChanges(before, after, moves) };
  return { ...found, verdict: verdictOf(found) };
}
