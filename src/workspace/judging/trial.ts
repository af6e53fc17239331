import type { Remark } from '../../core/finding.js';
import { isObject } from '../../core/reading.js';
import type { Form, RuleUse } from '../../core/rules/form.js';
import { Complaint } from '../complaint.js';
import { Tables } from '../tables.js';
import type { Workspace } from '../workspace.js';
import { judgeOf } from './rulings.js';

interface Used {
  readonly form: Form;
  readonly path: string;
  readonly use: RuleUse;
  /** The longest text that other rules of the field let through. */
  readonly longest: number;
  readonly value: string;
}

/** The uses of rules with a parameter that is a text. */
export function* usesWith(workspace: Workspace, parameter: string): Generator<Used> {
  for (const { form } of workspace.forms.values()) {
    for (const { path, uses } of form.fields) {
      const bounds = uses.flatMap(({ rule, params }) => (rule === 'maxLength' ? [Number(params.max)] : []));
      for (const use of uses) {
        const value = use.external ? undefined : use.params[parameter];
        if (typeof value === 'string') yield { form, path, use, value, longest: Math.min(...bounds) };
      }
    }
  }
}

/** Lookup tables that rules name and that are not there, or lack a column. */
export function tableProblems(workspace: Workspace): Remark[] {
  const tables = Tables.of(workspace);
  return [...usesWith(workspace, 'table')].flatMap(({ form, path, use, value }): Remark[] => {
    const { column, having } = use.params;
    const about = { form: form.id, path, rule: use.rule, spot: { ...use.origin, at: 'value' as const } };
    const problem = tables.problem(value, [String(column), ...(isObject(having) ? Object.keys(having) : [])]);
    if (problem !== undefined) return [{ ...about, kind: 'wrong-structure', message: problem }];
    // What no row has lets nothing through, or everything.
    return Object.entries(isObject(having) ? having : {}).flatMap(([name, wanted]): Remark[] => {
      // What is compared with hangs on the request.
      if (isObject(wanted) || tables.table(value)?.has(name, wanted) !== false) return [];
      const message = `A condition of "${use.as ?? use.rule}" can never hold: no row of the table "${value}" has ${JSON.stringify(wanted)} in "${name}". Correct it.`;
      return [{ ...about, kind: 'idle-condition', message }];
    });
  });
}

/** Forms whose schemas cannot be compiled, and so would fail when the first request comes. */
export function schemaProblems(workspace: Workspace): Remark[] {
  if (workspace.schemas.size === 0) return [];
  const judge = judgeOf(workspace);
  return [...workspace.schemas].flatMap(([id, { about }]): Remark[] => {
    try {
      judge.prepare(workspace.form(id));
      return [];
    } catch (error) {
      if (!(error instanceof Complaint)) throw error;
      const message = `${error.sentence.charAt(0).toUpperCase()}${error.sentence.slice(1)}.`;
      return [{ kind: 'wrong-structure', form: id, message, spot: { ...about.origin, at: 'value' } }];
    }
  });
}
