import { check, type CheckResult } from '../core/check/check.js';
import type { Remark } from '../core/finding.js';
import type { Locale } from '../core/locale/tag.js';
import { duplicateKeys } from './json.js';
import type { Workspace } from './workspace.js';

/** Keys that stand twice in a catalog; the parser keeps the last of them and says nothing. */
function duplicatesIn({ catalogs, sources }: Workspace): Remark[] {
  return catalogs.flatMap(({ file, locale }) =>
    duplicateKeys(sources.get(file) ?? '').map(({ keys, nth }): Remark => {
      const message = `"${keys.at(-1) ?? ''}" stands twice in one object; this one, read later, holds. Remove one of the two.`;
      return { kind: 'duplicate-key', locale, message, spot: { file, keys, at: 'key', nth } };
    }),
  );
}

/** Checks a workspace, for all its languages or for some. */
export function checkWorkspace(workspace: Workspace, locales: readonly Locale[] = workspace.config.languages): CheckResult {
  return check({
    forms: [...workspace.forms.values()].map(({ form }) => form),
    catalogs: workspace.catalogs,
    texts: workspace.texts,
    locales,
    remarks: [...workspace.remarks, ...duplicatesIn(workspace)],
  });
}
