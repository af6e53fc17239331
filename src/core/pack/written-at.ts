import { getOrMake } from '../base/get-or-make.js';
import { meet } from '../path/cover.js';
import { printPath, type Pattern } from '../path/path.js';
import type { Form } from '../rules/form.js';
import { codeOf } from '../rules/form.js';
import type { Entry } from '../texts/entry.js';
import type { Texts } from '../texts/ladder.js';
import type { FieldEntry } from '../texts/purpose.js';
import type { Locale } from '../locale/tag.js';

/** Patterns that cross may cross again; so many are followed. */
const MOST_CROSSINGS = 500;

/**
 * Returns the patterns below one that have texts of their own, and those where two of them cross: a
 * text may stand at either of the two.
 * @param matters whether texts at such a place matter
 */
export function narrowerPatterns(
  texts: Texts,
  form: string,
  pattern: Pattern,
  matters?: (field: FieldEntry) => boolean,
): readonly Pattern[] {
  const all = texts.narrower(form, pattern, matters);
  const known = new Set(all.map(printPath));
  // The list grows while it is walked through.
  for (let at = 1; at < all.length; at++)
    for (const other of all.slice(0, at)) {
      const shared = meet(all[at] ?? [], other);
      const path = shared && printPath(shared);
      if (!shared || path === undefined || known.has(path) || known.size > MOST_CROSSINGS) continue;
      known.add(path);
      all.push(shared);
    }
  return all;
}

/** Texts by the code that they are for, in the order in which they are tried. */
export type ByKey = readonly (readonly [key: string, entries: readonly Entry[]])[];

/**
 * The texts that may be said: one that asks for all that an earlier one asks for cannot be said
 * where that one cannot.
 */
export const sayable = (entries: readonly Entry[]): readonly Entry[] =>
  entries.filter(({ signature: { names } }, at) =>
    entries
      .slice(0, at)
      .every((earlier) => [...earlier.signature.names.keys()].some((name) => !names.has(name))),
  );

/** Texts for codes that no rule of a form has: a backend may break rules that nobody declares. */
export class Undeclared {
  private readonly keys = new Map<Form, ReadonlySet<string>>();

  constructor(
    private readonly texts: Texts,
    private readonly locale: Locale,
  ) {}

  /** The keys of the texts that are written for a form or for its fields. */
  private keysFor(form: Form): ReadonlySet<string> {
    return getOrMake(this.keys, form, () => {
      const { purposes } = this.texts.table;
      const keys = new Set<string>();
      for (const scope of [...purposes.writtenFor(form.id), ...purposes.forAll()]) {
        for (const key of scope.keysOf('message')) keys.add(key);
        for (const field of scope.fields.values())
          for (const { purpose } of field.slotsOf('message')) keys.add(purpose.key);
      }
      return keys;
    });
  }

  /**
   * The texts at a pattern, or for the form where none is given.
   * @param declared codes that have their texts already
   */
  at(form: Form, pattern: Pattern | undefined, declared: ReadonlySet<string> = new Set()): ByKey {
    const { texts, locale } = this;
    return [...this.keysFor(form)].flatMap((key): ByKey => {
      if (declared.has(key)) return [];
      const question = { form: form.id, path: pattern ?? [], keys: [key] };
      // What is said of all fields is in the pack already.
      const found = sayable(texts.messages(question, locale)).filter(
        ({ purpose: { field, scope } }) =>
          pattern ? field !== undefined : field === undefined && scope.form !== undefined,
      );
      return found.length > 0 ? [[key, found]] : [];
    });
  }
}

/** The codes of a field's rules. */
export const codesOf = ({ uses }: Form['fields'][number]): ReadonlySet<string> =>
  new Set(uses.map(codeOf));
