import { ANY_ELEMENT } from '../../core/path/path.js';
import { isObject } from '../../core/reading.js';
import type { Field, RuleUse, Writing } from '../../core/rules/form.js';
import { declaredTypes, FILE, isOfType } from '../../core/rules/types.js';
import { bytesOf, UPLOADS } from '../../core/rules/uploads.js';
import { isJsonMedia } from '../../core/base/json-media.js';
import { isTextual } from './file-schemas.js';
import type { BodyOf, Encoding } from './openapi.js';
import type { Origin } from '../../core/origin.js';

const UPLOAD_RULES: ReadonlySet<string> = new Set(['type', ...UPLOADS.map(({ id }) => id)]);

/** The rules of a file: what an encoding says of its media type goes before the schema. */
function fileRules(uses: readonly RuleUse[], types: readonly string[], origin: Origin): RuleUse[] {
  const use = (rule: string, params: RuleUse['params']): RuleUse => ({
    ...{ rule, params, origin },
    external: false,
  });
  const isSaid = (rule: string): boolean => types.length > 0 && rule === 'mediaType';
  const isFile = declaredTypes(uses).includes(FILE);
  return [
    ...uses.filter(({ rule }) => !isSaid(rule) && (isFile || rule !== 'type')),
    ...(isFile ? [] : [use('type', { expected: FILE })]),
    ...(types.length > 0 ? [use('mediaType', { types })] : []),
  ];
}

/** A member of a form, whose files no validator of JSON can hold against anything. */
function member(field: Field, encoding: Encoding | undefined): Field {
  const declared = declaredTypes(field.uses);
  const isFile = declared.includes(FILE);
  const types = encoding?.types ?? [];
  const isText = declared.every((type) => type === 'string' || type === 'null');
  if (!isFile && !(types.length > 0 && isText && !types.some(isTextual))) return field;
  const uses = encoding ? fileRules(field.uses, types, encoding.origin) : field.uses;
  return {
    ...field,
    uses: uses.map((use) => (UPLOAD_RULES.has(use.rule) ? { ...use, added: true } : use)),
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
    const isJson = encoding?.types.every(isJsonMedia) === true && encoding.types.length > 0;
    const writing = isJson ? JSON_TEXT : encoding?.writing;
    const own = writing && element === undefined ? { ...field, writing } : field;
    return isForm ? member(own, encoding) : own;
  });
}

const JSON_TEXT: Writing = { style: 'json', explode: false };

/** A payload that is JSON may claim any size; nobody makes a text of it. */
const LONGEST = 1000;

/**
 * A body without its files, for a validator of JSON: a text of the same length, but of a thousand
 * characters at most, stands for each where the form asks for a file.
 */
export function withoutFiles(
  body: unknown,
  isFile: (path: readonly (string | number)[]) => boolean,
): unknown {
  if (!isObject(body)) return body;
  const shown = (value: unknown, path: readonly (string | number)[]): unknown => {
    if (Array.isArray(value)) return value.map((one: unknown, at) => shown(one, [...path, at]));
    return isOfType(value, FILE) && isFile(path)
      ? ' '.repeat(Math.max(0, Math.min(bytesOf(value) ?? 0, LONGEST)))
      : value;
  };
  return Object.fromEntries(
    Object.entries(body).map(([name, value]) => [name, shown(value, [name])]),
  );
}
