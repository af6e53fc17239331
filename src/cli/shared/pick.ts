import { samplePathIn } from '../../core/rules/sample-path.js';
import {
  isPath,
  parsePattern,
  PathSyntaxError,
  printPath,
  type Path,
} from '../../core/path/path.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { codeOf, type Field, type RuleUse } from '../../core/rules/form.js';
import { suggestion } from '../../core/text/closest.js';
import { complaint } from '../../workspace/disk/complaint.js';

/**
 * The field that a path, a pattern or a JSON Pointer names, with a concrete path to it.
 * @throws {Complaint} when the form has none there
 */
export function fieldAt(text: string, form: FormIndex): { field: Field; path: Path } {
  try {
    const pattern = text.startsWith('/') ? form.readPath(text, 'body') : parsePattern(text);
    const field =
      form.field(pattern, 'body') ??
      form.form.fields.find((one) => one.path === printPath(pattern));
    if (field)
      return {
        field,
        path: isPath(pattern) ? pattern : samplePathIn(form.form, pattern, field.in),
      };
    const near = suggestion(
      printPath(pattern),
      form.form.fields.map((one) => one.path),
    );
    throw complaint('unknown-path', [text, form.form.id, near]);
  } catch (error) {
    throw error instanceof PathSyntaxError ? complaint('wrong-use', [error.message]) : error;
  }
}

/** The use of a rule on a field, by its own key or by the rule. */
export function useOf(rule: string, field: Field): RuleUse {
  const use =
    field.uses.find((one) => codeOf(one) === rule) ?? field.uses.find((one) => one.rule === rule);
  if (use) return use;
  const known = field.uses.map(codeOf);
  throw complaint('wrong-use', [
    `${field.path} has no rule "${rule}"${suggestion(rule, known)}; its rules are ${known.join(', ') || 'none'}`,
  ]);
}
