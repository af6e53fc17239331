import { ANY_ELEMENT, parsePattern, PathSyntaxError, printPath } from '../path/path.js';
import type { FormIndex } from '../rules/form-index.js';
import { FIELD_PLACES, type RequestPart } from '../rules/form.js';
import type { CoverageLine } from './subject/result.js';

/** A rule that was broken in production, so many times. */
export interface Sighting {
  readonly form: string;
  /** Where, as a concrete path. */
  readonly path: string;
  readonly in?: RequestPart | undefined;
  readonly rule: string;
  readonly as?: string | undefined;
  readonly count: number;
}

/** One rule of one field, as it was seen in production. */
export interface Observed {
  readonly form: string;
  /** The field's pattern, or the path itself where nobody declared it. */
  readonly path: string;
  readonly code: string;
  readonly count: number;
  /** Its line in the coverage; absent where nobody declared the rule. */
  readonly line?: CoverageLine;
}

const idOf = (form: string, place: string, path: string, code: string): string =>
  JSON.stringify([form, place, path, code]);

/** The rules that were broken in production, the most frequent first, with their declarations. */
export class Observations {
  private readonly counts = new Map<
    string,
    { form: string; place: RequestPart; path: string; code: string; count: number }
  >();
  /** How many violations were seen. */
  total = 0;

  constructor(private readonly formOf: (id: string) => FormIndex | undefined) {}

  add({ form, path, in: given, rule, as, count }: Sighting): void {
    const part = given ?? this.partOf(form, path);
    const declared = this.fieldPath(form, path, part);
    const code = as ?? rule;
    const id = idOf(form, part, declared, code);
    const known = this.counts.get(id);
    if (known) known.count += count;
    else this.counts.set(id, { form, place: part, path: declared, code, count });
    this.total += count;
  }

  /**
   * Where a path that says no part stands: the body, unless another part alone has such a field.
   */
  private partOf(form: string, path: string): RequestPart {
    const index = this.formOf(form);
    if (!index) return 'body';
    try {
      const having = FIELD_PLACES.filter((part) => index.field(index.readPath(path, part), part));
      const [only = 'body', ...more] = having;
      return more.length === 0 ? only : 'body';
    } catch (error) {
      if (error instanceof PathSyntaxError) return 'body';
      throw error;
    }
  }

  private fieldPath(form: string, path: string, part: RequestPart): string {
    const index = this.formOf(form);
    if (!index) return path;
    try {
      const concrete = index.readPath(path, part);
      // What nobody declared is no reason for a line for each element.
      const open = concrete.map((segment) => (typeof segment === 'number' ? ANY_ELEMENT : segment));
      return index.field(concrete, part)?.path ?? printPath(open);
    } catch (error) {
      if (error instanceof PathSyntaxError) return path;
      throw error;
    }
  }

  /**
   * Returns the counts as lines of a log: the lines of all parts in sequence are the log of the
   * whole.
   */
  tally(): readonly Required<Omit<Sighting, 'as'>>[] {
    return [...this.counts.values()]
      .map(({ form, place: part, path, code, count }) => ({
        form,
        path,
        in: part,
        rule: code,
        count,
      }))
      .sort((one, other) =>
        idOf(one.form, one.in, one.path, one.rule) <
        idOf(other.form, other.in, other.path, other.rule)
          ? -1
          : 1,
      );
  }

  /** All that was seen, the most frequent first. */
  sorted(matrix: readonly CoverageLine[]): Observed[] {
    const lines = new Map(
      matrix.map((line) => [idOf(line.form, line.in, normal(line.path), line.code), line]),
    );
    return [...this.counts.values()]
      .map(({ form, place: part, path, code, count }) => {
        const line = lines.get(idOf(form, part, normal(path), code));
        return { form, path, code, count, ...(line ? { line } : {}) };
      })
      .sort(
        (one, other) =>
          other.count - one.count ||
          (idOf(one.form, '', one.path, one.code) < idOf(other.form, '', other.path, other.code)
            ? -1
            : 1),
      );
  }

  /** The coverage with what was seen most first; what was never seen keeps its order behind. */
  order(matrix: readonly CoverageLine[]): CoverageLine[] {
    const seen = this.sorted(matrix).flatMap(({ line }) => line ?? []);
    const known = new Set(seen);
    return [...seen, ...matrix.filter((line) => !known.has(line))];
  }
}

function normal(path: string): string {
  try {
    return printPath(parsePattern(path));
  } catch {
    return path;
  }
}
