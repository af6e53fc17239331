import { LocaleError, parseLocale, type Locale } from '../locale/tag.js';
import { plainSignature } from '../message/simple.js';
import type { Signature } from '../message/signature.js';
import type { Origin } from '../origin.js';
import { Patterns } from '../path/patterns.js';
import type { LooseObject } from '../reading.js';
import { eachText, type Catalog, type FieldTexts, type ProblemTexts, type TextKind } from './catalog.js';
import { Entry } from './entry.js';
import { Glue } from './glue.js';
import { readCatalog, type CatalogRead } from './read.js';
import { Skeleton } from './skeleton.js';

/** A text's place in all catalogs of one template, and what it is there for. */
export interface Slot {
  readonly kind: TextKind;
  /** The message's key, the label's form (empty for itself), the value, or the problem and its part. */
  readonly key: string;
  /** The field entry of the template: its paths and keys are those of the others too, its texts are not. */
  readonly field: FieldTexts | undefined;
  readonly keys: readonly string[];
  /** Which of the texts of the file it is. */
  readonly at: number;
}

const idOf = (keys: readonly (string | number)[]): string => JSON.stringify(keys);

/** A catalog that was read whole, and that others of the same keys need not be. */
export class Template {
  private constructor(
    readonly catalog: Catalog,
    readonly skeleton: Skeleton,
    /** In the order in which `eachText` shows the texts. */
    readonly slots: readonly Slot[],
    private readonly patterns: Patterns,
    /** What stands around its texts in its file, and where in the order of these its locale and its form are. */
    private readonly glue: { readonly parts: Glue; readonly locale: number; readonly form: number } | undefined,
  ) {}

  /** The template that a catalog makes; nothing where its texts have something beside them, or something is wrong with it. */
  static of(root: LooseObject, source: string, catalog: Catalog, patterns: Patterns): Template | undefined {
    const skeleton = catalog.remarks.length === 0 ? Skeleton.of(root) : undefined;
    if (!skeleton) return undefined;
    const slots: Slot[] = [];
    const trails = [...skeleton.trails()];
    const places = new Map(trails.map((keys, at) => [idOf(keys), { keys, at }]));
    let texts = 0;
    eachText(catalog, (entry, kind, key, field) => {
      texts++;
      const place = places.get(idOf(entry.origin.keys));
      // What is said beside a text, such as its limit, would be lost.
      if (place && Object.keys(entry.details).length === 0) slots.push({ kind, key, field, keys: place.keys, at: place.at });
    });
    if (slots.length !== texts) return undefined;
    const parts = skeleton.keepsOrder ? Glue.of(source, skeleton.textsOf(root) ?? [], skeleton.members) : undefined;
    const [locale, form] = ['locale', 'form'].map((key) => trails.findIndex((keys) => keys.length === 1 && keys[0] === key));
    const glue = parts && { parts, locale: locale ?? -1, form: form ?? -1 };
    return new Template(catalog, skeleton, slots, patterns, glue);
  }

  /** The catalog that a file is which differs from that of the template in nothing but its texts. */
  matchSource(source: string, file: string): AlikeCatalog | undefined {
    const texts = this.glue?.parts.textsOf(source);
    if (!texts || !this.glue || (this.glue.form >= 0 && texts[this.glue.form] !== this.catalog.form)) return undefined;
    try {
      return new AlikeCatalog(file, parseLocale(texts[this.glue.locale] ?? ''), this, texts, this.patterns);
    } catch (error) {
      if (error instanceof LocaleError) return undefined;
      throw error;
    }
  }

  /** The catalog that another object is, where it has the same keys and speaks of the same form. */
  match(root: LooseObject, file: string, locale: Locale): AlikeCatalog | undefined {
    if (root.form !== this.catalog.form) return undefined;
    const texts = this.skeleton.textsOf(root);
    return texts && new AlikeCatalog(file, locale, this, texts, this.patterns);
  }
}

/** Where a text of a slot stands in one file. */
class SlotOrigin implements Origin {
  constructor(
    readonly file: string,
    private readonly slot: Slot,
  ) {}

  get keys(): readonly string[] {
    return this.slot.keys;
  }
}

/**
 * A catalog with the keys of another, of which only the texts are kept. Most of the languages of a large workspace are such, and
 * most of what is asked of them is asked of one text after the other; what is looked up is put together when that is first done.
 */
export class AlikeCatalog implements Catalog {
  readonly form?: string;
  readonly excused: readonly Entry[] = [];
  readonly remarks: Catalog['remarks'] = [];
  private whole: Catalog | undefined;
  private readonly signatures: (Signature | undefined)[] = [];

  constructor(
    readonly file: string,
    readonly locale: Locale,
    readonly template: Template,
    private readonly all: readonly string[],
    private readonly patterns: Patterns,
  ) {
    if (template.catalog.form !== undefined) this.form = template.catalog.form;
  }

  /** Whether it was put together, and its texts have to be those that lookups find. */
  get isWhole(): boolean {
    return this.whole !== undefined;
  }

  private get read(): Catalog {
    const { file, locale, template, all } = this;
    return (this.whole ??= readCatalog(template.skeleton.filled(all), file, locale, this.patterns).catalog);
  }

  get messages(): ReadonlyMap<string, Entry> {
    return this.read.messages;
  }

  get fields(): readonly FieldTexts[] {
    return this.read.fields;
  }

  get problems(): ReadonlyMap<string, ProblemTexts> {
    return this.read.problems;
  }

  /** The text of a slot of the template, made anew each time. */
  entry(slot: Slot): Entry {
    const text = this.all[slot.at] ?? '';
    const signature = (this.signatures[slot.at] ??= plainSignature(text));
    return new Entry(text, this.locale, new SlotOrigin(this.file, slot), undefined, undefined, signature);
  }

  /** Whether a text does not parse. */
  get hasBroken(): boolean {
    for (const slot of this.template.slots) {
      const signature = plainSignature(this.all[slot.at] ?? '');
      this.signatures[slot.at] = signature;
      if (!signature && this.entry(slot).error) return true;
    }
    return false;
  }
}

/** The catalog whose paths, keys and forms are also those of another, for what only asks for these. */
export const structureOf = (catalog: Catalog): Catalog =>
  catalog instanceof AlikeCatalog && !catalog.isWhole ? catalog.template.catalog : catalog;

/** Reads the catalogs of a workspace; of large ones that have the same keys only the first is put together at once. */
export class CatalogFamily {
  private readonly patterns = new Patterns();
  private readonly templates: Template[] = [];

  /** The catalog of a large file that is like an earlier one but for its texts, without its being parsed. */
  match(source: string, file: string): AlikeCatalog | undefined {
    for (const template of this.templates) {
      const catalog = template.matchSource(source, file);
      if (catalog) return catalog;
    }
    return undefined;
  }

  /**
   * @param source the file's text, where it is so large that comparing its keys with those of others is less work than reading it
   */
  read(root: LooseObject, file: string, locale: Locale, source?: string): CatalogRead {
    if (source === undefined) return readCatalog(root, file, locale, this.patterns);
    for (const template of this.templates) {
      const catalog = template.match(root, file, locale);
      if (catalog) return { catalog, members: template.skeleton.members };
    }
    const read = readCatalog(root, file, locale, this.patterns);
    const template = Template.of(root, source, read.catalog, this.patterns);
    if (template) this.templates.push(template);
    return read;
  }
}
