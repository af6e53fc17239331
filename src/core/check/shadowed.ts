import type { Entry } from '../catalog/entry.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';
import { aboutRole } from './roles.js';

/** Every text that some lookup ends at, in any language of the workspace. */
function reached({ rows, subject }: Context): Set<Entry> {
  const found = new Set<Entry>();
  for (const { form, field, use, keys } of rows) {
    for (const locale of subject.languages) {
      const message = subject.texts.message({ form: form.id, path: field.pattern, keys }, locale);
      if (message) found.add(message.entry);
      for (const pattern of [field.pattern, ...(use.counterpart ? [use.counterpart] : [])]) {
        for (let length = 0; length <= pattern.length; length++) {
          const label = subject.texts.label(form.id, pattern.slice(0, length), locale);
          if (label) for (const entry of [label.base, ...label.forms.values()]) found.add(entry);
        }
      }
    }
  }
  return found;
}

export const shadowed: Kind = {
  kind: 'shadowed',
  severity: 'warning',
  about: 'A text that no lookup reaches: a more special one stands in front of it everywhere.',
  remedy: 'Remove it, or the one that stands in front; `why` shows which.',
  *find(context) {
    const found = reached(context);
    for (const role of context.roles) {
      const { kind, rows, entry, field, catalog } = role;
      if (entry.error || found.has(entry)) continue;
      const isUsed =
        kind === 'message'
          ? rows.length > 0
          : kind === 'label' && field !== undefined && (context.linksOf(catalog).get(field)?.size ?? 0) > 0;
      if (!isUsed) continue;
      yield {
        kind: 'shadowed',
        message: 'No lookup reaches this text: a more special one stands in front of it everywhere. Remove one of them.',
        ...aboutRole(role),
      };
    }
  },
};
