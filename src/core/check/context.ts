import { structureOf, type Template } from '../catalog/alike.js';
import type { Catalog, FieldTexts } from '../catalog/catalog.js';
import type { Entry } from '../catalog/entry.js';
import type { TranslationState } from '../catalog/state.js';
import type { Found, Texts } from '../catalog/texts.js';
import type { Remark } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import { PatternTrie } from '../path/trie.js';
import { codeOf, keysOf, type Field, type Form, type RuleUse } from '../rules/form.js';
import { Likeness } from './likeness.js';
import { Originals } from './originals.js';
import { Purpose, Purposes } from './purposes.js';

/** One rule of one field of one form: a line of the coverage matrix. */
export interface Row {
  readonly form: Form;
  readonly field: Field;
  readonly use: RuleUse;
  /** The message keys, the most special first. */
  readonly keys: readonly string[];
  readonly code: string;
}

/** What a translation was made from, as the review file has it. */
export interface Reviewed {
  readonly state: TranslationState;
  /** The original's text then; absent where only its fingerprint is known. */
  readonly source?: string | undefined;
  /** Whether the original is still that text. */
  readonly current: boolean;
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
  /** What is known of the review of a translation; absent where the workspace keeps no review. */
  readonly reviewOf?: ((entry: Entry, original: Entry) => Reviewed | undefined) | undefined;
}

/** The rows of all forms; uses of one rule that share their message (without `as`, or with the same) are one row. */
export function rowsOf(forms: readonly Form[]): Row[] {
  return forms.flatMap((form) =>
    form.fields.flatMap((field) => {
      const rows: Row[] = [];
      for (const use of field.uses) {
        if (rows.some((row) => row.use.rule === use.rule && row.use.as === use.as)) continue;
        rows.push({ form, field, use, keys: keysOf(use), code: codeOf(use) });
      }
      return rows;
    }),
  );
}

const NO_FIELDS: ReadonlySet<Field> = new Set();
const NO_ROWS: readonly Row[] = [];

function grouped<K>(rows: readonly Row[], keysOfRow: (row: Row) => readonly K[]): Map<K, Row[]> {
  const groups = new Map<K, Row[]>();
  for (const row of rows) {
    for (const key of keysOfRow(row)) {
      const group = groups.get(key);
      if (group) group.push(row);
      else groups.set(key, [row]);
    }
  }
  return groups;
}

/** What catalogs of one reach (of one form, or of all) speak of: the same for all locales, so worked out once. */
class Reach {
  private readonly linked = new Map<string, Set<Field>>();
  private readonly byKey: ReadonlyMap<string, readonly Row[]>;
  private readonly byPath = new Map<string, ReadonlyMap<string, readonly Row[]>>();
  readonly purposes: Purposes;

  constructor(
    form: string | undefined,
    readonly forms: readonly Form[],
    rows: readonly Row[],
    catalogs: readonly Catalog[],
    private readonly context: Context,
  ) {
    this.byKey = grouped(rows, ({ keys }) => keys);
    const patterns = new Map<string, FieldTexts>();
    for (const { fields } of new Set(catalogs.map(structureOf))) for (const texts of fields) patterns.set(texts.path, texts);
    this.link([...patterns.values()]);
    this.purposes = new Purposes((kind, key, path) => {
      const rows = kind === 'message' ? this.rows(key, path) : NO_ROWS;
      return new Purpose(context.purposeCount++, kind, key, path, rows, context.originals.of(form, path, kind, key));
    });
  }

  /** Links each pattern with the fields that it covers, and with those that cover it. */
  private link(entries: readonly FieldTexts[]): void {
    const trie = new PatternTrie<FieldTexts>();
    for (const texts of entries) {
      this.linked.set(texts.path, new Set());
      trie.at(texts.pattern, () => texts);
    }
    const fields = new PatternTrie<Field[]>();
    for (const form of this.forms) {
      for (const field of form.fields) {
        fields.at(field.pattern, () => []).push(field);
        for (const texts of trie.matches(field.pattern)) this.linked.get(texts.path)?.add(field);
      }
    }
    for (const texts of entries)
      for (const covering of fields.matches(texts.pattern)) for (const field of covering) this.linked.get(texts.path)?.add(field);
  }

  fields(path: string): ReadonlySet<Field> {
    return this.linked.get(path) ?? NO_FIELDS;
  }

