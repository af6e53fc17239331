import { existsSync } from 'node:fs';
import path from 'node:path';
import type { Side } from '../../core/diff/diff.js';
import { STATE } from '../../core/texts/table.js';
import { CONFIG_FILE } from '../../workspace/disk/find.js';
import { Complaint, complaint } from '../../workspace/disk/complaint.js';
import { Revision } from '../../workspace/git/revision.js';
import { NOTHING_UNSAVED } from '../../workspace/disk/storage.js';
import { Workspace } from '../../workspace/reading/workspace.js';
import { openFolder, type WorkspaceOptions } from './options.js';

/** A workspace as it is compared with another. */
export function sideOf(workspace: Workspace): Side {
  const { table, config, forms, texts, allTexts } = workspace;
  // All files are read first, so that errors come before the comparison.
  workspace.readAll();
  return {
    table,
    forms: [...forms.values()].map(({ form }) => form),
    original: config.original,
    problems: config.statuses,
    isDraft: ({ locale, purpose }) =>
      texts !== allTexts && (table.column(locale).state(purpose.id) & STATE.draft) !== 0,
  };
}

/**
 * Whether an argument names a folder: one that is written as a path from here or from the root.
 * Everything else is a revision, so that no folder of a repository stands for a branch of its name.
 */
const isFolder = (where: string): boolean =>
  path.isAbsolute(where) || /^\.{1,2}(?:$|[\\/])/.test(where);

/** A workspace at a revision, or in a folder. */
export function sideAt(where: string, options: WorkspaceOptions): Side {
  if (isFolder(where)) return sideOf(Workspace.open(where, process.cwd()));
  const { folder, shownFrom } = openFolder(options);
  try {
    return sideOf(Workspace.open(folder, shownFrom, NOTHING_UNSAVED, Revision.of(folder, where)));
  } catch (error) {
    if (error instanceof Complaint && existsSync(path.join(where, CONFIG_FILE)))
      throw complaint('wrong-use', [`${error.sentence}; the folder is meant by ./${where}`]);
    throw error;
  }
}
