import type { Catalog } from '../../catalog/catalog.js';
import type { Context } from '../context.js';
import type { Kind } from '../kind.js';
import { aboutRole, type Role } from '../roles.js';

/** Rules that ask the same of people, in other words of the standard. */
const SYNONYMS: Readonly<Record<string, string>> = { unevaluatedProperties: 'additionalProperties' };

const reachOf = ({ locale, form }: Catalog): string => `${locale} ${form ?? ''}`;

/** Where more than one file has texts for the same fields. */
function crowdedReaches({ subject }: Context): Set<string> {
  const seen = new Set<string>();
  return new Set(subject.catalogs.map(reachOf).filter((reach) => seen.has(reach) || !seen.add(reach)));
}

/** The texts of one reach that were seen, by field entry (or outside of all) and text. */
type Seen = Map<string | undefined, Map<string, Role>>;

const meaning = (key: string): string => SYNONYMS[key] ?? key;

export const sameText: Kind = {
  kind: 'same-text',
  severity: 'warning',
  about: 'Two rules that mean different things share one text, so that nobody knows which of them was broken.',
  remedy: 'Say in each what it asks for.',
  example: '"minLength": "Mind the length.", "maxLength": "Mind the length."',
  texts: (context, report) => {
    const crowded = crowdedReaches(context);
    const seen = new Map<string, Seen>();
    let last: { readonly catalog: Catalog; readonly crowded: boolean; readonly fields: Seen } | undefined;
    const here = (catalog: Catalog): NonNullable<typeof last> => {
      if (last?.catalog === catalog) return last;
      const reach = reachOf(catalog);
      // Texts of a file that is alone in its reach are not needed behind it.
      const fields: Seen = (crowded.has(reach) ? seen.get(reach) : undefined) ?? new Map<string | undefined, Map<string, Role>>();
      if (crowded.has(reach)) seen.set(reach, fields);
      return (last = { catalog, crowded: crowded.has(reach), fields });
    };
    return {
      sorts: ['message'],
      each: (role) => {
        if (role.entry.error) return;
        const { catalog, field, entry, key } = role;
        const { crowded, fields } = here(catalog);
        // A field's only message has no other beside it.
        if (field && field.messages.size < 2 && !crowded) return;
        let texts = fields.get(field?.path);
        if (!texts) fields.set(field?.path, (texts = new Map<string, Role>()));
        const earlier = texts.get(entry.text);
        if (!earlier) texts.set(entry.text, role);
        else if (meaning(earlier.key) !== meaning(key)) {
          const message = `"${key}" says the same as "${earlier.key}". Say in each what it asks for.`;
          report({ message, ...aboutRole(role) });
        }
      },
    };
  },
};
