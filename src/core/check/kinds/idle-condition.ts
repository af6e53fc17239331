import type { Remark } from '../../finding.js';
import { printPath } from '../../path/path.js';
import { isAmong } from '../../rules/equality.js';
import type { Condition, Field, Form, RuleUse } from '../../rules/form.js';
import { isOfType, typesOf } from '../../rules/types.js';
import type { Kind } from '../subject/kind.js';

/** Returns the unconditional uses of a rule. */
const settled = ({ uses }: Field, rule: string): readonly RuleUse[] =>
  uses.filter((use) => use.rule === rule && !use.onlyIf && !use.counterpart && !use.within);

/** Why a field can never hold a value; nothing where it may. */
function refusal(field: Field, value: unknown): string | undefined {
  for (const { params } of settled(field, 'enum')) {
    const choices = Array.isArray(params.choices) ? (params.choices as unknown[]) : [];
    if (!isAmong(value, choices))
      return `it is one of ${choices.map((one) => JSON.stringify(one)).join(', ')}`;
  }
  for (const { params } of settled(field, 'const'))
    if (!isAmong(value, [params.expected]))
      return `it is always ${JSON.stringify(params.expected)}`;
  for (const { params } of settled(field, 'type')) {
    const types = typesOf(params.expected);
    if (!types.some((type) => isOfType(value, type))) return `its type is ${types.join(' or ')}`;
  }
  return undefined;
}

function* troubles(
  form: Form,
  at: Field,
  { field: pattern, values, absent }: Condition,
): Generator<string> {
  const path = printPath(pattern);
  const field = form.fields.find((one) => one.path === path && one.in === at.in);
  // That there is none is another finding.
  if (!field) return;
  if (
    absent === true &&
    !form.partial &&
    settled(field, 'required').length > 0 &&
    pattern.length === 1
  )
    yield `${path} is required, so it is never absent`;
  for (const value of values ?? []) {
    const why = refusal(field, value);
    if (why !== undefined) yield `${path} is never ${JSON.stringify(value)}: ${why}`;
  }
}

function* idleIn(form: Form): Generator<Remark> {
  for (const field of form.fields) {
    for (const use of field.uses) {
      for (const condition of use.onlyIf ?? []) {
        for (const why of troubles(form, field, condition))
          yield {
            kind: 'idle-condition',
            form: form.id,
            path: field.path,
            rule: use.as ?? use.rule,
            message: `A condition of "${use.as ?? use.rule}" can never hold: ${why}. Correct it.`,
            spot: { ...use.origin, at: 'value' },
          };
      }
    }
  }
}

export const idleCondition: Kind = {
  kind: 'idle-condition',
  severity: 'error',
  about:
    'A condition asks for what no request can hold, often a misspelt value, so its rule never applies as intended.',
  remedy: 'Correct the value or the path, or take the condition out.',
  example:
    'mirror: { maximum: { max: 3, onlyIf: { instrument: echell } } }   # there is only echelle',
  *findInRules({ subject }) {
    // Conditions on tables, which whoever reads files looks into.
    yield* subject.remarks.filter(({ kind }) => kind === 'idle-condition');
    for (const form of subject.forms) yield* idleIn(form);
  },
};
