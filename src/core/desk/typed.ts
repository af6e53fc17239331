import { keyed } from '../base/keyed.js';
import type { Locale } from '../locale/tag.js';
import type { LooseObject } from '../reading.js';
import type { Catalog } from '../texts/catalog.js';
import type { Entry } from '../texts/entry.js';
import { formsWritten } from '../texts/form-set.js';
import { goesWithAnother, keysTo, type Address, type Purposes } from '../texts/purpose.js';
import { readCatalog } from '../texts/read.js';

/** A text that somebody typed. */
export interface Typed {
  readonly address: Address;
  readonly text: string;
}

type Members = Record<string, unknown>;

const idOf = ({ kind, form, path, key }: Address): string =>
  JSON.stringify([kind, form, path, key]);

/** The text that another one goes with, and what it is called in the object of that. */
function wholeOf(address: Address): { readonly whole: Address; readonly member: string } {
  if (!goesWithAnother(address)) return { whole: address, member: 'text' };
  const { kind, key } = address;
  if (kind === 'inline') return { whole: { ...address, kind: 'message' }, member: 'inline' };
  if (kind === 'label') return { whole: { ...address, key: '' }, member: key };
  const [group = '', name = '', form = ''] = key.split(' ');
  return { whole: { ...address, key: `${group} ${name}` }, member: form };
}

/** A text of a catalog with all that goes with it, as a file has it. */
function writtenOf(entry: Entry | undefined): Members {
  if (!entry) return keyed({});
  const { note, room, excused, gender, inline } = entry.details;
  return keyed({
    text: entry.text,
    ...Object.fromEntries(Array.from(entry.inflections, ([name, { text }]) => [name, text])),
    ...(note === undefined ? {} : { note }),
    ...(room === undefined ? {} : { room }),
    ...(excused === undefined ? {} : { excused }),
    ...(gender === undefined ? {} : { gender }),
    ...(inline === undefined ? {} : { inline: inline.text }),
  });
}

function put(root: Members, keys: readonly string[], value: unknown): void {
  let at = root;
  for (const key of keys.slice(0, -1)) at = (at[key] ??= keyed({})) as Members;
  at[keys.at(-1) ?? ''] = value;
}

/**
 * Catalogs of what somebody typed, one for each form: each text with what the catalogs have beside
 * it, as if it were written into them.
 * @param file what they are called
 * @param entryAt what the catalogs have
 */
export function typedCatalogs(
  typed: Iterable<Typed>,
  { file, locale, purposes }: { file: string; locale: Locale; purposes: Purposes },
  entryAt: (address: Address) => Entry | undefined,
): Catalog[] {
  const wholes = new Map<string, { readonly address: Address; readonly members: Members }>();
  for (const { address, text } of typed) {
    const { whole, member } = wholeOf(address);
    const id = idOf(whole);
    const known = wholes.get(id) ?? { address: whole, members: writtenOf(entryAt(whole)) };
    wholes.set(id, known);
    known.members[member] = text;
  }
  const roots = new Map<string, Members>();
  for (const { address, members } of wholes.values()) {
    const { kind, form = '', path, key } = address;
    const root = roots.get(form) ?? keyed({});
    roots.set(form, root);
    put(root, keysTo(kind, key, path), members);
  }
  return Array.from(roots, ([form, root]) => {
    const said = form === '' ? {} : { form: formsWritten(form) };
    const whole: LooseObject = { ...said, ...root, locale };
    return readCatalog(whole, `${file}${form}`, locale, 'written', purposes).catalog;
  });
}
