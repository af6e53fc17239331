import { comparedColumns } from '../core/rules/row-conditions.js';
import { getOrMake } from '../core/base/get-or-make.js';
import type { Locale } from '../core/locale/tag.js';
import {
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  anywhere,
  printPath,
  type Pattern,
} from '../core/path/path.js';
import type { Field, Form, RequestPart, RuleUse } from '../core/rules/form.js';
import { PROBLEM_ARGUMENTS } from '../core/body/problem-arguments.js';
import { TELLS_WHETHER, TO_TRY_AGAIN } from '../core/body/problems.js';
import { keyed } from '../core/base/keyed.js';

/** The data that declarations are made from. */
export interface TypesSource {
  readonly forms: readonly Form[];
  readonly locales: readonly Locale[];
  readonly original: Locale;
  readonly problems: readonly string[];
  /** The parameters of problems' texts, with samples, by problem. */
  readonly problemParams: ReadonlyMap<string, Readonly<Record<string, unknown>>>;
}

/** Arguments that no rule sheet can declare: whoever finds the violation has to say them. */
const TOLD: Readonly<Record<string, Readonly<Record<string, string>>>> = keyed<
  Readonly<Record<string, string>>
>({
  uniqueItems: { first: 'number', second: 'number' },
  additionalProperties: { name: 'string' },
  unevaluatedProperties: { name: 'string' },
  propertyNames: { name: 'string' },
});

const quoted = (text: string): string => JSON.stringify(text);

/** A member's name: bare where TypeScript allows it. */
const member = (name: string): string => (/^[A-Za-z_$][\w$]*$/.test(name) ? name : quoted(name));

const union = (names: readonly string[]): string =>
  names.length === 0 ? 'never' : names.map(quoted).join(' | ');

function typeOf(value: unknown): string {
  if (Array.isArray(value)) return 'readonly unknown[]';
  switch (typeof value) {
    case 'number':
      return 'number';
    case 'string':
      return 'string';
    case 'boolean':
      return 'boolean';
    default:
      return 'unknown';
  }
}

