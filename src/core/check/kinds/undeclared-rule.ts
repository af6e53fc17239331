import type { Remark } from '../../finding.js';
import type { Form, RuleUse } from '../../rules/form.js';
import { valueText } from '../../text/value.js';
import type { Kind } from '../subject/kind.js';

/** How a sheet declares a rule of a field: the line to add. */
function line({ id }: Form, path: string, { rule, params }: RuleUse): string {
  const written = Object.entries(params).map(([name, value]) => `${name}: ${valueText(value, 40)}`);
  const declared = written.length === 0 ? 'true' : `{ ${written.join(', ')} }`;
  return `${id}: { adds: true, fields: { '${path}': { external: { ${rule}: ${declared} } } } }`;
}

function* undeclaredIn(form: Form): Generator<Remark> {
  for (const { path, uses } of form.fields) {
    for (const use of uses) {
      if (!use.undeclared) continue;
      yield {
        kind: 'undeclared-rule',
        form: form.id,
        path,
        rule: use.rule,
        message: `Code tests "${use.rule}" of ${path || 'the whole body'}, and no sheet declares it. Add to "forms" of a sheet: ${line(form, path, use)}`,
        spot: { ...use.origin, at: 'key' },
      };
    }
  }
}

export const undeclaredRule: Kind = {
  kind: 'undeclared-rule',
  severity: 'warning',
  about:
    'A schema made from code has a rule of its own (a refinement with a name), and no sheet declares its parameters.',
  remedy:
    'Declare it in a sheet that adds to the form, with its parameters: then texts can use them and types know them.',
  example: '.refine(fits, { params: { rule: "fits-the-night" } })   // in no sheet',
  *findInRules({ subject }) {
    for (const form of subject.forms) yield* undeclaredIn(form);
  },
};
