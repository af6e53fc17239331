import path from 'node:path';
import { parse } from 'csv-parse/sync';
import { isObject, described } from '../../core/reading.js';
import { cell } from '../../core/rules/cell.js';
import { LookupTable } from '../../core/rules/table.js';
import { suggestion } from '../../core/text/closest.js';
import { delimiterOf } from '../../exchange/delimiter.js';
import { complaint } from '../disk/complaint.js';
import type { WorkspaceFolder } from './folder.js';
import { parseJson } from '../documents/json.js';

function fromCsv(text: string, named: string): LookupTable {
  let rows: Record<string, string>[];
  let columns: string[] = [];
  try {
    rows = parse(text, {
      bom: true,
      skip_empty_lines: true,
      delimiter: delimiterOf(text),
      columns: (head: string[]) => (columns = head.map((name) => name.trim())),
    });
  } catch (error) {
    throw complaint(
      'wrong-content',
      [`this is not CSV table: ${error instanceof Error ? error.message : String(error)}`],
      {
        file: named,
      },
    );
  }
  return new LookupTable(columns, rows);
}

function fromJson(text: string, named: string): LookupTable {
  const root = parseJson(text, named, true);
  const rows: readonly unknown[] = Array.isArray(root) ? root : [];
  if (!Array.isArray(root) || !rows.every(isObject))
    throw complaint(
      'wrong-content',
      [`a table in JSON is a list of objects, not ${described(root)}`],
      { file: named },
    );
  const columns = new Set<string>();
  const texts = rows.filter(isObject).map((row) => {
    for (const name of Object.keys(row)) columns.add(name);
    return Object.fromEntries(Object.entries(row).map(([name, value]) => [name, cell(value)]));
  });
  return new LookupTable([...columns], texts);
}

/**
 * The lookup tables of a workspace: CSV (a line of names first) or JSON (a list of objects), each
 * read when first asked.
 */
export class Tables {
  private readonly opened = new Map<string, LookupTable>();

  constructor(
    private readonly files: Readonly<Record<string, string>>,
    /** Reads a file, by its name in the workspace. */
    private readonly read: (file: string) => string,
  ) {}

  /** The tables of a workspace. */
  static of({ folder, config, storage }: WorkspaceFolder): Tables {
    return new Tables(config.tables, (file) =>
      storage.text(path.join(folder, file), folder, file, 'a table'),
    );
  }

  /** The texts of all tables that the workspace names, by their files. */
  texts(): [string, string][] {
    return [...new Set(Object.values(this.files))].map((file) => [file, this.read(file)]);
  }

  /**
   * A table by its name; nothing where the workspace has none of that name.
   * @throws {Complaint} when its file cannot be read
   */
  table(name: string): LookupTable | undefined {
    const file = Object.hasOwn(this.files, name) ? this.files[name] : undefined;
    if (file === undefined) return undefined;
    let table = this.opened.get(name);
    if (!table) {
      const text = this.read(file);
      table = /\.jsonc?$/i.test(file) ? fromJson(text, file) : fromCsv(text, file);
      this.opened.set(name, table);
    }
    return table;
  }

  /** Returns the fault of a use of a table, in one sentence. */
  problem(name: string, columns: readonly string[]): string | undefined {
    const table = this.table(name);
    if (!table)
      return `There is no table "${name}"${suggestion(name, Object.keys(this.files))}; name its file under "tables" in zeitwort.yaml.`;
    const missing = columns.find((column) => !table.columns.includes(column));
    if (missing === undefined) return undefined;
    return `The table "${name}" has no column "${missing}"${suggestion(missing, table.columns)}; it has ${table.columns.join(', ')}.`;
  }
}
