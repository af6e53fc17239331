import type { Locale } from '../locale/tag.js';
import { Trail, type Spot } from '../origin.js';
import { PathSyntaxError } from '../path/path.js';
import { described, isObject, Reading, type Loose, type LooseObject } from '../reading.js';
import { suggestion } from '../text/closest.js';
import { isArgumentName } from '../path/identifier.js';
import type { Catalog } from './catalog.js';
import { nameOfForms } from './form-set.js';
import { Entry, type EntryDetails } from './entry.js';
import {
  FRAMES,
  WORD_GROUPS,
  type FieldEntry,
  type FrameName,
  type Layer,
  type Purposes,
  type Scope,
  type Slot,
} from './purpose.js';

export const CATALOG_KEYS = [
  '$schema',
  'locale',
  'form',
  'messages',
  'fields',
  'frames',
  'words',
  'problems',
];
const FRAME_NAMES = Object.keys(FRAMES) as FrameName[];
export const FIELD_KEYS = ['label', 'messages', 'choices'];
export const TEXT_KEYS = ['text', 'note', 'room', 'excused'];
export const MESSAGE_KEYS = [...TEXT_KEYS, 'inline'];
export const PROBLEM_KEYS = ['title', 'detail'];

const isId = (value: Loose): value is string => typeof value === 'string';

