import type { Locale } from '../locale/tag.js';
import { parsePattern, PathSyntaxError, printPath, type Pattern } from '../path/path.js';
import { described, isObject, Reading, type Loose } from '../reading.js';
import { suggestion } from '../text/closest.js';
import { isArgumentName } from '../text/identifier.js';
import type { Catalog, FieldTexts, Label, ProblemTexts } from './catalog.js';
import { Entry } from './entry.js';

const CATALOG_KEYS = ['$schema', 'locale', 'form', 'messages', 'fields', 'problems'];
const FIELD_KEYS = ['label', 'messages', 'choices'];
const MESSAGE_KEYS = ['text', 'note', 'limit', 'excused'];
const PROBLEM_KEYS = ['title', 'detail'];

const NO_TEXTS: ReadonlyMap<string, Entry> = new Map();

class CatalogReader {
  readonly reading: Reading;
  private readonly leftAlone: Entry[] = [];
  constructor(
    readonly file: string,
    readonly locale: Locale,
  ) {
    this.reading = new Reading(file);
  }

  read(root: Readonly<Record<string, unknown>>): Omit<Catalog, 'remarks'> {
    this.onlyKeys(root, [], CATALOG_KEYS, 'A catalog');
    const { form } = root;
    if (form !== undefined && typeof form !== 'string')
      this.reading.wrongShape(['form'], 'value', `"form" is the id of a form, not ${described(form)}.`);
    return {
      file: this.file,
      locale: this.locale,
      ...(typeof form === 'string' ? { form } : {}),
      messages: this.messages(root.messages, ['messages']),
      fields: this.reading.members(root.fields, ['fields'], '"fields"').flatMap(([path, field]) => this.field(path, field) ?? []),
      problems: new Map(
        this.reading.members(root.problems, ['problems'], '"problems"').map(([id, texts]) => [id, this.problem(id, texts)]),
      ),
      excused: this.leftAlone,
    };
  }

  private messages(value: Loose, keys: string[]): ReadonlyMap<string, Entry> {
    return this.texts(value, keys, '"messages"', MESSAGE_KEYS);
  }

  private texts(value: Loose, keys: string[], what: string, allowed: readonly string[]): ReadonlyMap<string, Entry> {
    // Most fields have no texts of some kind; one empty map serves all of them.
    if (value === undefined) return NO_TEXTS;
    const found = new Map<string, Entry>();
    for (const [key, text] of this.reading.members(value, keys, what)) {
      const entry = this.text(text, [...keys, key], `The text "${key}"`, allowed);
      if (entry) found.set(key, entry);
    }
    return found;
  }

  /** A text alone, or `{ text, … }`. */
  private text(value: Loose, keys: string[], what: string, allowed: readonly string[]): Entry | undefined {
    if (typeof value === 'string') return new Entry(value, this.locale, this.reading.origin(keys));
    if (!isObject(value) || typeof value.text !== 'string') {
      this.reading.wrongShape(keys, 'value', `${what} is a text or an object with the key "text", not ${described(value)}.`);
      return undefined;
    }
    this.onlyKeys(value, keys, allowed, what);
    const { note, limit } = value;
    if (note !== undefined && typeof note !== 'string')
      this.reading.wrongShape([...keys, 'note'], 'value', `"note" is a text, not ${described(note)}.`);
    const limited = Number.isInteger(limit) && Number(limit) > 0;
    if (limit !== undefined && !limited)
      this.reading.wrongShape([...keys, 'limit'], 'value', `"limit" is a number of characters, not ${described(limit)}.`);
    const entry = new Entry(value.text, this.locale, this.reading.origin([...keys, 'text']), {
      ...(typeof note === 'string' ? { note } : {}),
      ...(limited ? { limit: Number(limit) } : {}),
      ...this.excused(value.excused, [...keys, 'excused']),
    });
    if (entry.details.excused) this.leftAlone.push(entry);
    return entry;
  }

