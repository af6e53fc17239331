import type { Origin } from '../origin.js';
import { parsePattern, printPath, type SharedRoot } from '../path/path.js';
import type { Condition, Field, Form, Join, RuleUse } from '../rules/form.js';

type Frozen<T, K extends keyof T, More = unknown> = Omit<T, K | 'origin'> & More;
type FrozenCondition = Frozen<Condition & { readonly origin?: never }, 'field', { field: string }>;
type FrozenUse = Frozen<
  RuleUse,
  'counterpart' | 'onlyIf',
  { counterpart?: string; onlyIf?: readonly FrozenCondition[] }
>;
type FrozenField = Frozen<Field, 'pattern' | 'label' | 'uses', { uses: readonly FrozenUse[] }>;
type FrozenJoin = Omit<Join, 'pattern' | 'root'> & { pattern: string; root: string };

/** A form as JSON keeps it: patterns are texts, and nobody knows where things were declared. */
export type FrozenForm = Frozen<
  Form,
  'fields' | 'joins',
  { fields: readonly FrozenField[]; joins?: readonly FrozenJoin[] }
>;

/** An object without some of its members. */
function without<T extends object, K extends keyof T>(object: T, keys: readonly K[]): Omit<T, K> {
  const rest = { ...object };
  for (const key of keys) Reflect.deleteProperty(rest, key);
  return rest;
}

const NOWHERE: Origin = { file: '', keys: [] };

function frozenUse({ counterpart, onlyIf, ...use }: RuleUse): FrozenUse {
  return {
    ...without(use, ['origin']),
    ...(counterpart ? { counterpart: printPath(counterpart) } : {}),
    ...(onlyIf ? { onlyIf: onlyIf.map((one) => ({ ...one, field: printPath(one.field) })) } : {}),
  };
}

function thawedUse({ counterpart, onlyIf, ...use }: FrozenUse): RuleUse {
  return {
    ...use,
    origin: NOWHERE,
    ...(counterpart === undefined ? {} : { counterpart: parsePattern(counterpart) }),
    ...(onlyIf
      ? { onlyIf: onlyIf.map((one) => ({ ...one, field: parsePattern(one.field) })) }
      : {}),
  };
}

/** Makes a form ready for JSON. */
export function frozenForm({ fields, joins, ...form }: Form): FrozenForm {
  return {
    ...without(form, ['origin']),
    fields: fields.map(({ uses, ...field }) => ({
      ...without(field, ['origin', 'pattern', 'label']),
      uses: uses.map(frozenUse),
    })),
    ...(joins
      ? {
          joins: joins.map((join) => ({
            ...join,
            pattern: printPath(join.pattern),
            root: printPath([join.root]),
          })),
        }
      : {}),
  };
}

/** The form that was made ready for JSON. */
export function thawedForm({ fields, joins, ...form }: FrozenForm): Form {
  return {
    ...form,
    origin: NOWHERE,
    fields: fields.map(({ uses, ...field }) => ({
      ...field,
      pattern: parsePattern(field.path),
      origin: NOWHERE,
      uses: uses.map(thawedUse),
    })),
    ...(joins
      ? {
          joins: joins.map((join) => ({
            ...join,
            pattern: parsePattern(join.pattern),
            root: parsePattern(join.root)[0] as SharedRoot,
          })),
        }
      : {}),
  };
}
