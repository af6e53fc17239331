import { samplePathIn } from '../../rules/sample-path.js';
import type { Remark } from '../../finding.js';
import { printPath, type Pattern } from '../../path/path.js';
import type { FormIndex } from '../../rules/form-index.js';
import type { Form, RuleUse } from '../../rules/form.js';
import { membersNamed } from '../../rules/either.js';
import { fieldsIn } from '../../rules/row-conditions.js';
import { suggestion } from '../../text/closest.js';
import type { Context } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';

/** The other fields that a use names, each with what it is named for. */
function references(
  { counterpart, onlyIf, params, rule }: RuleUse,
  around: Pattern,
): { pattern: Pattern; key: 'field' | 'onlyIf' | 'having' | 'members' }[] {
  return [
    ...(counterpart ? [{ pattern: counterpart, key: 'field' as const }] : []),
    ...(onlyIf ?? []).map(({ field }) => ({ pattern: field, key: 'onlyIf' as const })),
    ...fieldsIn(params.having).map((pattern) => ({ pattern, key: 'having' as const })),
    ...membersNamed(rule, params).map((path) => ({
      pattern: [...around, ...path],
      key: 'members' as const,
    })),
  ];
}

function* unknownIn(form: Form, index: FormIndex): Generator<Remark> {
  for (const field of form.fields) {
    for (const use of field.uses) {
      for (const { pattern, key } of references(use, field.pattern)) {
        if (index.field(samplePathIn(index.form, pattern, field.in), field.in)) continue;
        const path = printPath(pattern);
        const known = form.fields.filter((one) => one.in === field.in).map((one) => one.path);
        yield {
          kind: 'unknown-field',
          form: form.id,
          path: field.path,
          rule: use.as ?? use.rule,
          message: `"${key}" names ${path}, which the form "${form.id}" has not${suggestion(path, known)}. Correct the path.`,
          spot: { ...use.origin, at: 'value' },
        };
      }
    }
  }
}

const unknownInForms = ({ subject }: Context): readonly Remark[] =>
  subject.forms.flatMap((form) => [...unknownIn(form, subject.indexOf(form))]);

export const unknownField: Kind = {
  kind: 'unknown-field',
  severity: 'error',
  about:
    'A rule names another field that its form does not declare, or a sheet adds to a field that the schema has not.',
  remedy: 'Correct the path, or declare the field.',
  example: 'lastNight: { earliest: { field: firstNigth } }',
  *find(context) {
    const { subject } = context;
    yield* context.once(unknownInForms);
    // Sheets that add to a schema's form name its fields.
    yield* subject.remarks.filter(({ kind }) => kind === 'unknown-field');
  },
};
