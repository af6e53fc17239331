import { meet } from '../../core/path/cover.js';
import { parsePattern } from '../../core/path/path.js';
import { keysOf } from '../../core/rules/form.js';
import { formsNamed, speaksOf } from '../../core/texts/form-set.js';
import type { Address } from '../../core/texts/purpose.js';
import type { Workspace } from './workspace.js';

/** Whether a text is a message of rules: its key is one of a rule. */
export const isOfRules = ({ kind }: Address): boolean => kind === 'message' || kind === 'inline';

/** Whether a form has a use for a text that does not name its forms. */
function isOfUse({ kind, path, key }: Address, id: string, workspace: Workspace): boolean {
  const index = workspace.forms.get(id);
  if (!index) return false;
  const { fields } = index.form;
  if (path !== undefined) {
    const pattern = parsePattern(path);
    return (
      index.declared(pattern, 'body') !== undefined ||
      fields.some((field) => meet(pattern, field.pattern) !== undefined)
    );
  }
  return (
    !isOfRules({ kind, key }) ||
    fields.some(({ uses }) => uses.some((use) => keysOf(use).includes(key)))
  );
}

/**
 * Whether some forms have a use for a text: it names one of them, or speaks of a field or a rule
 * that one of them has.
 * @param forms the ids, with commas between
 */
export function concerns(workspace: Workspace, forms: string): (address: Address) => boolean {
  const ids = formsNamed(forms);
  return (address) =>
    ids.some((id) =>
      address.form === undefined ? isOfUse(address, id, workspace) : speaksOf(address.form, id),
    );
}
