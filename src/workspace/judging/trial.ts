import { declaredTypes, FILE } from '../../core/rules/types.js';
import { samplePathIn } from '../../core/rules/sample-path.js';
import type { Remark } from '../../core/finding.js';
import { isObject } from '../../core/reading.js';
import type { Form, RuleUse } from '../../core/rules/form.js';
import { printPath } from '../../core/path/path.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import type { Violation } from '../../core/rules/violation.js';
import type { FieldExample } from '../../exchange/schema/walk.js';
import type { Judge } from './judge.js';
import { Complaint } from '../disk/complaint.js';
import { Tables } from '../reading/tables.js';
import type { Workspace } from '../reading/workspace.js';
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
      const bounds = uses.flatMap(({ rule, params }) =>
        rule === 'maxLength' ? [Number(params.max)] : [],
      );
      for (const use of uses) {
        const value = use.external ? undefined : use.params[parameter];
        if (typeof value === 'string')
          yield { form, path, use, value, longest: Math.min(...bounds) };
      }
    }
  }
}

/** Lookup tables that rules name and that are not there, or lack a column. */
export function tableProblems(workspace: Workspace): Remark[] {
  const tables = Tables.of(workspace);
  return [...usesWith(workspace, 'table')].flatMap(({ form, path, use, value }): Remark[] => {
    const { column, having } = use.params;
    const about = {
      form: form.id,
      path,
      rule: use.rule,
      spot: { ...use.origin, at: 'value' as const },
    };
    const problem = tables.problem(value, [
      String(column),
      ...(isObject(having) ? Object.keys(having) : []),
    ]);
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

/** So many broken rules of one example are named. */
const MOST_NAMED = 3;

/** Returns the rules that an example breaks in its own schema. */
function brokenBy(example: FieldExample, index: FormIndex, judge: Judge): readonly Violation[] {
  const { pattern, in: part, value } = example;
  if (pattern.length === 0)
    return judge
      .judge(index, { [part]: value })
      .violations.filter((one) => (one.in ?? 'body') === part);
  const field = index.field(pattern, part);
  const path = samplePathIn(index.form, pattern, part);
  // Parts of an absent whole are judged rule by rule; rules that depend on other fields are
  // skipped.
  const uses = (field?.uses ?? []).filter(
    (use) => !use.within && !use.counterpart && !use.onlyIf && !use.external,
  );
  return field ? uses.flatMap((use) => judge.single(index, field, use, path, value, {})) : [];
}

/** Whether an example has a text where a file is sent: documents have no other way to show one. */
function standsForFile({ path, in: part = 'body', value }: Violation, index: FormIndex): boolean {
  if (typeof value !== 'string') return false;
  const field = index.field(index.readPath(path, part), part);
  return declaredTypes(field?.uses ?? []).includes(FILE);
}

/** Examples that break their own schemas: whoever reads them sends what is refused. */
export function exampleProblems(workspace: Workspace): Remark[] {
  const judge = judgeOf(workspace);
  const seen = new Set<string>();
  return [...workspace.schemas].flatMap(([id, { parts }]) =>
    parts.examples.flatMap((example): Remark[] => {
      const { origin, pattern } = example;
      // What several forms refer to is written once.
      const where = JSON.stringify([origin.file, origin.keys]);
      if (seen.has(where)) return [];
      seen.add(where);
      const index = workspace.form(id);
      const broken = tried(() => brokenBy(example, index, judge)).filter(
        (violation) => !standsForFile(violation, index),
      );
      if (broken.length === 0) return [];
      const named = [
        ...new Set(
          broken.map(({ path, rule }) =>
            path === '' || pattern.length > 0 ? rule : `${rule} at ${path}`,
          ),
        ),
      ];
      const more = named.length > MOST_NAMED ? ` and ${named.length - MOST_NAMED} more` : '';
      const message = `This example breaks its own schema: ${named.slice(0, MOST_NAMED).join(', ')}${more}. Correct one of the two.`;
      return [
        {
          kind: 'wrong-example',
          form: id,
          path: printPath(pattern),
          message,
          spot: { ...origin, at: 'value' },
        },
      ];
    }),
  );
}

/** Returns nothing where judging fails, since another finding reports that. */
function tried(work: () => readonly Violation[]): readonly Violation[] {
  try {
    return work();
  } catch (error) {
    if (error instanceof Error && (error.name === 'OutOfTime' || error instanceof Complaint))
      return [];
    throw error;
  }
}
