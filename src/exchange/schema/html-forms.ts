import { ANY_ELEMENT } from '../../core/path/path.js';
import { isObject } from '../../core/reading.js';
import type { Upload } from '../../core/rules/parameters.js';
import type { Field, RuleUse, Writing } from '../../core/rules/form.js';
import { declaredTypes, FILE } from '../../core/rules/types.js';
import { isJsonType, isTextual } from '../keywords/keywords.js';
import type { BodyOf, Encoding } from './openapi.js';

const UPLOAD_RULES: ReadonlySet<string> = new Set(['type', 'minBytes', 'maxBytes', 'mediaType']);

/** The rules that an encoding states of a file, besides those that the field has. */
function fileRules(uses: readonly RuleUse[], { types, origin }: Encoding): RuleUse[] {
  const rule = (name: string, params: RuleUse['params']): RuleUse[] =>
    uses.some((use) => use.rule === name) ? [] : [{ rule: name, params, external: false, origin }];
  return [
    ...rule('type', { expected: FILE }),
    ...(types.length > 0 ? rule('mediaType', { types }) : []),
  ];
}

/** A member of a form, whose files no validator of JSON can hold against anything. */
function member(field: Field, encoding: Encoding | undefined): Field {
  const declared = declaredTypes(field.uses);
  const isFile = declared.includes(FILE);
  const types = encoding?.types ?? [];
  const isText = declared.every((type) => type === 'string' || type === 'null');
  if (!isFile && !(types.length > 0 && isText && !types.some(isTextual))) return field;
  const uses = isFile ? field.uses : field.uses.filter(({ rule }) => rule !== 'type');
  return {
    ...field,
    uses: [...uses, ...(encoding ? fileRules(uses, encoding) : [])].map((use) =>
      UPLOAD_RULES.has(use.rule) ? { ...use, added: true } : use,
    ),
  };
}

/**
 * The fields of a request as they are sent: how members of a form are written, and the rules on
 * its files.
 */
export function asSent(fields: readonly Field[], sent: BodyOf | undefined): Field[] {
  if (!sent || sent.media.length === 0) return [...fields];
  const { encodings, isForm } = sent;
  return fields.map((field) => {
    const [name, element, ...more] = field.pattern;
    const isMember = more.length === 0 && (element === undefined || element === ANY_ELEMENT);
    if (field.in !== 'body' || typeof name !== 'string' || !isMember) return field;
    const encoding = encodings.get(name);
    const isJson = encoding?.types.every(isJsonType) === true && encoding.types.length > 0;
    const writing = isJson ? JSON_TEXT : encoding?.writing;
    const own = writing && element === undefined ? { ...field, writing } : field;
    return isForm ? member(own, encoding) : own;
  });
}

const JSON_TEXT: Writing = { style: 'json', explode: false };

const isUpload = (value: unknown): value is Upload =>
  isObject(value) && typeof value.size === 'number' && typeof value.type === 'string';

/**
 * A body without its files, for a validator of JSON: a text of the same length stands for each
 * where the form asks for a file.
 */
export function withoutFiles(
  body: unknown,
  isFile: (path: readonly (string | number)[]) => boolean,
): unknown {
  if (!isObject(body)) return body;
  const shown = (value: unknown, path: readonly (string | number)[]): unknown => {
    if (Array.isArray(value)) return value.map((one: unknown, at) => shown(one, [...path, at]));
    return isUpload(value) && isFile(path) ? ' '.repeat(value.size) : value;
  };
  return Object.fromEntries(
    Object.entries(body).map(([name, value]) => [name, shown(value, [name])]),
  );
}
