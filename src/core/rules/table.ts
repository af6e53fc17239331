/** A stand-in for what the backend looks up: rows of texts by column. Each question's column is indexed when first asked. */
export class LookupTable {
  private readonly indexes = new Map<string, ReadonlySet<string>>();

  constructor(
    readonly columns: readonly string[],
    private readonly rows: readonly Readonly<Record<string, string>>[],
  ) {}

  /**
   * Whether a row has the value in the column.
   * @param having what other columns of that row must hold
   * @returns undefined where there is no such column
   */
  has(column: string, value: unknown, having: Readonly<Record<string, unknown>> = {}): boolean | undefined {
    const conditions = Object.entries(having).sort(([one], [other]) => (one < other ? -1 : 1));
    if (![column, ...conditions.map(([name]) => name)].every((name) => this.columns.includes(name))) return undefined;
    const key = JSON.stringify([column, conditions]);
    let index = this.indexes.get(key);
    if (!index) {
      const rows = this.rows.filter((row) => conditions.every(([name, wanted]) => row[name] === cell(wanted)));
      this.indexes.set(key, (index = new Set(rows.map((row) => row[column] ?? ''))));
    }
    return index.has(cell(value));
  }
}

/** A value as it stands in a table. */
export const cell = (value: unknown): string =>
  typeof value === 'string' ? value : value === undefined ? '' : JSON.stringify(value);
