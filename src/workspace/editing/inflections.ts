import { wordInflections } from '../../core/message/word-inflections.js';
import { rowsOf } from '../../core/check/subject/context.js';
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
  /** What the language has there. */
  readonly text: string | undefined;
}

const idOf = ({ form, path }: Pick<Address, 'form' | 'path'>): string =>
  JSON.stringify([form, path]);

/**
 * By label, the inflections that a language's messages ask for where they are used; `gender` among
 * them.
 */
function askedFor(
  { texts, forms }: Workspace,
  locale: Locale,
): ReadonlyMap<string, ReadonlySet<string>> {
  const asked = new Map<string, Set<string>>();
  for (const { form, field, use, keys } of rowsOf([...forms.values()].map((one) => one.form))) {
    const message = texts.message({ form: form.id, path: field.pattern, keys }, locale);
    for (const { word, inflection: name } of message?.locale === locale
      ? wordInflections(message.signature)
      : []) {
      const pattern = word === 'label' ? field.pattern : use.counterpart;
      const label = pattern && texts.label(form.id, pattern, locale);
      if (!label) continue;
      const id = idOf(label.purpose);
      asked.set(id, (asked.get(id) ?? new Set<string>()).add(name));
    }
  }
  return asked;
}

/**
 * What translators can give of labels besides the labels: the inflections that are there or asked
 * for. Those that the original has too are texts of their own already.
 */
export function inflectionsOf(workspace: Workspace, locale: Locale): Inflection[] {
  const { table, config } = workspace;
  const asked = askedFor(workspace, locale);
  return overview(table).flatMap(({ texts, ...address }): Inflection[] => {
    const label = texts.get(config.original);
    if (address.kind !== 'label' || address.key !== '' || !label) return [];
    const own = texts.get(locale);
    const gender = own?.details.gender;
    const names = new Set([
      ...(own?.inflections.keys() ?? []),
      ...(gender === undefined ? [] : ['gender']),
      ...(asked.get(idOf(address)) ?? []),
    ]);
    return [...names].flatMap((name) =>
      label.inflections.has(name)
        ? []
        : [
            {
              address: { ...address, key: name },
              label,
              text: name === 'gender' ? gender : own?.inflections.get(name)?.text,
            },
          ],
    );
  });
}
