import { parsePattern, PathSyntaxError, printPath, type Pattern } from '../path/path.js';
import { isObject, Reading, type Loose } from '../reading.js';
import { closest, suggestion } from '../text/closest.js';
import type { Remark } from '../finding.js';
import { FIELD_PLACES, type Field, type RequestPart, type Form, type RuleUse } from './form.js';
import { withContainers } from './containers.js';
import { readExternal, readUses } from './uses.js';
import { BLANKS, EXTERNAL, FIELD_SETTINGS, VOCABULARY } from './vocabulary.js';

export const FORM_KEYS = [
  'request',
  'partial',
  'adds',
  'blank',
  'fields',
  ...FIELD_PLACES.filter((part) => part !== 'body'),
];

export interface Sheet {
  readonly forms: readonly Form[];
  readonly remarks: readonly Remark[];
}

class SheetReader {
  readonly reading: Reading;
  constructor(file: string) {
    this.reading = new Reading(file);
  }

  read(root: Loose): Form[] {
    if (!isObject(root)) {
      this.reading.wrongStructure([], 'value', 'A rule sheet is an object with the key "forms".');
      return [];
    }
    for (const key of Object.keys(root)) {
      if (key !== 'forms' && key !== '$schema') {
        this.reading.wrongStructure(
          [key],
          'key',
          `A rule sheet has no key "${key}"${suggestion(key, ['forms'])}.`,
        );
      }
    }
    return this.reading
      .members(root.forms, ['forms'], '"forms"')
      .flatMap(([id, form]) => this.form(id, form) ?? []);
  }

  private form(id: string, value: Loose): Form | undefined {
    const keys = ['forms', id];
    if (!isObject(value)) {
      this.reading.wrongStructure(
        keys,
        'value',
        `The form "${id}" is an object with the key "fields".`,
      );
      return undefined;
    }
    const fields: Field[] = [];
    for (const [key, inner] of Object.entries(value)) {
      const part: RequestPart | undefined =
        key === 'fields' ? 'body' : FIELD_PLACES.find((one) => one === key && one !== 'body');
      if (part) {
        for (const [path, field] of this.reading.members(
          inner,
          [...keys, key],
          `"${key}" of the form "${id}"`,
        )) {
          const read = this.field(id, part, path, field, [...keys, key, path]);
          if (read) fields.push(read);
        }
      } else if (!FORM_KEYS.includes(key)) {
        this.reading.wrongStructure(
          [...keys, key],
          'key',
          `A form has no key "${key}"${suggestion(key, FORM_KEYS)}.`,
        );
      }
    }
    const request = value.request;
    if (request !== undefined && (typeof request !== 'string' || !/^[A-Z]+ \/\S*$/.test(request))) {
      this.reading.wrongStructure(
        [...keys, 'request'],
        'value',
        `"request" is a method and a path, such as "POST /proposals".`,
      );
    }
    const adds = this.flag(value.adds, [...keys, 'adds']);
    const blank = this.blank(value.blank, [...keys, 'blank']);
    return {
      id,
      ...(typeof request === 'string' ? { request } : {}),
      partial: this.flag(value.partial, [...keys, 'partial']),
      ...(adds ? { adds } : {}),
      ...(blank === undefined ? {} : { blank }),
      // What a schema declares says itself what is around its fields. In a sheet's own form what is
      // blank is missing.
      fields: adds
        ? fields
        : withContainers(
            fields.map((field) => ({ ...field, blank: field.blank ?? blank ?? true })),
          ),
      origin: this.reading.origin(keys),
    };
  }

  private field(
    form: string,
    part: RequestPart,
    path: string,
    value: Loose,
    keys: string[],
  ): Field | undefined {
    let pattern: Pattern;
    try {
      pattern = parsePattern(path);
    } catch (error) {
      if (!(error instanceof PathSyntaxError)) throw error;
      this.reading.wrongStructure(keys, 'key', `${error.message}.`);
      return undefined;
    }
    if (!isObject(value)) {
      this.reading.wrongStructure(
        keys,
        'value',
        `The field "${path}" is an object of rules, such as { required: true }.`,
      );
      return undefined;
    }
    const text = printPath(pattern);
    const blank = this.blank(value.blank, [...keys, 'blank']);
    const uses = Object.entries(value).flatMap(([key, use]) =>
      this.rule(form, text, key, use, [...keys, key]),
    );
    return {
      pattern,
      path: text,
      in: part,
      uses,
      optional: this.flag(value.optional, [...keys, 'optional']),
      trim: this.flag(value.trim, [...keys, 'trim']),
      secret: this.flag(value.secret, [...keys, 'secret']),
      ...this.named(value.label, [...keys, 'label']),
      ...(blank === undefined ? {} : { blank }),
      origin: this.reading.origin(keys),
    };
  }

  private named(label: Loose, keys: string[]): Pick<Field, 'label'> {
    if (label === undefined) return {};
    if (typeof label === 'string' && label.trim() !== '')
      return { label: { text: label, origin: this.reading.origin(keys) } };
    this.reading.wrongStructure(
      keys,
      'value',
      '"label" is a text: what the field is called in the original language.',
    );
    return {};
  }

  private blank(value: Loose, keys: string[]): boolean | undefined {
    if (value === undefined) return undefined;
    if (typeof value === 'string' && Object.hasOwn(BLANKS, value))
      return BLANKS[value as keyof typeof BLANKS];
    this.reading.wrongStructure(
      keys,
      'value',
      `"blank" is one of ${Object.keys(BLANKS).join(', ')}.`,
    );
    return undefined;
  }

  private rule(form: string, path: string, key: string, value: Loose, keys: string[]): RuleUse[] {
    if (FIELD_SETTINGS.some((setting) => setting === key)) return [];
    if (key === EXTERNAL) return readExternal(this.reading, value, keys);
    const definition = VOCABULARY.get(key);
    if (definition) return readUses(this.reading, definition, value, keys);
    const names = [...VOCABULARY.keys(), ...FIELD_SETTINGS, EXTERNAL];
    const near = closest(key, names);
    const remedy = near
      ? `did you mean "${near}"?`
      : `rules that only the backend checks stand under "${EXTERNAL}".`;
    this.reading.note('unknown-rule', keys, 'key', `There is no rule "${key}": ${remedy}`, {
      form,
      path,
      rule: key,
    });
    return [];
  }

  private flag(value: Loose, keys: string[]): boolean {
    if (value === undefined || typeof value === 'boolean') return value ?? false;
    this.reading.wrongStructure(keys, 'value', `"${keys.at(-1) ?? ''}" is true or false.`);
    return false;
  }
}

/**
 * Reads a rule sheet from what its YAML or JSON holds. What is wrong becomes a remark, and the rest
 * is read.
 * @param file the sheet's name, for places
 */
export function readSheet(root: Loose, file: string): Sheet {
  const reader = new SheetReader(file);
  const forms = reader.read(root);
  return { forms, remarks: reader.reading.remarks };
}