/** The forms that a file speaks of, as one name. */
function formOf(value: Loose): string | undefined {
  if (isId(value)) return value;
  return Array.isArray(value) && value.length > 0 && value.every(isId)
    ? nameOfForms(value)
    : undefined;
}

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
    this.form = formOf(root.form);
    this.scope = purposes.scope(layer, this.form);
  }

  read(): void {
    const { root } = this;
    const trail = Trail.of(this.source.file);
    this.onlyKeys(root, trail, CATALOG_KEYS, 'A catalog');
    if (root.$schema !== undefined && typeof root.$schema !== 'string')
      this.wrong(
        trail.within('$schema'),
        'value',
        `"$schema" is the address of a schema, not ${described(root.$schema)}.`,
      );
    if (root.form !== undefined && this.form === undefined)
      this.wrong(
        trail.within('form'),
        'value',
        `"form" is the id of a form, or a list of such, not ${described(root.form)}.`,
      );
    this.readTexts(root.messages, trail, 'messages', undefined);
    this.readFields(root.fields, trail.within('fields'));
    this.readFrames(root.frames, trail.within('frames'));
    this.readWords(root.words, trail.within('words'));
    this.readProblems(root.problems, trail.within('problems'));
  }

  private wrong(trail: Trail, at: Spot['at'], message: string): void {
    this.reading.wrongStructure(trail.keys, at, message);
  }

  /** The texts under one key of the root or of a field. */
  private readTexts(
    value: Loose,
    around: Trail,
    key: 'messages' | 'choices',
    field: FieldEntry | undefined,
  ): void {
    if (value === undefined) return;
    const trail = around.within(key);
    const members = this.reading.object(value, trail, `"${key}"`);
    for (const name of Object.keys(members)) {
      this.members++;
      const text = members[name];
      const slot = field
        ? field.slot(key === 'messages' ? 'message' : 'choice', name)
        : this.scope.slot('message', name);
      // Nearly all texts are such, and there are many.
      if (typeof text === 'string') this.texts.push(new Entry(text, this.source, slot));
      else if (key === 'choices') this.add(this.text(text, trail, name, slot, TEXT_KEYS));
      else {
        const inline = this.inline(text, trail.within(name), () =>
          (field ?? this.scope).slot('inline', name),
        );
        this.add(this.text(text, trail, name, slot, MESSAGE_KEYS, undefined, inline && { inline }));
      }
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
    more?: Pick<EntryDetails, 'inflections' | 'gender' | 'inline'>,
  ): Entry | undefined {
    if (typeof value === 'string') return new Entry(value, this.source, slot);
    const trail = around.within(key);
    const what = called ?? `The text "${key}"`;
    if (!isObject(value) || typeof value.text !== 'string') {
      this.wrong(
        trail,
        'value',
        `${what} is a text or an object with the key "text", not ${described(value)}.`,
      );
      return undefined;
    }
    this.onlyKeys(value, trail, allowed, what);
    const { note, room } = value;
    if (note !== undefined && typeof note !== 'string')
      this.wrong(trail.within('note'), 'value', `"note" is a text, not ${described(note)}.`);
    const isRoom = Number.isInteger(room) && Number(room) > 0;
    if (room !== undefined && !isRoom)
      this.wrong(
        trail.within('room'),
        'value',
        `"room" is a number of characters, not ${described(room)}.`,
      );
    return new Entry(value.text, this.source, slot, {
      ...(typeof note === 'string' ? { note } : {}),
      ...(isRoom ? { room: Number(room) } : {}),
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
      this.wrong(
        trail,
        'value',
        `The field "${written}" is an object with the keys ${FIELD_KEYS.join(', ')}.`,
      );
      return;
    }
    this.onlyKeys(value, trail, FIELD_KEYS, 'A field');
    const label = this.word(value.label, trail, 'label', 'A label', 'label', (form) =>
      field.slot('label', form),
    );
    this.fields.push(field);
    this.readTexts(value.messages, trail, 'messages', field);
    this.add(label);
    this.readTexts(value.choices, trail, 'choices', field);
  }

  private add(entry: Entry | undefined): void {
    if (!entry) return;
    this.texts.push(entry);
    if (entry.inflections.size > 0) this.texts.push(...entry.inflections.values());
    if (entry.details.inline) this.texts.push(entry.details.inline);
  }

  /** The text for beside the input, which stands in the object of a message. */
  private inline(message: Loose, trail: Trail, slot: () => Slot): Entry | undefined {
    const inline = isObject(message) ? message.inline : undefined;
    if (typeof inline === 'string') return new Entry(inline, this.source, slot());
    if (inline !== undefined)
      this.wrong(trail.within('inline'), 'value', `"inline" is a text, not ${described(inline)}.`);
    return undefined;
  }

  /** A text with its inflections and its gender: a label, or a word for a value. */
  private word(
    value: Loose,
    around: Trail,
    key: string,
    called: string,
    argument: string,
    slotOf: (form: string) => Slot,
  ): Entry | undefined {
    if (value === undefined) return undefined;
    const slot = slotOf('');
    if (!isObject(value)) return this.text(value, around, key, slot, [], called);
    const trail = around.within(key);
    const inflections = new Map<string, Entry>();
    let gender: string | undefined;
    // Nothing else is reported for an entry without a text.
    for (const [form, text] of typeof value.text === 'string' ? Object.entries(value) : []) {
      if (TEXT_KEYS.includes(form)) continue;
      if (typeof text !== 'string')
        this.wrong(
          trail.within(form),
          'value',
          `The inflection "${form}" of a ${argument === 'label' ? 'label' : 'word'} is a text, not ${described(text)}.`,
        );
      else if (form === 'gender') gender = text;
      else if (!isArgumentName(form) || form === 'quoted' || form.startsWith('has_')) {
        const why = isArgumentName(form)
          ? 'messages would take it for something else; choose another'
          : `write letters, digits and _, since messages ask for {${argument}_${form}}`;
        this.wrong(trail.within(form), 'key', `"${form}" is not a name of an inflection: ${why}.`);
      } else inflections.set(form, new Entry(text, this.source, slotOf(form)));
    }
    const more = {
      ...(inflections.size > 0 ? { inflections } : {}),
      ...(gender === undefined ? {} : { gender }),
    };
    return this.text(value, around, key, slot, Object.keys(value), called, more);
  }

  private readFrames(value: Loose, trail: Trail): void {
    for (const [name, text] of Object.entries(this.reading.object(value, trail, '"frames"'))) {
      this.members++;
      const frame = FRAME_NAMES.find((one) => one === name);
      if (frame)
        this.add(
          this.text(
            text,
            trail,
            name,
            this.scope.slot('frame', frame),
            TEXT_KEYS,
            `The frame "${name}"`,
          ),
        );
      else
        this.wrong(
          trail.within(name),
          'key',
          `There is no frame "${name}"${suggestion(name, FRAME_NAMES)}; there are ${FRAME_NAMES.join(', ')}.`,
        );
    }
  }

  private readWords(value: Loose, trail: Trail): void {
    const groups = this.reading.object(value, trail, '"words"');
    this.onlyKeys(groups, trail, WORD_GROUPS, '"words"');
    for (const group of WORD_GROUPS) {
      const inside = trail.within(group);
      const words =
        groups[group] === undefined ? {} : this.reading.object(groups[group], inside, `"${group}"`);
      for (const name of Object.keys(words)) {
        this.members++;
        if (/\s/.test(name))
          this.wrong(
            inside.within(name),
            'key',
            `"${name}" is not a name of a ${group}: it has a blank.`,
          );
        else
          this.add(
            this.word(
              words[name],
              inside,
              name,
              `The word "${name}"`,
              { part: 'subject', type: 'expected_words', format: 'format_words', unit: 'size' }[
                group
              ],
              (form) =>
                this.scope.slot(
                  'word',
                  form === '' ? `${group} ${name}` : `${group} ${name} ${form}`,
                ),
            ),
          );
      }
    }
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
    const texts: Record<'title' | 'detail', Entry | undefined> = {
      title: undefined,
      detail: undefined,
    };
    for (const [key, text] of Object.entries(
      this.reading.object(value, trail, `The problem "${id}"`),
    )) {
      this.members++;
      if (key !== 'title' && key !== 'detail') {
        this.wrong(
          trail.within(key),
          'key',
          `A problem has no text "${key}"${suggestion(key, PROBLEM_KEYS)}.`,
        );
        continue;
      }
      texts[key] = this.text(
        text,
        trail,
        key,
        this.scope.slot('problem', `${id} ${key}`),
        TEXT_KEYS,
        `The ${key}`,
      );
    }
    for (const entry of [texts.title, texts.detail]) if (entry) this.texts.push(entry);
  }

  private onlyKeys(
    value: LooseObject,
    trail: Trail,
    allowed: readonly string[],
    what: string,
  ): void {
    for (const key in value) {
      this.members++;
      if (!allowed.includes(key))
        this.wrong(
          trail.within(key),
          'key',
          `${what} has no key "${key}"${suggestion(key, allowed)}.`,
        );
    }
  }
}

/**
 * A catalog that was read, and how many members of objects that took; a file that names more of
 * them has some of them twice.
 */
export interface CatalogRead {
  readonly catalog: Catalog;
  readonly members: number;
}

/**
 * Reads a catalog from what its JSON holds. What is wrong becomes a remark, and the rest is read.
 * @param locale the catalog's own, already read by whoever opened the file
 */
export function readCatalog(
  root: LooseObject,
  file: string,
  locale: Locale,
  layer: Layer,
  purposes: Purposes,
): CatalogRead {
  const reader = new CatalogReader(root, file, locale, layer, purposes);
  reader.read();
  const { form, texts, fields, problems, reading, members } = reader;
  return {
    catalog: {
      file,
      locale,
      ...(form === undefined ? {} : { form }),
      texts,
      fields,
      problems,
      remarks: reading.remarks,
    },
    members,
  };
}
