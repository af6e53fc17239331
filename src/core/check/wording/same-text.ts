import type { Entry } from '../../catalog/entry.js';
import type { Kind } from '../kind.js';
import { aboutRole, type Role } from '../roles.js';

/** Rules that ask the same of people, in other words of the standard. */
const SYNONYMS: Readonly<Record<string, string>> = { unevaluatedProperties: 'additionalProperties' };

const meaning = (key: string): string => SYNONYMS[key] ?? key;

export const sameText: Kind = {
  kind: 'same-text',
  severity: 'warning',
  about: 'Two rules that mean different things share one text, so that nobody knows which of them was broken.',
  remedy: 'Say in each what it asks for.',
  *find(context) {
    const first = new Map<string, { role: Role; entry: Entry }>();
    for (const role of context.roles) {
      if (role.kind !== 'message' || role.entry.error) continue;
      const id = JSON.stringify([role.catalog.locale, role.catalog.form, role.field?.path, role.entry.text]);
      const earlier = first.get(id);
      if (!earlier) first.set(id, { role, entry: role.entry });
      else if (meaning(earlier.role.key) !== meaning(role.key)) {
        const message = `"${role.key}" says the same as "${earlier.role.key}". Say in each what it asks for.`;
        yield { kind: 'same-text', message, ...aboutRole(role) };
      }
    }
  },
};
