import { printPath } from '../../core/path/path.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import type { Field, Form, RuleUse } from '../../core/rules/form.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { counted, paint, width } from './out.js';
import { table, wrap } from './table.js';

/** So many values of a list are shown; JSON has all of them. */
const MOST_SHOWN = 12;

function shown(value: unknown): string {
  if (typeof value === 'string') return value;
  if (!Array.isArray(value) || value.length <= MOST_SHOWN) return JSON.stringify(value);
  const some = (value.slice(0, MOST_SHOWN) as unknown[]).map((one) => JSON.stringify(one));
  return `[${some.join(',')}, … ${value.length} in all]`;
}

/**
 * A use in one line: `maxLength 120`, `range min 0.1, max 9`, `earliest firstNight`, `too-faint
 * (maximum) 21`.
 */
function useText(use: RuleUse): string {
  const { rule, as, params, counterpart, onlyIf } = use;
  const main = VOCABULARY.get(rule)?.parameters[0]?.name;
  const entries = Object.entries(params);
  const [only] = entries;
  const parameters =
    entries.length === 1 && only && only[0] === main
      ? [shown(only[1])]
      : entries.map(([name, value]) => `${name} ${shown(value)}`);
  const words = [...parameters, ...(counterpart ? [printPath(counterpart)] : [])].join(', ');
  const conditions = (onlyIf ?? []).map(({ field, values, absent }) => {
    const state =
      absent === undefined
        ? `is ${(values ?? []).map(shown).join(' or ')}`
        : absent
          ? 'is absent'
          : 'is given';
    return `${printPath(field)} ${state}`;
  });
  return [
    as === undefined ? rule : `${as} (${rule})`,
    ...(words === '' ? [] : [words]),
    ...(conditions.length > 0 ? [`if ${conditions.join(' and ')}`] : []),
    ...(use.external ? ['(checked by the backend)'] : []),
    ...(use.implied ? ['(implied)'] : []),
  ].join(' ');
}

function fieldName({ path, in: part, secret, optional, trim }: Field): string {
  const marks = [
    ...(part === 'body' ? [] : [part]),
    ...(secret ? ['secret'] : []),
    ...(optional ? ['optional'] : []),
    ...(trim ? ['trimmed'] : []),
  ];
  return (path || 'the body') + (marks.length > 0 ? ` (${marks.join(', ')})` : '');
}

/**
 * The definitions that stand at each field, as the fields below them are named: by the field's
 * pattern.
 */
function standing({ joins = [] }: Form): ReadonlyMap<Field['pattern'], readonly string[]> {
  const found = new Map<Field['pattern'], string[]>();
  for (const { pattern, root } of joins)
    found.set(pattern, [...(found.get(pattern) ?? []), printPath([root])]);
  return found;
}

/** Forms, fields and rules for people, each with the place where it was declared. */
export function rulesText(forms: readonly FormIndex[], workspace: Workspace): string {
  if (forms.length === 0) return 'No forms.';
  const blocks = forms.map(({ form }) => {
    const definitions = standing(form);
    const rows = form.fields.flatMap((field) => {
      const as = definitions.get(field.pattern);
      const lines: readonly (RuleUse | string)[] = [
        ...field.uses,
        ...(as ? [`all rules of ${as.join(', ')}`] : []),
      ];
      return (lines.length > 0 ? lines : [paint.dim('no rule')]).map((line, at) => {
        const use = typeof line === 'string' ? undefined : line;
        const location = workspace.place({ ...(use?.origin ?? field.origin), at: 'key' });
        return {
          name: at === 0 ? fieldName(field) : '',
          rule: typeof line === 'string' ? line : useText(line),
          place: `${location.file}:${location.line ?? 1}`,
        };
      });
    });
    const names = Math.max(...rows.map(({ name }) => name.length), 5);
    const places = Math.max(...rows.map(({ place }) => place.length), 5);
    const room = Math.max(20, width() - names - places - 6);
    const head = [
      paint.bold(form.id),
      form.request ?? '',
      form.partial ? '(asks only for what is sent)' : '',
    ]
      .filter((part) => part !== '')
      .join('  ');
    const body = table(
      [{ head: paint.dim('field') }, { head: paint.dim('rule') }, { head: paint.dim('declared') }],
      rows.map(({ name, rule, place }) => [
        `  ${name}`.trimEnd(),
        wrap(rule, room).join('\n'),
        paint.dim(place),
      ]),
    );
    return `${head}\n${body}`;
  });
  const { passedOver } = workspace.book;
  const notRead = passedOver.map(
    ({ request, types }) =>
      `${request} takes ${types.join(', ')}: fields of such a body are not read.`,
  );
  const fields = forms.reduce((sum, { form }) => sum + form.fields.length, 0);
  const uses = forms.reduce(
    (sum, { form }) => sum + form.fields.reduce((inner, field) => inner + field.uses.length, 0),
    0,
  );
  return [
    ...blocks,
    ...(notRead.length > 0 ? [notRead.join('\n')] : []),
    `${counted(forms.length, 'form')}, ${counted(fields, 'field')}, ${counted(uses, 'rule')}`,
  ].join('\n\n');
}

function useJson(use: RuleUse, workspace: Workspace): object {
  const { file, line } = workspace.place({ ...use.origin, at: 'key' });
  return {
    rule: use.rule,
    ...(use.as === undefined ? {} : { as: use.as }),
    params: { ...use.params, ...(use.counterpart ? { field: printPath(use.counterpart) } : {}) },
    ...(use.onlyIf
      ? {
          onlyIf: Object.fromEntries(
            use.onlyIf.map(({ field, values, absent }) => [
              printPath(field),
              absent === undefined ? values : { absent },
            ]),
          ),
        }
      : {}),
    ...(use.external ? { external: true } : {}),
    ...(use.implied ? { implied: true } : {}),
    file,
    line,
  };
}

/** Returns the rules as JSON. */
export function rulesJson(forms: readonly FormIndex[], workspace: Workspace): object {
  const { passedOver } = workspace.book;
  return {
    ...(passedOver.length > 0
      ? { passedOver: passedOver.map(({ request, types }) => ({ request, types })) }
      : {}),
    forms: forms
      .map(({ form }) => ({ form, definitions: standing(form) }))
      .map(({ form, definitions }) => ({
        form: form.id,
        request: form.request,
        ...(form.partial ? { partial: true } : {}),
        fields: form.fields.map((field) => ({
          path: field.path,
          ...(field.in === 'body' ? {} : { in: field.in }),
          ...(field.secret ? { secret: true } : {}),
          ...(field.optional ? { optional: true } : {}),
          ...(field.trim ? { trim: true } : {}),
          rules: field.uses.map((use) => useJson(use, workspace)),
          ...(definitions.has(field.pattern)
            ? { definitions: definitions.get(field.pattern) }
            : {}),
        })),
      })),
  };
}