/** The type of a concrete path: a text, or a template with a number for each open place. */
function pathKey(declared: Pattern): string {
  const pattern = anywhere(declared);
  if (!pattern.some((segment) => typeof segment === 'symbol')) return quoted(printPath(pattern));
  const text = pattern
    .map((segment, at) => {
      if (segment === ANY_ELEMENT) return '[${number}]';
      if (segment === ANY_KEY) return `${at === 0 ? '' : '.'}\${string}`;
      if (segment === ANY_DEPTH) return '${string}';
      const printed = printPath([segment]);
      const joint = at === 0 || printed.startsWith('[') || pattern[at - 1] === ANY_DEPTH ? '' : '.';
      return (joint + printed).replace(/[`\\]|\$\{/g, (sign) => `\\${sign}`);
    })
    .join('');
  return `[path: \`${text}\`]`;
}

/**
 * Returns the type of a rule at a place: declared parameters are optional, all others are required.
 */
function ruleType(uses: readonly (readonly [RuleUse, RequestPart])[]): string {
  const params = new Map<string, string>();
  const codes = new Set<string>();
  const parts = new Set<RequestPart>();
  for (const [{ rule, external, params: given, as }, part] of uses) {
    parts.add(part);
    if (as !== undefined) codes.add(as);
    for (const [name, value] of Object.entries(given))
      params.set(name, `${member(name)}${external ? '' : '?'}: ${typeOf(value)}`);
    for (const column of comparedColumns(given))
      params.set(column, `${member(column)}?: string | number`);
    for (const [name, type] of Object.entries(Object.hasOwn(TOLD, rule) ? (TOLD[rule] ?? {}) : {}))
      params.set(name, `${name}: ${type}`);
  }
  const members = [...params.values()].join('; ');
  return `{ params: {${members === '' ? '' : ` ${members} `}}; as: ${union([...codes])}; in: ${union([...parts])} }`;
}

function fieldType(fields: readonly Field[]): string {
  const byRule = new Map<string, [RuleUse, RequestPart][]>();
  for (const { uses, in: part } of fields)
    for (const use of uses) getOrMake(byRule, use.rule, () => []).push([use, part]);
  const rules = [...byRule].map(([rule, uses]) => `      ${member(rule)}: ${ruleType(uses)};`);
  return rules.length === 0 ? '{}' : `{\n${rules.join('\n')}\n    }`;
}

/**
 * The fields of a form by their printed pattern; one path may stand in the body and in the query.
 */
function byPath({ fields }: Form): Map<string, Field[]> {
  const found = new Map<string, Field[]>();
  for (const field of fields) {
    getOrMake(found, field.path, () => []).push(field);
  }
  return found;
}

function formType(form: Form): string {
  const literal: string[] = [];
  const open: string[] = [];
  for (const fields of byPath(form).values()) {
    const [first] = fields;
    if (!first) continue;
    const key = pathKey(first.pattern);
    // Templates that overlap would contradict each other in one type; side by side they add up.
    if (key.startsWith('[path')) open.push(`{\n    ${key}: ${fieldType(fields)};\n  }`);
    else literal.push(`    ${key}: ${fieldType(fields)};`);
  }
  return [`{\n${literal.join('\n')}\n  }`, ...open].join(' & ');
}

/** Parameters that may be left out: without one a text that can do without it is sent. */
function paramsType(params: Readonly<Record<string, unknown>>): string {
  const members = Object.entries(params).map(
    ([name, sample]) => `${member(name)}?: ${typeOf(sample)}`,
  );
  return members.length === 0 ? '{}' : `{ ${members.join('; ')} }`;
}

/** The parameters of our own problems, all numbers; whether one is known is not a parameter. */
const numbersOf = (problem: string): Readonly<Record<string, number>> =>
  Object.fromEntries(
    [...(PROBLEM_ARGUMENTS[problem] ?? []), ...(TO_TRY_AGAIN.has(problem) ? ['seconds'] : [])]
      .filter((name) => !Object.hasOwn(TELLS_WHETHER, name))
      .map((name) => [name, 0]),
  );

const HEAD = '// Written by "zeitwort types"; change the workspace and write it again.\n';

/**
 * The declarations beside a pack that is a module. They name no package, since either of two opens
 * it.
 */
export const packDeclarations = ({ locale }: { readonly locale: string }): string =>
  `// Written by "zeitwort pack".
type Named<T> = Readonly<Record<string, T>>;
declare const pack: {
  readonly pack: 1;
  readonly locale: ${quoted(locale)};
  readonly hash: string;
  readonly settings: {
    readonly original: string;
    readonly zone: string;
    readonly shorten: number;
    readonly perField: 'all' | 'first';
  };
  readonly problems: Named<{ readonly status: number }>;
  readonly messages: Named<{ readonly text: string }>;
  readonly forms: Named<any>;
};
export default pack;
`;

/** The declarations of a workspace: the same workspace gives the same text. */
export function declarations({
  forms,
  locales,
  original,
  problems,
  problemParams,
}: TypesSource): string {
  const paramsOf = (name: string): Readonly<Record<string, unknown>> =>
    problemParams.get(name) ?? numbersOf(name);
  return `${HEAD}
/** The languages of the workspace. */
export type Locale = ${union(locales)};
/** The locale that the others are translated from. */
export type OriginalLocale = ${quoted(original)};
/** Errors of the whole request. */
export type ProblemName = ${union(problems)};
/** The parameters of the texts of problems: \`params\` of \`renderProblem\`. */
export interface ProblemParams {
${problems.map((name) => `  ${member(name)}: ${paramsType(paramsOf(name))};`).join('\n')}
}
/** The path patterns of each form, as catalogs name fields. */
export interface FieldPatterns {
${forms.map((form) => `  ${member(form.id)}: ${union([...byPath(form).keys()])};`).join('\n')}
}

interface Forms {
${forms.map((form) => `  ${member(form.id)}: ${formType(form)};`).join('\n')}
}

declare global {
  /** Read by the packages that answer. */
  interface ZeitwortDeclarations {
    readonly forms: Forms;
    readonly problems: ProblemParams;
  }
}
`;
}

/** Returns the declarations with constants, for programs that list forms, fields or rules. */
export function constants(source: TypesSource): string {
  const { forms, locales, original, problems } = source;
  const list = (names: readonly string[]): string => `[${names.map(quoted).join(', ')}]`;
  const formsText = forms.map((form) => {
    const fields = [...byPath(form)].map(([path, own]) => {
      const rules = new Set(own.flatMap(({ uses }) => uses.map(({ rule }) => rule)));
      return `    ${quoted(path)}: ${list([...rules])},`;
    });
    return `  ${member(form.id)}: {\n${fields.join('\n')}\n  },`;
  });
  return `${declarations(source)}
export const LOCALES = ${list(locales)} as const;
export const ORIGINAL = ${quoted(original)} as const;
export const PROBLEMS = ${list(problems)} as const;
/** The rules of each field of each form. */
export const FORMS = {
${formsText.join('\n')}
} as const;
`;
}
