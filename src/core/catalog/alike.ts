import type { Locale } from '../locale/tag.js';
import { plainSignature } from '../message/parse.js';
import type { Signature } from '../message/signature.js';
import type { Origin } from '../origin.js';
import { Patterns } from '../path/patterns.js';
import type { LooseObject } from '../reading.js';
import { eachText, type Catalog, type FieldTexts, type ProblemTexts, type TextKind } from './catalog.js';
import { Entry } from './entry.js';
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
  ) {}

  /** The template that a catalog makes; nothing where its texts have something beside them, or something is wrong with it. */
  static of(root: LooseObject, catalog: Catalog, patterns: Patterns): Template | undefined {
    const skeleton = catalog.remarks.length === 0 ? Skeleton.of(root) : undefined;
    if (!skeleton) return undefined;
    const slots: Slot[] = [];
    const places = new Map([...skeleton.trails()].map((keys, at) => [idOf(keys), { keys, at }]));
    let texts = 0;
    eachText(catalog, (entry, kind, key, field) => {
      texts++;
      const place = places.get(idOf(entry.origin.keys));
      // What is said beside a text, such as its limit, would be lost.
      if (place && Object.keys(entry.details).length === 0) slots.push({ kind, key, field, keys: place.keys, at: place.at });
    });
    return slots.length === texts ? new Template(catalog, skeleton, slots, patterns) : undefined;
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

  /**
   * @param isLarge whether the file is so large that comparing its keys with those of others is less work than reading it
   */
  read(root: LooseObject, file: string, locale: Locale, isLarge: boolean): CatalogRead {
    if (!isLarge) return readCatalog(root, file, locale, this.patterns);
    for (const template of this.templates) {
      const catalog = template.match(root, file, locale);
      if (catalog) return { catalog, members: template.skeleton.members };
    }
    const read = readCatalog(root, file, locale, this.patterns);
    const template = Template.of(root, read.catalog, this.patterns);
    if (template) this.templates.push(template);
    return read;
  }
}
