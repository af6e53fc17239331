import { FormIndex } from '../../src/core/rules/form-index.js';
import { withParameters } from '../../src/core/rules/parameters.js';
import type { Violation } from '../../src/core/rules/violation.js';
import { Documents } from '../../src/exchange/schema/documents.js';
import { readSchemas, type SchemaForm } from '../../src/exchange/schema/read.js';
import { schemaJudge, Validators } from '../../src/exchange/schema/run.js';

export const matches = (regex: string, text: string): boolean => new RegExp(regex, 'u').test(text);

export interface Read {
  schema: SchemaForm;
  index: FormIndex;
  remarks: string[];
}

export function read(
  root: unknown,
  files: Record<string, unknown> = {},
  name = 'forms/proposal.schema.json',
): Read[] {
  const documents = new Documents((file) => (file in files ? { root: files[file] } : undefined));
  documents.open(name, root);
  const { forms, remarks } = readSchemas(name, documents);
  return forms.map((schema) => ({
    schema,
    index: new FormIndex(schema.parts.form),
    remarks: remarks.map(({ message }) => message),
  }));
}

export function only(root: unknown, files: Record<string, unknown> = {}): Read {
  const [first] = read(root, files);
  if (!first) throw new Error('no form');
  return first;
}

/** Of all tests: what forms of one document have in common they run together, as in a service. */
const validators = new Validators(matches);
export const judgeOf = ({ schema, index }: Read): ReturnType<typeof schemaJudge> => {
  const judge = schemaJudge(schema, index, validators);
  return (request) => judge(withParameters(index, request));
};
export const run = (
  form: Read,
  request: Parameters<ReturnType<typeof schemaJudge>>[0],
): readonly Violation[] => judgeOf(form)(request).violations;
/** A violation in one line: its place, its rule, and what it tells. */
export const violationLine = ({ path, in: part, rule, as, params }: Violation): string =>
  [
    part && `${part}:`,
    path || '/',
    as ? `${rule} as ${as}` : rule,
    params ? JSON.stringify(params) : '',
  ]
    .filter(Boolean)
    .join(' ');
export const said = (violations: readonly Violation[]): string[] =>
  violations.map(({ path: at, rule }) => `${at} ${rule}`);
export const broken = (
  root: unknown,
  body: unknown,
  files: Record<string, unknown> = {},
): string[] => said(run(only(root, files), { body }));
export const rules = ({ schema }: Read): string[] =>
  schema.parts.form.fields.flatMap(({ path: at, uses }) =>
    uses.map(({ rule, params }) => `${at} ${rule} ${JSON.stringify(params)}`),
  );

/** What is told of a schema once its form was read. */
export function remarksOf(root: unknown): string[] {
  const documents = new Documents(() => undefined);
  documents.open('forms/proposal.schema.json', root);
  const { forms, remarks } = readSchemas('forms/proposal.schema.json', documents);
  // A form is read when somebody asks for its parts.
  return forms.every(({ parts }) => parts.form.id !== '')
    ? remarks.map(({ message }) => message)
    : ['a form without a name'];
}
