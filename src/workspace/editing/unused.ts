import { isOffered } from '../../core/check/kinds/offers.js';
import { rowsOf, type Row } from '../../core/check/subject/context.js';
import { meet } from '../../core/path/cover.js';
import { printPath, type Pattern } from '../../core/path/path.js';
import type { Form } from '../../core/rules/form.js';
import { suggestion } from '../../core/text/closest.js';
import { speaksOf } from '../../core/texts/form-set.js';
import type { Address } from '../../core/texts/purpose.js';
import { readMessage } from '../../core/message/parse.js';
import { Signature } from '../../core/message/signature.js';
import { argumentsOf } from '../../core/message/tree.js';
import type { Workspace } from '../reading/workspace.js';
import { patternOf } from '../reading/address.js';

const keyOf = (value: unknown): string =>
  typeof value === 'string' ? value : JSON.stringify(value);

function formsFor(workspace: Workspace, { form }: Address): Form[] {
  const all = [...workspace.forms.values()].map((index) => index.form);
  return all.filter(({ id }) => speaksOf(form, id));
}

/** The fields of a form that a pattern speaks of, and those inside of what it speaks of. */
const fieldsAt = ({ fields }: Form, pattern: Pattern): Form['fields'] =>
  fields.filter(
    (field) =>
      meet(field.pattern, pattern) !== undefined ||
      (field.pattern.length > pattern.length &&
        meet(field.pattern.slice(0, pattern.length), pattern) !== undefined),
  );

/** The rules that a message would be for. */
export function rowsMeeting(workspace: Workspace, address: Address): readonly Row[] {
  const pattern = address.path === undefined ? undefined : patternOf(address.path);
  return rowsOf(formsFor(workspace, address)).filter(
    ({ field, keys }) =>
      keys.includes(address.key) && (!pattern || meet(field.pattern, pattern) !== undefined),
  );
}

/**
 * Why nothing would ever use a text under an address: a rule, field, value or problem that there is
 * none of; else nothing.
 */
export function unusedBecause(workspace: Workspace, address: Address): string | undefined {
  const { kind, key, path } = address;
  if (kind === 'frame' || kind === 'word') return undefined;
  if (kind === 'problem') {
    const [id = ''] = key.split(' ');
    const known = workspace.config.statuses.keys();
    return workspace.config.statuses.has(id)
      ? undefined
      : `there is no problem "${id}"${suggestion(id, known)}`;
  }
  const forms = formsFor(workspace, address);
  const pattern = path === undefined ? undefined : patternOf(path);
  const fields = forms.flatMap((form) => (pattern ? fieldsAt(form, pattern) : form.fields));
  if (path !== undefined && fields.length === 0) {
    const known = forms.flatMap((form) => form.fields.map((field) => field.path));
    return `no form has a field at ${path || 'the whole body'}${suggestion(path, known)}`;
  }
  const owner = path === undefined ? 'any form' : printPath(pattern ?? []) || 'the whole body';
  // Rules that only the backend knows are not listed for a form from a schema.
  const isOpen = forms.some(({ id }) => workspace.book.isOpen(id));
  if (
    (kind === 'message' || kind === 'inline') &&
    !isOpen &&
    rowsMeeting(workspace, address).length === 0
  ) {
    const known = rowsOf(forms).flatMap((row) => (fields.includes(row.field) ? row.keys : []));
    return `no rule of ${owner} is called "${key}"${suggestion(key, known)}`;
  }
  if (kind !== 'choice') return undefined;
  const values = fields.flatMap(({ uses }) =>
    uses.flatMap(({ params }) => [
      ...(Array.isArray(params.choices) ? (params.choices as unknown[]) : []),
      ...('expected' in params ? [params.expected] : []),
    ]),
  );
  const known = values.map(keyOf);
  return known.length === 0 || known.includes(key)
    ? undefined
    : `no rule of ${owner} lists "${key}"${suggestion(key, known)}`;
}

/**
 * An argument of a message that no rule that it is for can give; nothing where all can be given by
 * one of them.
 */
export function unsayable(
  workspace: Workspace,
  address: Address,
  { names }: Signature,
): string | undefined {
  if (address.kind !== 'message' && address.kind !== 'inline') return undefined;
  const rows = rowsMeeting(workspace, address);
  if (rows.length === 0) return undefined;
  return [...names].find((name) => !rows.some((row) => isOffered(row, name)));
}

/** The arguments of a message. @throws {MessageError} where it is none */
export function signatureIn(message: string): Signature {
  let signature = Signature.NONE;
  for (const name of argumentsOf(readMessage(message)).keys()) signature = signature.with(name);
  return signature;
}
