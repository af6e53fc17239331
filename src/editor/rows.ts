import type { Row } from '../core/check/subject/context.js';
import type { Entry } from '../core/texts/entry.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import type { Project } from './project.js';

/** The rules that a text is for; of a label, those of the fields that it names. */
export function rowsFor(
  project: Project,
  workspace: Workspace,
  { purpose }: Entry,
): readonly Row[] {
  const context = project.contextOf(workspace);
  if (purpose.kind === 'message' || purpose.kind === 'inline') return context.rowsFor(purpose);
  return purpose.field
    ? context.fieldsFor(purpose.field).flatMap((field) => context.rowsOf(field))
    : [];
}