  /** The rows whose message may stand under a key, of all fields or of those at a path. */
  private rows(key: string, path?: string): readonly Row[] {
    if (path === undefined) return this.byKey.get(key) ?? NO_ROWS;
    let keyed = this.byPath.get(path);
    if (!keyed) {
      const rows = [...this.fields(path)].flatMap((field) => this.context.rowsOf(field));
      this.byPath.set(path, (keyed = grouped(rows, ({ keys }) => keys)));
    }
    return keyed.get(key) ?? NO_ROWS;
  }
}

/** The subject with what several kinds of findings need, worked out once. */
export class Context {
  readonly rows: readonly Row[];
  readonly originals: Originals;
  readonly likeness: Likeness;
  purposeCount = 0;
  private readonly complete = new Map<Locale, boolean>();
  private readonly files = new Map<Locale, ReadonlySet<string>>();
  private readonly byTemplate = new Map<Template, readonly Purpose[]>();
  private readonly rowsByField = new Map<Field, Row[]>();
  private readonly reaches = new Map<string | undefined, Reach>();
  private readonly found = new Map<Locale, readonly (Found | undefined)[]>();

  constructor(readonly subject: Subject) {
    this.rows = rowsOf(subject.forms);
    this.originals = new Originals(subject.catalogs.filter(({ locale }) => locale === subject.original));
    this.likeness = new Likeness(subject);
    for (const row of this.rows) {
      const rows = this.rowsByField.get(row.field);
      if (rows) rows.push(row);
      else this.rowsByField.set(row.field, [row]);
    }
  }

  private reach({ form }: Pick<Catalog, 'form'>): Reach {
    let reach = this.reaches.get(form);
    if (!reach) {
      const { forms, catalogs } = this.subject;
      const meant = form === undefined ? forms : forms.filter(({ id }) => id === form);
      const rows = form === undefined ? this.rows : this.rows.filter((row) => row.form.id === form);
      reach = new Reach(
        form,
        meant,
        rows,
        catalogs.filter((one) => one.form === form),
        this,
      );
      this.reaches.set(form, reach);
    }
    return reach;
  }

  rowsOf(field: Field): readonly Row[] {
    return this.rowsByField.get(field) ?? NO_ROWS;
  }

  /** What the texts of a catalog are there for. */
  purposes(catalog: Pick<Catalog, 'form'>): Purposes {
    return this.reach(catalog).purposes;
  }

  /** What the texts of catalogs of one template are there for, in the order of its slots. */
  purposesOf(template: Template): readonly Purpose[] {
    let list = this.byTemplate.get(template);
    if (!list) {
      const purposes = this.purposes(template.catalog);
      list = template.slots.map(({ kind, key, field }) => purposes.of(kind, key, field?.path));
      this.byTemplate.set(template, list);
    }
    return list;
  }

  /** The forms that a catalog speaks of. */
  formsOf(catalog: Pick<Catalog, 'form'>): readonly Form[] {
    return this.reach(catalog).forms;
  }

  /** The fields that a field entry of a catalog speaks of: those it covers, and those that cover it. */
  fieldsFor(catalog: Pick<Catalog, 'form'>, path: string): ReadonlySet<Field> {
    return this.reach(catalog).fields(path);
  }

  /** The locales that may be served with a text of some locales, or of a starter catalog that has a text of some kind. */
  servedBy(found: ReadonlySet<Locale>, isSuch: (entry: Entry) => boolean): Locale[] {
    const { texts, locales } = this.subject;
    return locales.filter((locale) =>
      texts.chain(locale).some((one) => found.has(one) || [...texts.starterMessages(one)].some(isSuch)),
    );
  }

  /** Whether a text stands in the files of a locale itself, and in no starter catalog, schema or other language. */
  isOwn(entry: Entry | undefined, locale: Locale): boolean {
    let files = this.files.get(locale);
    if (!files) {
      files = new Set(this.subject.catalogs.flatMap((catalog) => (catalog.locale === locale ? [catalog.file] : [])));
      this.files.set(locale, files);
    }
    return entry !== undefined && files.has(entry.file);
  }

  /** Whether a locale has a text of its own files for every row, and so falls back on nothing. */
  hasAllMessages(locale: Locale): boolean {
    let all = this.complete.get(locale);
    if (all === undefined) {
      all = this.messagesIn(locale).every((found) => this.isOwn(found?.entry, locale));
      this.complete.set(locale, all);
    }
    return all;
  }

  /** What the ladder finds for each row in a locale, in the order of the rows. */
  messagesIn(locale: Locale): readonly (Found | undefined)[] {
    let found = this.found.get(locale);
    if (!found) {
      const { texts } = this.subject;
      found = this.rows.map(({ form, field, keys }) => texts.message({ form: form.id, path: field.pattern, keys }, locale));
      this.found.set(locale, found);
    }
    return found;
  }
}
