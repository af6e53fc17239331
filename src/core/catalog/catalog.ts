import type { Remark } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import type { Origin } from '../origin.js';
import type { Pattern } from '../path/path.js';
import type { Entry } from './entry.js';

/** A field's name for people. */
export interface Label {
  readonly base: Entry;
  /** Grammatical forms by name: `accusative`, `genitive`, … */
  readonly forms: ReadonlyMap<string, Entry>;
  readonly gender?: string;
}

/** What a catalog says about the fields that a pattern covers. */
export interface FieldTexts {
  readonly pattern: Pattern;
  readonly path: string;
  readonly label?: Label | undefined;
  readonly messages: ReadonlyMap<string, Entry>;
  /** Names of enumerated values, by the value as text. */
  readonly choices: ReadonlyMap<string, Entry>;
  readonly origin: Origin;
}

export interface ProblemTexts {
  readonly title?: Entry | undefined;
  readonly detail?: Entry | undefined;
}

/** The texts of one file. */
export interface Catalog {
  readonly file: string;
  readonly locale: Locale;
  /** The one form that the file speaks of; absent where it speaks of all. */
  readonly form?: string;
  readonly messages: ReadonlyMap<string, Entry>;
  readonly fields: readonly FieldTexts[];
  readonly problems: ReadonlyMap<string, ProblemTexts>;
  /** Texts that have a reason for being left as they are. */
  readonly excused: readonly Entry[];
  readonly remarks: readonly Remark[];
}

/** What a text of a catalog is. */
export type TextKind = 'message' | 'label' | 'choice' | 'problem';

/**
 * Shows every text of a catalog with what it is.
 * @param see gets the message's key, the label's form (empty for itself), the value, or the problem and its part
 */
export function eachText(
  { messages, fields, problems }: Catalog,
  see: (entry: Entry, kind: TextKind, key: string, field: FieldTexts | undefined) => void,
): void {
  for (const [key, entry] of messages) see(entry, 'message', key, undefined);
  for (const field of fields) {
    const { label, messages: own, choices } = field;
    if (own.size > 0) for (const [key, entry] of own) see(entry, 'message', key, field);
    if (label) {
      see(label.base, 'label', '', field);
      if (label.forms.size > 0) for (const [key, entry] of label.forms) see(entry, 'label', key, field);
    }
    if (choices.size > 0) for (const [key, entry] of choices) see(entry, 'choice', key, field);
  }
  for (const [id, { title, detail }] of problems) {
    if (title) see(title, 'problem', `${id} title`, undefined);
    if (detail) see(detail, 'problem', `${id} detail`, undefined);
  }
}

/** A text of a field: the message of a key, the name of a value, the label (the empty key) or a form of it. */
export function fieldEntry(field: FieldTexts, kind: TextKind, key: string): Entry | undefined {
  switch (kind) {
    case 'message':
      return field.messages.get(key);
    case 'choice':
      return field.choices.get(key);
    case 'label':
      return key === '' ? field.label?.base : field.label?.forms.get(key);
    case 'problem':
      return undefined;
  }
}

/** A text of a problem: its name and `title` or `detail`, with a blank between them. */
export function problemEntry(catalog: Pick<Catalog, 'problems'>, key: string): Entry | undefined {
  const [id = '', part] = key.split(' ');
  return catalog.problems.get(id)?.[part === 'title' ? 'title' : 'detail'];
}

/** All texts of a catalog, labels and their forms too. */
export function entriesOf(catalog: Catalog): Entry[] {
  const found: Entry[] = [];
  eachText(catalog, (entry) => {
    found.push(entry);
  });
  return found;
}
