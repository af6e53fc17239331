import { isObject } from '../../core/reading.js';
import { judgeWithAdditions } from '../../core/rules/additions.js';
import type { Params } from '../../core/rules/definition.js';
import {
  evaluateUse,
  judge,
  type Judgement,
  type Request,
  type Surroundings,
} from '../../core/rules/evaluate.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import type { Field, RuleUse } from '../../core/rules/form.js';
import { withParameters } from '../../core/rules/parameters.js';
import { trimmed } from '../../core/rules/trim.js';
import { dayOf } from '../../core/rules/timeline.js';
import type { Path } from '../../core/path/path.js';
import type { Violation } from '../../core/rules/violation.js';
import { hasFormat } from '../../exchange/schema/formats.js';
import type { SchemaForm } from '../../exchange/schema/read.js';
import { schemaJudge, Validators } from '../../exchange/schema/run.js';
import { complaint } from '../disk/complaint.js';
import type { Tables } from '../reading/tables.js';
import { Watch } from './watch.js';

/** The data that requests are judged with. */
export interface Rulings {
  readonly schemas: ReadonlyMap<string, SchemaForm>;
  readonly tables: Tables;
  /** The IANA zone in which an instant belongs to a day. */
  readonly zone: string;
}

export interface JudgeOptions {
  /** The clock, for rules that speak of today. */
  readonly now?: (() => Date) | undefined;
  /** Milliseconds for one request. */
  readonly budget?: number | undefined;
}

/**
 * Judges requests, each within one budget. This is loaded only by what runs payloads: the
 * validators are large.
 */
export class Judge {
  readonly watch: Watch;
  private readonly surroundings: Surroundings;
  private readonly validators: Validators;
  private readonly made = new Map<FormIndex, (request: Request) => Judgement>();

  constructor(
    private readonly rulings: Rulings,
    { now = () => new Date(), budget }: JudgeOptions = {},
  ) {
    this.watch = new Watch(budget);
    this.validators = new Validators(this.watch.matches);
    const { zone, tables } = rulings;
    this.surroundings = {
      zone,
      today: () => dayOf({ at: now() }, zone),
      matches: this.watch.matches,
      hasFormat,
      looksUp: ({ table, column, having }: Params, value) => {
        const conditions = isObject(having) ? having : {};
        const [name, wanted] = [String(table), String(column)];
        const problem = tables.problem(name, [wanted, ...Object.keys(conditions)]);
        // To take everything for known because the list is gone would be the worst of answers.
        if (problem !== undefined) throw complaint('wrong-content', [problem]);
        return tables.table(name)?.look(wanted, value, conditions);
      },
    };
  }

  /**
   * Makes ready what a form is judged by, outside of any budget: it is the workspace's, not a
   * client's.
   * @throws {Complaint} when a schema cannot be compiled
   */
  prepare(index: FormIndex): (request: Request) => Judgement {
    let made = this.made.get(index);
    if (!made) {
      const schema = this.rulings.schemas.get(index.form.id);
      const judged = schema
        ? this.ofSchema(schema, index)
        : (request: Request) => judge(index, request, this.surroundings);
      made = (request) => judged(withParameters(index, request));
      this.made.set(index, made);
    }
    return made;
  }

  private ofSchema(schema: SchemaForm, index: FormIndex): (request: Request) => Judgement {
    const { id, origin } = schema.about;
    const refused = (error: unknown): Error => {
      const thrown = error instanceof Error ? error : new Error(String(error));
      if (thrown.name === 'OutOfTime' || thrown.name === 'Complaint') return thrown;
      const why =
        thrown.name === 'RangeError'
          ? 'it refers to itself without end'
          : (thrown.message.split('\n', 1)[0] ?? '');
      return complaint(
        'wrong-content',
        [`requests to "${id}" cannot be validated by this schema: ${why}; correct it`],
        {
          file: origin.file,
        },
      );
    };
    const guarded =
      <A extends unknown[], T>(work: (...args: A) => T) =>
      (...args: A): T => {
        try {
          return work(...args);
        } catch (error) {
          throw refused(error);
        }
      };
    const bySchema = guarded(guarded(() => schemaJudge(schema, index, this.validators))());
    const whole = judgeWithAdditions(index, bySchema, this.surroundings);
    return index.form.fields.some(({ trim }) => trim)
      ? (request) => whole(trimmed(index, request))
      : whole;
  }

  /**
   * Judges a request to a form.
   * @throws {OutOfTime} when that takes longer than the budget
   */
  judge(index: FormIndex, request: Request): Judgement {
    const judged = this.prepare(index);
    return this.watch.within(() => judged(request));
  }

  /**
   * Holds one value against one use of a rule alone.
   * @throws {OutOfTime}
   */
  single(
    index: FormIndex,
    field: Field,
    use: RuleUse,
    path: Path,
    value: unknown,
    request: Request,
  ): readonly Violation[] {
    return this.watch.within(() =>
      evaluateUse(index, field, use, path, value, request, this.surroundings),
    );
  }
}
