import { say } from '../print/out.js';
import { isObject, Reading } from '../../core/reading.js';
import type { Request } from '../../core/rules/evaluate.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { codeOf, type Field, type RuleUse } from '../../core/rules/form.js';
import { declaredTypes } from '../../core/rules/types.js';
import { readUses } from '../../core/rules/uses.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import { printPath, type Path } from '../../core/path/path.js';
import { suggestion } from '../../core/text/closest.js';
import type { Violation } from '../../core/rules/violation.js';
import { complaint } from '../../workspace/disk/complaint.js';
import type { Judge } from '../../workspace/judging/judge.js';
import { loose, split } from './pairs.js';
import { fieldAt } from './pick.js';

export interface SingleOptions {
  readonly field?: string;
  readonly rule?: string;
  readonly value?: string;
  readonly param: readonly string[];
}

/** Converts a typed value to the field's type: a field of texts takes `12` as a text. */
function valueFor(text: string, field: Field): unknown {
  const types = declaredTypes(field.uses);
  const value = loose(text);
  const onlyTexts = types.length > 0 && types.every((type) => type === 'string');
  return onlyTexts && typeof value === 'number' ? text : value;
}

/** The use to try: the field's own, or one made for the occasion, with the parameters named. */
function useFor(rule: string, field: Field, pairs: readonly string[]): RuleUse {
  const own =
    field.uses.find((use) => codeOf(use) === rule) ?? field.uses.find((use) => use.rule === rule);
  const given = Object.fromEntries(
    pairs
      .map((pair) => split(pair, '=', '--param name=value'))
      .map(([name, text]) => [name, loose(text)]),
  );
  if (own && (pairs.length === 0 || own.external))
    return { ...own, params: { ...own.params, ...given } };
  const definition = VOCABULARY.get(own?.rule ?? rule);
  if (!definition) {
    const known = [...field.uses.map(codeOf), ...VOCABULARY.keys()];
    throw complaint('wrong-use', [`there is no rule "${rule}"${suggestion(rule, known)}`]);
  }
  const reading = new Reading('--param');
  const params = { ...own?.params, ...given };
  const [use] = readUses(
    reading,
    definition,
    Object.keys(params).length > 0 ? params : (definition.parameters[0]?.on ?? true),
    [],
  );
  const [remark] = reading.remarks;
  if (!use || remark)
    throw complaint('wrong-use', [
      `${remark?.message.replace(/\.$/, '') ?? `"${rule}" needs parameters`}; give it with --param name=value`,
    ]);
  return {
    ...use,
    ...(own?.as === undefined ? {} : { as: own.as }),
    ...(own?.counterpart && !use.counterpart ? { counterpart: own.counterpart } : {}),
  };
}

/** A value with another one at a path; what is not there on the way is made. */
function withValue(root: unknown, [segment, ...rest]: Path, value: unknown): unknown {
  if (segment === undefined) return value;
  if (typeof segment === 'number') {
    const list: unknown[] = Array.isArray(root) ? [...(root as unknown[])] : [];
    // Elements before it are like it, so that none of them is a hole.
    const made = withValue(list[segment], rest, value);
    return Array.from({ length: Math.max(list.length, segment + 1) }, (_, at) =>
      at === segment ? made : (list[at] ?? made),
    );
  }
  const object = isObject(root) ? root : {};
  return {
    ...object,
    [segment]: withValue(Object.hasOwn(object, segment) ? object[segment] : undefined, rest, value),
  };
}

/** All rules of a field on one value: what the form says of a request that has it there. */
function tryField(
  form: FormIndex,
  field: Field,
  path: Path,
  value: unknown,
  request: Request,
  judge: Judge,
): readonly Violation[] {
  const unseen = field.uses.filter(({ external }) => external).map(codeOf);
  if (unseen.length > 0) say(`only the backend checks ${unseen.join(', ')}; name one with --rule`);
  const asked = { ...request, [field.in]: withValue(request[field.in] ?? {}, path, value) };
  const text = printPath(path);
  return judge
    .judge(form, asked)
    .violations.filter(({ path: at, in: part = 'body' }) => at === text && part === field.in);
}

/**
 * Tries one rule on one value, or all rules of a field where none is named.
 * @throws {Complaint} when the form has no such field, there is no such rule, or it needs
 * parameters
 */
export function trySingle(
  form: FormIndex,
  options: SingleOptions,
  request: Request,
  judge: Judge,
): readonly Violation[] {
  const { field: at, rule, value: typed, param } = options;
  if (at === undefined || typed === undefined)
    throw complaint('wrong-use', [
      'to try a field, name --field and --value; with --rule one rule of it',
    ]);
  const { field, path } = fieldAt(at, form);
  if (rule === undefined) {
    if (param.length > 0)
      throw complaint('wrong-use', ['--param is for one rule; name it with --rule']);
    return tryField(form, field, path, valueFor(typed, field), request, judge);
  }
  const use = useFor(rule, field, param);
  const value = valueFor(typed, field);
  if (use.external) {
    say(`only the backend checks "${use.rule}", so it is shown as broken`);
    return [{ path: printPath(path), in: field.in, rule: use.rule, params: use.params, value }];
  }
  if (!VOCABULARY.get(use.rule)?.test)
    throw complaint('wrong-use', [
      `"${use.rule}" is a matter of whole schemas; try a payload in a file`,
    ]);
  return judge.single(form, field, use, path, value, request);
}
