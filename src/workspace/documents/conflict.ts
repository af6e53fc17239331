import { cleaned, shortened } from '../../core/text/value.js';
import { complaint } from '../disk/complaint.js';
import { positionAt } from './position.js';

const LONGEST = 70;

/** The first line of a side that the other has not, as a sentence has room for it. */
function says(side: readonly string[], other: readonly string[]): string {
  const own = side.find((line) => line.trim() !== '' && !other.includes(line));
  return own === undefined ? 'nothing' : shortened(cleaned(own.trim().replace(/,$/, '')), LONGEST);
}

/**
 * Rejects a file in which git left a merge open: it has the text of both sides.
 * @throws {Complaint} with the place of the first mark, and the text of each side
 */
export function refuseConflicts(text: string, file: string): void {
  const open = /^<{7}(?: .*)?$/m.exec(text);
  if (!open || !/^={7}$/m.test(text) || !/^>{7}(?: .*)?$/m.test(text)) return;
  const [, ...lines] = text.slice(open.index).split(/\r?\n/);
  const [middle, end] = [
    lines.indexOf('======='),
    lines.findIndex((line) => /^>{7}(?: |$)/.test(line)),
  ];
  // With the base between them, as git can be asked to write it.
  const base = lines.slice(0, middle).findIndex((line) => /^\|{7}(?: |$)/.test(line));
  const ours = lines.slice(0, base < 0 ? middle : base);
  const theirs = lines.slice(middle + 1, end);
  throw complaint(
    'wrong-content',
    [
      `git left a merge open here: one side says ${says(ours, theirs)}, the other ${says(theirs, ours)}; keep one of the two, or both, and take the marks out`,
    ],
    { file, ...positionAt(text, open.index) },
  );
}
