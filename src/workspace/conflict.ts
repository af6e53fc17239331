import { complaint } from './complaint.js';
import { positionAt } from './position.js';

/**
 * Where git left a merge open: what stands there is the text of both sides, and no reader can tell what is meant.
 * @throws {Complaint} with the place of the first mark
 */
export function refuseConflicts(text: string, file: string): void {
  const open = /^<{7}(?: .*)?$/m.exec(text);
  if (!open || !/^={7}$/m.test(text) || !/^>{7}(?: .*)?$/m.test(text)) return;
  throw complaint('wrong-content', ['git left a merge open here; keep one of the two sides, or both, and take the marks out'], {
    file,
    ...positionAt(text, open.index),
  });
}
