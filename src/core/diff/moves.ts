import { getOrMake } from '../base/get-or-make.js';
import { keyOf } from '../base/memo.js';
import { printPath, type Pattern } from '../path/path.js';
import { codeOf, type Field, type Form, type RequestPart } from '../rules/form.js';
import type { Address } from '../texts/purpose.js';

/** A field that clients name in requests, and find again in pointers of errors. */
export interface FieldChange {
  readonly form: string;
  readonly in: RequestPart;
  /** The path that it had, or has where it is new. */
  readonly path: string;
  readonly change: 'added' | 'removed' | 'renamed';
  /** The path that it has now, where it is renamed. */
  readonly to?: string;
}

/** The fields of a form as they were and as they are. */
interface Pair {
  readonly before: Form;
  readonly after: Form;
}

const place = ({ in: part, path }: Field): string => keyOf(part, path);

/** Returns the key of a field without its name: fields with equal keys may be one field. */
const nature = ({ in: part, uses, secret, label }: Field): string =>
  JSON.stringify([
    part,
    secret,
    label?.text,
    uses.map((use) => [use.rule, codeOf(use), use.params]),
  ]);

/** Whether two paths differ in one name alone. */
function isRenamed(before: Pattern, after: Pattern): boolean {
  if (before.length !== after.length) return false;
  const [at, another] = before.flatMap((segment, nth) => (segment === after[nth] ? [] : [nth]));
  return at !== undefined && another === undefined && typeof before[at] === 'string';
}

/**
 * The fields that went and came under another name: the only ones that are alike, and those inside
 * of them, which go along.
 */
function renamesAmong(
  gone: readonly Field[],
  come: readonly Field[],
): { readonly renamed: ReadonlyMap<Field, Field>; readonly along: ReadonlySet<Field> } {
  const renamed = new Map<Field, Field>();
  const along = new Set<Field>();
  const free = new Map(come.map((field) => [place(field), field]));
  const alike = new Map<string, Field[]>();
  for (const field of come) getOrMake(alike, nature(field), () => []).push(field);
  const rivals = new Map<string, number>();
  for (const field of gone) rivals.set(nature(field), (rivals.get(nature(field)) ?? 0) + 1);
  const movedTo = new Map<string, Pattern>();
  /** Where a field went with the nearest field around it that has another name. */
  const inside = ({ in: part, pattern }: Field): Field | undefined => {
    for (let length = pattern.length - 1; length > 0; length--) {
      const to = movedTo.get(keyOf(part, printPath(pattern.slice(0, length))));
      if (to) return free.get(keyOf(part, printPath([...to, ...pattern.slice(length)])));
    }
    return undefined;
  };
  for (const field of [...gone].sort((one, other) => one.pattern.length - other.pattern.length)) {
    const taken = inside(field);
    const [only, another] = (alike.get(nature(field)) ?? []).filter(
      (one) => free.has(place(one)) && isRenamed(field.pattern, one.pattern),
    );
    const isClear = !another && rivals.get(nature(field)) === 1;
    const to = taken ?? (isClear ? only : undefined);
    if (!to) continue;
    renamed.set(field, to);
    movedTo.set(place(field), to.pattern);
    free.delete(place(to));
    if (taken) along.add(field);
  }
  return { renamed, along };
}

/**
 * Finds renamed things between two states of the rules: forms by their requests, fields by their
 * rules.
 */
export class Moves {
  readonly fields: readonly FieldChange[];
  /** By the id that a form had, the id that it has. */
  private readonly formsNow: ReadonlyMap<string, string>;
  /** By the id of a form before, the paths that its body has now under other names. */
  private readonly paths = new Map<string, Map<string, string>>();
  private readonly anywhere = new Map<string, string>();

  constructor(before: { forms: readonly Form[] }, after: { forms: readonly Form[] }) {
    const old = new Map(before.forms.map((form) => [form.id, form]));
    const now = new Map(after.forms.map((form) => [form.id, form]));
    const byRequest = new Map<string, Form[]>();
    for (const form of after.forms)
      if (form.request !== undefined && !old.has(form.id))
        getOrMake(byRequest, form.request, () => []).push(form);
    const pairs: Pair[] = before.forms.flatMap((form) => {
      const same = now.get(form.id);
      const [moved, another] = byRequest.get(form.request ?? '') ?? [];
      const is = same ?? (another ? undefined : moved);
      return is ? [{ before: form, after: is }] : [];
    });
    this.formsNow = new Map(pairs.map((pair) => [pair.before.id, pair.after.id]));
    this.fields = pairs.flatMap((pair) => this.changes(pair));
  }

  /** Returns the current name of a form. */
  form(id: string): string {
    return this.formsNow.get(id) ?? id;
  }

  /** Where a text stands now that names a form or a field as they were called. */
  address({ kind, form, path, key }: Address): Address {
    const ids = form === undefined ? undefined : this.form(form);
    const renamed = form === undefined ? this.anywhere : this.paths.get(form);
    return { kind, form: ids, path: path === undefined ? path : (renamed?.get(path) ?? path), key };
  }

  private changes({ before, after }: Pair): FieldChange[] {
    const had = new Set(before.fields.map(place));
    const has = new Set(after.fields.map(place));
    const gone = before.fields.filter((field) => !has.has(place(field)));
    const come = after.fields.filter((field) => !had.has(place(field)));
    const { renamed, along } = renamesAmong(gone, come);
    const taken = new Set(renamed.values());
    const own = getOrMake(this.paths, before.id, () => new Map<string, string>());
    for (const [from, to] of renamed) {
      if (from.in !== 'body') continue;
      own.set(from.path, to.path);
      this.anywhere.set(from.path, to.path);
    }
    const form = after.id;
    return [
      ...[...renamed]
        .filter(([from]) => !along.has(from))
        .map(([from, to]): FieldChange => ({
          form,
          in: from.in,
          path: from.path,
          change: 'renamed',
          to: to.path,
        })),
      ...gone
        .filter((field) => !renamed.has(field))
        .map((field): FieldChange => ({ form, in: field.in, path: field.path, change: 'removed' })),
      ...come
        .filter((field) => !taken.has(field))
        .map((field): FieldChange => ({ form, in: field.in, path: field.path, change: 'added' })),
    ];
  }
}
