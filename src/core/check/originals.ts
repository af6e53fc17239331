import { fieldEntry, problemEntry, type Catalog, type FieldTexts } from '../catalog/catalog.js';
import type { Entry } from '../catalog/entry.js';
import type { Role } from './roles.js';

/** The texts of the original locale, found by what a translation is there for. */
export class Originals {
  private readonly byForm = new Map<string | undefined, Catalog[]>();
  private readonly fields = new Map<string | undefined, Map<string, FieldTexts[]>>();

  constructor(catalogs: readonly Catalog[]) {
    for (const catalog of catalogs) {
      const { form } = catalog;
      // What was read last holds, so it stands first.
      this.byForm.set(form, [catalog, ...(this.byForm.get(form) ?? [])]);
      const byPath = this.fields.get(form) ?? new Map<string, FieldTexts[]>();
      this.fields.set(form, byPath);
      for (const field of catalog.fields) {
        const same = byPath.get(field.path);
        if (same) same.unshift(field);
        else byPath.set(field.path, [field]);
      }
    }
  }

  /** The original of a text, or nothing where the original locale has none for the same purpose. */
  of(form: string | undefined, path: string | undefined, kind: Role['kind'], key: string): Entry | undefined {
    if (path !== undefined) {
      for (const one of this.fields.get(form)?.get(path) ?? []) {
        const entry = fieldEntry(one, kind, key);
        if (entry) return entry;
      }
      return undefined;
    }
    for (const one of this.byForm.get(form) ?? []) {
      const entry = kind === 'message' ? one.messages.get(key) : problemEntry(one, key);
      if (entry) return entry;
    }
    return undefined;
  }
}
