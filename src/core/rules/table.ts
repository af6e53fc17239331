import { getOrMake } from '../base/get-or-make.js';
import { cell } from './cell.js';
import { fulfils } from './row-conditions.js';

type Row = Readonly<Record<string, string>>;

/** The row of a table for a value: the one that matches, else the first with the value. */
export interface Found {
  readonly fits: boolean;
  readonly row: Row | undefined;
}

/**
 * A stand-in for what the backend looks up: rows of texts by column. Each column is indexed when it
 * is first asked for.
 */
export class LookupTable {
  private readonly indexes = new Map<string, ReadonlyMap<string, readonly Row[]>>();

  constructor(
    readonly columns: readonly string[],
    private readonly rows: readonly Row[],
  ) {}

  /**
   * Whether a row has the value in the column, as `look` says.
   * @returns undefined where there is no such column
   */
  has(
    column: string,
    value: unknown,
    having: Readonly<Record<string, unknown>> = {},
  ): boolean | undefined {
    return this.look(column, value, having)?.fits;
  }

  /**
   * Looks for a row that has the value in the column.
   * @param having what other columns of that row must hold: values, or comparisons with them
   * @returns undefined where there is no such column
   */
  look(
    column: string,
    value: unknown,
    having: Readonly<Record<string, unknown>> = {},
  ): Found | undefined {
    const conditions = Object.entries(having);
    if (![column, ...conditions.map(([name]) => name)].every((name) => this.columns.includes(name)))
      return undefined;
    const rows = this.index(column).get(cell(value)) ?? [];
    const fitting = rows.find((row) =>
      conditions.every(([name, wanted]) => fulfils(row[name], wanted)),
    );
    return { fits: fitting !== undefined, row: fitting ?? rows[0] };
  }

  /** The rows by what stands in a column, found once. */
  private index(column: string): ReadonlyMap<string, readonly Row[]> {
    let index = this.indexes.get(column);
    if (!index) {
      const rows = new Map<string, Row[]>();
      for (const row of this.rows) {
        const text = row[column] ?? '';
        getOrMake(rows, text, () => []).push(row);
      }
      this.indexes.set(column, (index = rows));
    }
    return index;
  }
}
