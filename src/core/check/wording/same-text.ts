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

const meaning = (key: string): string => SYNONYMS[key] ?? key;

export const sameText: Kind = {
  kind: 'same-text',
  severity: 'warning',
  about: 'Two rules that mean different things share one text, so that nobody knows which of them was broken.',
  remedy: 'Say in each what it asks for.',
  example: '"minLength": "Mind the length.", "maxLength": "Mind the length."',
  texts: (context, report) => {
    const first = new Map<string, Role>();
    const crowded = crowdedReaches(context);
    return {
      each: (role) => {
        if (role.kind !== 'message' || role.entry.error) return;
        const { catalog, field, entry, key } = role;
        // A field's only message has no other beside it.
        if (field && field.messages.size < 2 && !crowded.has(reachOf(catalog))) return;
        const id = `${catalog.locale}\n${catalog.form ?? ''}\n${field?.path ?? ''}\n${entry.text}`;
        const earlier = first.get(id);
        if (!earlier) first.set(id, role);
        else if (meaning(earlier.key) !== meaning(key)) {
          const message = `"${key}" says the same as "${earlier.key}". Say in each what it asks for.`;
          report({ message, ...aboutRole(role) });
        }
      },
    };
  },
};
