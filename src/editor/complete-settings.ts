import { KINDS } from '../core/check/kinds.js';
import { settingsAt } from '../workspace/reading/config.js';
import { starterTags } from '../workspace/disk/installed.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import type { KeyCursor } from './yaml-cursor.js';
import { Sort, type Offer } from './complete-items.js';

const named = (names: readonly string[], kind: Offer['kind']): Offer[] =>
  names.map((name) => ({ name, kind }));

/** Returns the completions at a place of the workspace file. */
export function settingsOffers(
  { keys, at, there }: KeyCursor,
  { config, forms }: Workspace,
): readonly Offer[] {
  const [section] = keys;
  const { members, values } = settingsAt(keys);
  if (at === 'key') {
    if (section === 'checks' && keys.length === 1)
      return KINDS.map(({ kind, about }) => ({
        name: kind,
        kind: Sort.Property,
        detail: about,
        about: { sort: 'kind', of: kind },
      }));
    if (section === 'problems' && keys.length === 1) return [];
    if (section === 'fallbacks') return named(config.locales, Sort.EnumMember);
    return named(members, Sort.Property).filter(({ name }) => !there.includes(name));
  }
  const innermost = keys.findLast((key) => typeof key === 'string');
  switch (innermost) {
    case 'original':
    case 'locales':
      return named([...new Set([...config.locales, ...starterTags()])], Sort.EnumMember);
    case 'forms':
      return named([...forms.keys()], Sort.EnumMember);
    case 'paths':
      return named(
        [
          ...new Set(
            [...forms.values()].flatMap(({ form }) => form.fields.map(({ path }) => path)),
          ),
        ],
        Sort.Field,
      );
    case 'shape':
      return named([...config.shapes.keys()], Sort.EnumMember);
    default:
      return named([...new Set(values)], Sort.EnumMember);
  }
}
