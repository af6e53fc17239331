import type { Catalog, FieldTexts } from '../catalog/catalog.js';
import type { Texts } from '../catalog/texts.js';
import type { Remark } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import { PatternTrie } from '../path/trie.js';
import { rolesOf, type Role } from './roles.js';
import { codeOf, keysOf, type Field, type Form, type RuleUse } from '../rules/form.js';

/** One rule of one field of one form: a line of the coverage matrix. */
export interface Row {
  readonly form: Form;
  readonly field: Field;
  readonly use: RuleUse;
  /** The message keys, the most special first. */
  readonly keys: readonly string[];
  readonly code: string;
}

/** What is checked. */
export interface Subject {
  readonly forms: readonly Form[];
  readonly catalogs: readonly Catalog[];
  readonly texts: Texts;
  /** The locales to check, in the workspace's order. */
  readonly locales: readonly Locale[];
  /** All languages of the workspace, also those that are not checked now. */
  readonly languages: readonly Locale[];
  /** The locale that the others are translated from. */
  readonly original: Locale;
  /** The problems that there are texts for, by name. */
  readonly problems: readonly string[];
  /** The file that declares problems, for places. */
  readonly settings: string;
  /** What was noticed while the files were read. */
  readonly remarks: readonly Remark[];
}

/** The rows of all forms; uses of one rule that share their message (without `as`, or with the same) are one row. */
export function rowsOf(forms: readonly Form[]): Row[] {
  return forms.flatMap((form) =>
    form.fields.flatMap((field) => {
      const seen = new Set<string>();
      return field.uses.flatMap((use): Row[] => {
        const keys = keysOf(use);
        const id = JSON.stringify(keys);
        if (seen.has(id)) return [];
        seen.add(id);
        return [{ form, field, use, keys, code: codeOf(use) }];
      });
    }),
  );
}

/** The subject with what several kinds of findings need, worked out once. */
export class Context {
  readonly rows: readonly Row[];
  private readonly rowsByField = new Map<Field, Row[]>();
  private readonly rowsByKey = new Map<string, Row[]>();
  private known: readonly Role[] | undefined;
  private readonly fieldTries = new Map<string, PatternTrie<Field[]>>();
  private readonly links = new Map<Catalog, ReadonlyMap<FieldTexts, ReadonlySet<Field>>>();

  constructor(readonly subject: Subject) {
    this.rows = rowsOf(subject.forms);
    for (const row of this.rows) {
      const rows = this.rowsByField.get(row.field);
      if (rows) rows.push(row);
      else this.rowsByField.set(row.field, [row]);
      for (const key of row.keys) {
        const keyed = this.rowsByKey.get(key);
        if (keyed) keyed.push(row);
        else this.rowsByKey.set(key, [row]);
      }
    }
    for (const form of subject.forms) {
      const trie = new PatternTrie<Field[]>();
      for (const field of form.fields) trie.at(field.pattern, () => []).push(field);
      this.fieldTries.set(form.id, trie);
    }
  }

  /** Every text with what it is there for, worked out once for all kinds. */
  get roles(): readonly Role[] {
    return (this.known ??= [...rolesOf(this)]);
  }

  /** The rows whose message may stand under a key. */
  rowsWith(key: string): readonly Row[] {
    return this.rowsByKey.get(key) ?? [];
  }

  rowsOf(field: Field): readonly Row[] {
    return this.rowsByField.get(field) ?? [];
  }

  /** The forms that a catalog speaks of. */
  formsOf(catalog: Catalog): readonly Form[] {
    return this.subject.forms.filter(({ id }) => catalog.form === undefined || id === catalog.form);
  }

  /** The fields that each field entry of a catalog speaks of: those it covers, and those that cover it. */
  linksOf(catalog: Catalog): ReadonlyMap<FieldTexts, ReadonlySet<Field>> {
    const known = this.links.get(catalog);
    if (known) return known;
    const links = new Map<FieldTexts, Set<Field>>(catalog.fields.map((texts) => [texts, new Set()]));
    const trie = new PatternTrie<FieldTexts[]>();
    for (const texts of catalog.fields) trie.at(texts.pattern, () => []).push(texts);
    for (const form of this.formsOf(catalog)) {
      for (const field of form.fields) {
        for (const texts of trie.matches(field.pattern).flat()) links.get(texts)?.add(field);
      }
      for (const texts of catalog.fields) {
        for (const field of this.fieldTries.get(form.id)?.matches(texts.pattern).flat() ?? []) links.get(texts)?.add(field);
      }
    }
    this.links.set(catalog, links);
    return links;
  }
}
