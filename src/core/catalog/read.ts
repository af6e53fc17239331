import type { Locale } from '../locale/tag.js';
import { Trail, type Origin, type Spot } from '../origin.js';
import { PathSyntaxError, type Pattern } from '../path/path.js';
import { Patterns } from '../path/patterns.js';
import { described, isObject, Reading, type Loose, type LooseObject } from '../reading.js';
import { suggestion } from '../text/closest.js';
import { isArgumentName } from '../text/identifier.js';
import type { Catalog, FieldTexts, Label, ProblemTexts } from './catalog.js';
import { Entry } from './entry.js';

const CATALOG_KEYS = ['$schema', 'locale', 'form', 'messages', 'fields', 'problems'];
const FIELD_KEYS = ['label', 'messages', 'choices'];
const MESSAGE_KEYS = ['text', 'note', 'limit', 'excused'];
const PROBLEM_KEYS = ['title', 'detail'];

const NO_TEXTS: ReadonlyMap<string, Entry> = new Map();

/** A field's texts, with the origin worked out only where somebody asks. */
class ReadField implements FieldTexts {
  constructor(
    readonly pattern: Pattern,
    readonly path: string,
    readonly label: Label | undefined,
    readonly messages: ReadonlyMap<string, Entry>,
    readonly choices: ReadonlyMap<string, Entry>,
    private readonly trail: Trail,
  ) {}

  get origin(): Origin {
    const { file, keys } = this.trail;
    return { file, keys };
  }
}

class CatalogReader {
  readonly reading: Reading;
  /** How many members of objects were gone through. */
  members = 0;
  private readonly leftAlone: Entry[] = [];
  constructor(
    readonly file: string,
    readonly locale: Locale,
    private readonly patterns: Patterns,
  ) {
    this.reading = new Reading(file);
  }

  read(root: LooseObject): Omit<Catalog, 'remarks'> {
    const trail = Trail.of(this.file);
    this.onlyKeys(root, trail, CATALOG_KEYS, 'A catalog');
    const { form } = root;
    if (form !== undefined && typeof form !== 'string')
      this.wrong(trail.within('form'), 'value', `"form" is the id of a form, not ${described(form)}.`);
    return {
      file: this.file,
      locale: this.locale,
      ...(typeof form === 'string' ? { form } : {}),
      messages: this.texts(root.messages, trail, 'messages'),
      fields: this.fields(root.fields, trail.within('fields')),
      problems: this.problems(root.problems, trail.within('problems')),
      excused: this.leftAlone,
    };
  }

  private wrong(trail: Trail, at: Spot['at'], message: string): void {
    this.reading.wrongShape(trail.keys, at, message);
  }

  /** The texts under one key of the root or of a field. */
  private texts(value: Loose, around: Trail, key: 'messages' | 'choices'): ReadonlyMap<string, Entry> {
    // Most fields have no texts of some kind; one empty map serves all of them.
    if (value === undefined) return NO_TEXTS;
    const found = new Map<string, Entry>();
    const trail = around.within(key);
    const members = this.reading.object(value, trail, `"${key}"`);
    for (const name of Object.keys(members)) {
      this.members++;
      const entry = this.text(members[name], trail, name, MESSAGE_KEYS);
      if (entry) found.set(name, entry);
    }
    return found;
  }

  /** A text alone, or `{ text, … }`, under a key of an object. */
  private text(value: Loose, around: Trail, key: string, allowed: readonly string[], called?: string): Entry | undefined {
    // Nearly all texts are such, and there are many.
    if (typeof value === 'string') return new Entry(value, this.locale, around, undefined, key);
    const trail = around.within(key);
    const what = called ?? `The text "${key}"`;
    if (!isObject(value) || typeof value.text !== 'string') {
      this.wrong(trail, 'value', `${what} is a text or an object with the key "text", not ${described(value)}.`);
      return undefined;
    }
    this.onlyKeys(value, trail, allowed, what);
    const { note, limit } = value;
    if (note !== undefined && typeof note !== 'string')
      this.wrong(trail.within('note'), 'value', `"note" is a text, not ${described(note)}.`);
    const limited = Number.isInteger(limit) && Number(limit) > 0;
    if (limit !== undefined && !limited)
      this.wrong(trail.within('limit'), 'value', `"limit" is a number of characters, not ${described(limit)}.`);
    const details = {
      ...(typeof note === 'string' ? { note } : {}),
      ...(limited ? { limit: Number(limit) } : {}),
      ...this.excused(value.excused, trail.within('excused')),
    };
    const entry = new Entry(value.text, this.locale, trail, details, 'text');
    if (entry.details.excused) this.leftAlone.push(entry);
    return entry;
  }

