import { isObject } from '../core/reading.js';
import type { Params } from '../core/rules/definition.js';
import { evaluate, type Request, type Surroundings } from '../core/rules/evaluate.js';
import type { FormIndex } from '../core/rules/form-index.js';
import { dayOf } from '../core/rules/timeline.js';
import type { Violation } from '../core/violation/violation.js';
import { hasFormat } from '../exchange/schema/formats.js';
import { schemaEvaluator } from '../exchange/schema/run.js';
import { RegexGuard } from './regex-guard.js';
import { Tables } from './tables.js';
import type { Workspace } from './workspace.js';

export type Evaluator = (request: Request) => Violation[];

/** Runs requests against the forms of a workspace. This is loaded only by what runs payloads: the validators are large. */
export class Evaluators {
  readonly guard = new RegexGuard();
  readonly surroundings: Surroundings;
  private readonly made = new Map<FormIndex, Evaluator>();

  /** @param now the clock, for rules that speak of today */
  constructor(
    private readonly workspace: Workspace,
    now: () => Date = () => new Date(),
  ) {
    const { zone, tables: files } = workspace.config;
    const tables = new Tables(workspace.folder, files);
    this.surroundings = {
      zone,
      today: () => dayOf({ at: now() }, zone),
      matches: this.guard.matches,
      hasFormat,
      knows: ({ table, column, having }: Params, value) =>
        tables.table(String(table))?.has(String(column), value, isObject(having) ? having : {}),
    };
  }

  /** What evaluates requests to a form, made once. */
  of(index: FormIndex): Evaluator {
    let evaluator = this.made.get(index);
    if (!evaluator) {
      const schema = this.workspace.schemas.get(index.form.id);
      evaluator = schema
        ? schemaEvaluator(schema, index, this.guard.matches)
        : (request: Request) => evaluate(index, request, this.surroundings);
      this.made.set(index, evaluator);
    }
    return evaluator;
  }
}
