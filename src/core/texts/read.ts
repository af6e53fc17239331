import type { Locale } from '../locale/tag.js';
import { Trail, type Spot } from '../origin.js';
import { PathSyntaxError } from '../path/path.js';
import { described, isObject, Reading, type Loose, type LooseObject } from '../reading.js';
import { suggestion } from '../text/closest.js';
import { isArgumentName } from '../text/identifier.js';
import type { Catalog } from './catalog.js';
import { Entry, type EntryDetails } from './entry.js';
import type { FieldEntry, Layer, Purposes, Scope, Slot } from './purpose.js';

const CATALOG_KEYS = ['$schema', 'locale', 'form', 'messages', 'fields', 'problems'];
const FIELD_KEYS = ['label', 'messages', 'choices'];
const MESSAGE_KEYS = ['text', 'note', 'limit', 'excused'];
const PROBLEM_KEYS = ['title', 'detail'];

class CatalogReader {
  readonly reading: Reading;
  /** How many members of objects were gone through. */
  members = 0;
  readonly texts: Entry[] = [];
  readonly fields: FieldEntry[] = [];
  readonly problems: string[] = [];
  readonly form: string | undefined;
  private readonly source: { readonly file: string; readonly locale: Locale };
  private readonly scope: Scope;

  constructor(
    private readonly root: LooseObject,
    file: string,
    locale: Locale,
    layer: Layer,
    purposes: Purposes,
  ) {
    this.reading = new Reading(file);
    this.source = { file, locale };
    this.form = typeof root.form === 'string' ? root.form : undefined;
    this.scope = purposes.scope(layer, this.form);
  }

  read(): void {
    const { root } = this;
    const trail = Trail.of(this.source.file);
    this.onlyKeys(root, trail, CATALOG_KEYS, 'A catalog');
    if (root.$schema !== undefined && typeof root.$schema !== 'string')
      this.wrong(trail.within('$schema'), 'value', `"$schema" is the address of a schema, not ${described(root.$schema)}.`);
    if (root.form !== undefined && this.form === undefined)
      this.wrong(trail.within('form'), 'value', `"form" is the id of a form, not ${described(root.form)}.`);
    this.readTexts(root.messages, trail, 'messages', undefined);
    this.readFields(root.fields, trail.within('fields'));
    this.readProblems(root.problems, trail.within('problems'));
  }

  private wrong(trail: Trail, at: Spot['at'], message: string): void {
    this.reading.wrongStructure(trail.keys, at, message);
  }

  /** The texts under one key of the root or of a field. */
  private readTexts(value: Loose, around: Trail, key: 'messages' | 'choices', field: FieldEntry | undefined): void {
    if (value === undefined) return;
    const trail = around.within(key);
    const members = this.reading.object(value, trail, `"${key}"`);
    for (const name of Object.keys(members)) {
      this.members++;
      const text = members[name];
      const slot = field ? field.slot(key === 'messages' ? 'message' : 'choice', name) : this.scope.message(name);
      // Nearly all texts are such, and there are many.
      const entry =
        typeof text === 'string' ? new Entry(text, this.source, slot) : this.text(text, trail, name, slot, MESSAGE_KEYS);
      if (entry) this.texts.push(entry);
    }
  }

  /** A text alone, or `{ text, … }`, under a key of an object. */
  private text(
    value: Loose,
    around: Trail,
    key: string,
    slot: Slot,
    allowed: readonly string[],
    called?: string,
    more?: Pick<EntryDetails, 'forms' | 'gender'>,
  ): Entry | undefined {
    if (typeof value === 'string') return new Entry(value, this.source, slot);
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
    return new Entry(value.text, this.source, slot, {
      ...(typeof note === 'string' ? { note } : {}),
      ...(limited ? { limit: Number(limit) } : {}),
      ...this.excused(value.excused, trail.within('excused')),
      ...more,
      inObject: true,
    });
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

  private readFields(value: Loose, trail: Trail): void {
    const members = this.reading.object(value, trail, '"fields"');
    for (const path of Object.keys(members)) {
      this.members++;
      this.field(path, members[path], trail.within(path));
    }
  }

  private field(written: string, value: Loose, trail: Trail): void {
    let field: FieldEntry;
    try {
      field = this.scope.field(written);
    } catch (error) {
      if (!(error instanceof PathSyntaxError)) throw error;
      this.wrong(trail, 'key', `${error.message}.`);
      return;
    }
    if (!isObject(value)) {
      this.wrong(trail, 'value', `The field "${written}" is an object with the keys ${FIELD_KEYS.join(', ')}.`);
      return;
    }
    this.onlyKeys(value, trail, FIELD_KEYS, 'A field');
    const label = this.label(value.label, field, trail);
    this.fields.push(field);
    this.readTexts(value.messages, trail, 'messages', field);
    if (label) this.texts.push(label, ...label.forms.values());
    this.readTexts(value.choices, trail, 'choices', field);
  }

  private label(value: Loose, field: FieldEntry, around: Trail): Entry | undefined {
    if (value === undefined) return undefined;
    const slot = field.slot('label', '');
    if (!isObject(value)) return this.text(value, around, 'label', slot, [], 'A label');
    const trail = around.within('label');
    const forms = new Map<string, Entry>();
    let gender: string | undefined;
    // Of what has no text nothing else is told.
    for (const [form, text] of typeof value.text === 'string' ? Object.entries(value) : []) {
      if (MESSAGE_KEYS.includes(form)) continue;
      if (typeof text !== 'string')
        this.wrong(trail.within(form), 'value', `The inflection "${form}" of a label is a text, not ${described(text)}.`);
      else if (form === 'gender') gender = text;
      else if (!isArgumentName(form)) {
        this.wrong(
          trail.within(form),
          'key',
          `"${form}" is no name of an inflection: write letters, digits and _, since messages ask for {label_${form}}.`,
        );
      } else forms.set(form, new Entry(text, this.source, field.slot('label', form)));
    }
    const more = { ...(forms.size > 0 ? { forms } : {}), ...(gender === undefined ? {} : { gender }) };
    return this.text(value, around, 'label', slot, Object.keys(value), 'A label', more);
  }

  private readProblems(value: Loose, trail: Trail): void {
    const all = Object.entries(this.reading.object(value, trail, '"problems"'));
    this.members += all.length;
    for (const [id, texts] of all) {
      this.problems.push(id);
      this.problem(id, texts, trail.within(id));
    }
  }

  private problem(id: string, value: Loose, trail: Trail): void {
    const texts: Record<'title' | 'detail', Entry | undefined> = { title: undefined, detail: undefined };
    for (const [key, text] of Object.entries(this.reading.object(value, trail, `The problem "${id}"`))) {
      this.members++;
      if (key !== 'title' && key !== 'detail') {
        this.wrong(trail.within(key), 'key', `A problem has no text "${key}"${suggestion(key, PROBLEM_KEYS)}.`);
        continue;
      }
      texts[key] = this.text(text, trail, key, this.scope.problem(id, key), MESSAGE_KEYS, `The ${key}`);
    }
    for (const entry of [texts.title, texts.detail]) if (entry) this.texts.push(entry);
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
 */
export function readCatalog(root: LooseObject, file: string, locale: Locale, layer: Layer, purposes: Purposes): CatalogRead {
  const reader = new CatalogReader(root, file, locale, layer, purposes);
  reader.read();
  const { form, texts, fields, problems, reading, members } = reader;
  return {
    catalog: { file, locale, ...(form === undefined ? {} : { form }), texts, fields, problems, remarks: reading.remarks },
    members,
  };
}
