import { evaluate, type Request } from '../../src/core/rules/evaluate.js';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { withParameters } from '../../src/core/rules/parameters.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import { LookupTable } from '../../src/core/rules/table.js';
import type { Violation } from '../../src/core/rules/violation.js';
import { hasFormat } from '../../src/exchange/schema/formats.js';

export type Json = Record<string, unknown>;

const instruments = new LookupTable(
  ['code', 'retired', 'stock'],
  [
    { code: 'echelle', retired: 'no', stock: '3' },
    { code: 'plates', retired: 'yes' },
    { code: '7', retired: 'no' },
  ],
);

export function formOf(fields: Json, more: Json = {}): FormIndex {
  const { forms, remarks } = readSheet({ forms: { form: { fields, ...more } } }, 'rules.yaml');
  const [form] = forms;
  if (!form || remarks.length > 0) throw new Error(JSON.stringify(remarks));
  return new FormIndex(form);
}

export function run(index: FormIndex, request: Request): readonly Violation[] {
  return evaluate(index, withParameters(index, request), {
    zone: 'Europe/Warsaw',
    today: () => '2027-03-09',
    matches: (regex, text) => new RegExp(regex, 'u').test(text),
    hasFormat,
    looksUp: ({ column, having }, value) =>
      instruments.look(String(column), value, having as Json | undefined),
  });
}

export const said = (violations: readonly Violation[]): string[] =>
  violations.map(({ path, rule, as }) => `${path} ${as ?? rule}`);
export const broken = (fields: Json, body: unknown, more: Json = {}): string[] =>
  said(run(formOf(fields, more), { body }));
