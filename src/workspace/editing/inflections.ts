import { saidInflections, wordInflections } from '../../core/message/word-inflections.js';
import { getOrMake } from '../../core/base/get-or-make.js';
import { rowsOf, type Row } from '../../core/check/subject/context.js';
import type { Locale } from '../../core/locale/tag.js';
import type { Entry } from '../../core/texts/entry.js';
import { overview } from '../../core/texts/overview.js';
import type { Address } from '../../core/texts/purpose.js';
import type { Workspace } from '../reading/workspace.js';

/**
 * An inflection of a label, or its gender, that a language needs whatever the original has.
 */
export interface Inflection {
  /** With the name of the form as its key; `gender` for the gender. */
  readonly address: Address;
  /** The label in the original. */
  readonly label: Entry;
  /** The language's current text. */
  readonly text: string | undefined;
  /** The messages of the language that say it, each once. */
  readonly asking: readonly Asking[];
}

/** A message that says an inflection of a label. */
export interface Asking {
  readonly message: Entry;
  readonly row: Row;
  /** The argument, and the word that it is an inflection of. */
  readonly name: string;
  readonly word: string;
}

/** Inflections that messages use, by name. */
interface Asked {
  readonly needed: Set<string>;
  readonly said: Map<string, Map<Entry, Asking>>;
}

const idOf = ({ form, path }: Pick<Address, 'form' | 'path'>): string =>
  JSON.stringify([form, path]);

/**
 * By label, what a language's messages say of it where they are used, and what they cannot do
 * without; `gender` among them.
 */
function askedFor({ texts, forms }: Workspace, locale: Locale): ReadonlyMap<string, Asked> {
  const asked = new Map<string, Asked>();
  for (const row of rowsOf([...forms.values()].map((one) => one.form))) {
    const { form, field, use, keys } = row;
    const message = texts.message({ form: form.id, path: field.pattern, keys }, locale);
    if (message?.locale !== locale) continue;
    const needed = new Set(wordInflections(message.signature).map(({ name }) => name));
    for (const { name, word, inflection: of } of saidInflections(message.signature)) {
      const pattern = word === 'label' ? field.pattern : use.counterpart;
      const label = pattern && texts.label(form.id, pattern, locale);
      if (!label) continue;
      const known = getOrMake(asked, idOf(label.purpose), () => ({
        needed: new Set<string>(),
        said: new Map<string, Map<Entry, Asking>>(),
      }));
      if (needed.has(name)) known.needed.add(of);
      const messages = getOrMake(known.said, of, () => new Map<Entry, Asking>());
      if (!messages.has(message)) messages.set(message, { message, row, name, word });
    }
  }
  return asked;
}

/**
 * Returns the inflections of labels that translators can give: those that exist or that messages
 * use. Those that the original has are texts of their own already.
 */
export function inflectionsOf(workspace: Workspace, locale: Locale): Inflection[] {
  const { table, config } = workspace;
  const asked = askedFor(workspace, locale);
  return overview(table).flatMap(({ texts, ...address }): Inflection[] => {
    const label = texts.get(config.original);
    if (address.kind !== 'label' || address.key !== '' || !label) return [];
    const there = texts.get(locale);
    const own = asked.get(idOf(address));
    const gender = there?.details.gender;
    const names = new Set([
      ...(there?.inflections.keys() ?? []),
      ...(gender === undefined ? [] : ['gender']),
      ...(own?.needed ?? []),
    ]);
    return [...names].flatMap((name) =>
      label.inflections.has(name)
        ? []
        : [
            {
              address: { ...address, key: name },
              label,
              text: name === 'gender' ? gender : there?.inflections.get(name)?.text,
              asking: [...(own?.said.get(name)?.values() ?? [])],
            },
          ],
    );
  });
}