  private excused(value: Loose, keys: string[]): { excused?: Record<string, string> } {
    if (value === undefined) return {};
    const reasons = this.reading.members(value, keys, '"excused"').flatMap(([kind, reason]): [string, string][] => {
      if (typeof reason === 'string' && reason.trim() !== '') return [[kind, reason]];
      this.reading.wrongShape([...keys, kind], 'value', 'An excuse is a reason, as a text.');
      return [];
    });
    return { excused: Object.fromEntries(reasons) };
  }

  private field(path: string, value: Loose): FieldTexts | undefined {
    const keys = ['fields', path];
    let pattern: Pattern;
    try {
      pattern = parsePattern(path);
    } catch (error) {
      if (!(error instanceof PathSyntaxError)) throw error;
      this.reading.wrongShape(keys, 'key', `${error.message}.`);
      return undefined;
    }
    if (!isObject(value)) {
      this.reading.wrongShape(keys, 'value', `The field "${path}" is an object with the keys ${FIELD_KEYS.join(', ')}.`);
      return undefined;
    }
    this.onlyKeys(value, keys, FIELD_KEYS, 'A field');
    const label = this.label(value.label, [...keys, 'label']);
    return {
      pattern,
      path: printPath(pattern),
      ...(label ? { label } : {}),
      messages: this.messages(value.messages, [...keys, 'messages']),
      choices: this.texts(value.choices, [...keys, 'choices'], '"choices"', MESSAGE_KEYS),
      origin: this.reading.origin(keys),
    };
  }

  private label(value: Loose, keys: string[]): Label | undefined {
    if (value === undefined) return undefined;
    const named = isObject(value) ? Object.keys(value) : [];
    const base = this.text(value, keys, 'A label', named);
    if (!base) return undefined;
    if (!isObject(value)) return { base, forms: NO_TEXTS };
    const forms = new Map<string, Entry>();
    let gender: string | undefined;
    for (const [form, text] of Object.entries(value)) {
      if (MESSAGE_KEYS.includes(form)) continue;
      if (typeof text !== 'string')
        this.reading.wrongShape([...keys, form], 'value', `The form "${form}" of a label is a text, not ${described(text)}.`);
      else if (form === 'gender') gender = text;
      else if (!isArgumentName(form)) {
        this.reading.wrongShape(
          [...keys, form],
          'key',
          `"${form}" is no name of a form: write letters, digits and _, since messages ask for {label_${form}}.`,
        );
      } else forms.set(form, new Entry(text, this.locale, this.reading.origin([...keys, form])));
    }
    return { base, forms, ...(gender === undefined ? {} : { gender }) };
  }

  private problem(id: string, value: Loose): ProblemTexts {
    const keys = ['problems', id];
    const texts: { title?: Entry; detail?: Entry } = {};
    for (const [key, text] of this.reading.members(value, keys, `The problem "${id}"`)) {
      if (key !== 'title' && key !== 'detail') {
        this.reading.wrongShape([...keys, key], 'key', `A problem has no text "${key}"${suggestion(key, PROBLEM_KEYS)}.`);
        continue;
      }
      const entry = this.text(text, [...keys, key], `The ${key}`, MESSAGE_KEYS);
      if (entry) texts[key] = entry;
    }
    return texts;
  }

  private onlyKeys(value: Readonly<Record<string, unknown>>, keys: string[], allowed: readonly string[], what: string): void {
    for (const key of Object.keys(value)) {
      if (!allowed.includes(key))
        this.reading.wrongShape([...keys, key], 'key', `${what} has no key "${key}"${suggestion(key, allowed)}.`);
    }
  }
}

/**
 * Reads a catalog from what its JSON holds. What is wrong becomes a remark, and the rest is read.
 * @param locale the catalog's own, already read by whoever opened the file
 */
export function readCatalog(root: Readonly<Record<string, unknown>>, file: string, locale: Locale): Catalog {
  const reader = new CatalogReader(file, locale);
  const catalog = reader.read(root);
  return { ...catalog, remarks: reader.reading.remarks };
}