  private excused(value: Loose, trail: Trail): { excused?: Record<string, string> } {
    if (value === undefined) return {};
    const members = Object.entries(this.reading.object(value, trail, '"excused"'));
    this.members += members.length;
    const reasons = members.flatMap(([kind, reason]): [string, string][] => {
      if (typeof reason === 'string' && reason.trim() !== '') return [[kind, reason]];
      this.wrong(trail.within(kind), 'value', 'An excuse is a reason, as a text.');
      return [];
    });
    return { excused: Object.fromEntries(reasons) };
  }

  private fields(value: Loose, trail: Trail): FieldTexts[] {
    const found: FieldTexts[] = [];
    const members = this.reading.object(value, trail, '"fields"');
    for (const path of Object.keys(members)) {
      this.members++;
      const field = this.field(path, members[path], trail.within(path));
      if (field) found.push(field);
    }
    return found;
  }

  private field(written: string, value: Loose, trail: Trail): FieldTexts | undefined {
    let known: ReturnType<Patterns['of']>;
    try {
      known = this.patterns.of(written);
    } catch (error) {
      if (!(error instanceof PathSyntaxError)) throw error;
      this.wrong(trail, 'key', `${error.message}.`);
      return undefined;
    }
    if (!isObject(value)) {
      this.wrong(trail, 'value', `The field "${written}" is an object with the keys ${FIELD_KEYS.join(', ')}.`);
      return undefined;
    }
    this.onlyKeys(value, trail, FIELD_KEYS, 'A field');
    return new ReadField(
      known.pattern,
      known.path,
      this.label(value.label, trail),
      this.texts(value.messages, trail, 'messages'),
      this.texts(value.choices, trail, 'choices'),
      trail,
    );
  }

  private label(value: Loose, around: Trail): Label | undefined {
    if (value === undefined) return undefined;
    const base = this.text(value, around, 'label', isObject(value) ? Object.keys(value) : [], 'A label');
    if (!base) return undefined;
    if (!isObject(value)) return { base, forms: NO_TEXTS };
    const trail = around.within('label');
    const forms = new Map<string, Entry>();
    let gender: string | undefined;
    for (const [form, text] of Object.entries(value)) {
      if (MESSAGE_KEYS.includes(form)) continue;
      if (typeof text !== 'string')
        this.wrong(trail.within(form), 'value', `The form "${form}" of a label is a text, not ${described(text)}.`);
      else if (form === 'gender') gender = text;
      else if (!isArgumentName(form)) {
        this.wrong(
          trail.within(form),
          'key',
          `"${form}" is no name of a form: write letters, digits and _, since messages ask for {label_${form}}.`,
        );
      } else forms.set(form, new Entry(text, this.locale, trail, undefined, form));
    }
    return { base, forms, ...(gender === undefined ? {} : { gender }) };
  }

  private problems(value: Loose, trail: Trail): Map<string, ProblemTexts> {
    const all = Object.entries(this.reading.object(value, trail, '"problems"'));
    this.members += all.length;
    return new Map(all.map(([id, texts]) => [id, this.problem(id, texts, trail.within(id))]));
  }

  private problem(id: string, value: Loose, trail: Trail): ProblemTexts {
    const texts: { title?: Entry; detail?: Entry } = {};
    for (const [key, text] of Object.entries(this.reading.object(value, trail, `The problem "${id}"`))) {
      this.members++;
      if (key !== 'title' && key !== 'detail') {
        this.wrong(trail.within(key), 'key', `A problem has no text "${key}"${suggestion(key, PROBLEM_KEYS)}.`);
        continue;
      }
      const entry = this.text(text, trail, key, MESSAGE_KEYS, `The ${key}`);
      if (entry) texts[key] = entry;
    }
    return texts;
  }

  private onlyKeys(value: LooseObject, trail: Trail, allowed: readonly string[], what: string): void {
    for (const key in value) {
      this.members++;
      if (!allowed.includes(key)) this.wrong(trail.within(key), 'key', `${what} has no key "${key}"${suggestion(key, allowed)}.`);
    }
  }
}

/** A catalog that was read, and how many members of objects that took; a file that names more of them has some of them twice. */
export interface CatalogRead {
  readonly catalog: Catalog;
  readonly members: number;
}

/**
 * Reads a catalog from what its JSON holds. What is wrong becomes a remark, and the rest is read.
 * @param locale the catalog's own, already read by whoever opened the file
 * @param patterns the paths that other catalogs of the workspace have too
 */
export function readCatalog(root: LooseObject, file: string, locale: Locale, patterns = new Patterns()): CatalogRead {
  const reader = new CatalogReader(file, locale, patterns);
  const catalog = reader.read(root);
  return { catalog: { ...catalog, remarks: reader.reading.remarks }, members: reader.members };
}
