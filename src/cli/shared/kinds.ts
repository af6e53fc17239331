import { KIND_NAMES, kindHint, type FindingKind } from '../../core/finding.js';
import { complaint } from '../../workspace/disk/complaint.js';

/**
 * The kinds of findings that an option names, several in one word with commas.
 * @throws {Complaint} when there is no such kind
 */
export function kindsOf(names: readonly string[], option: string): readonly FindingKind[] {
  return names
    .flatMap((word) => word.split(','))
    .map((name) => {
      const kind = KIND_NAMES.find((one) => one === name.trim());
      if (kind === undefined)
        throw complaint('wrong-use', [
          `${option}: there is no kind of finding "${name.trim()}"${kindHint(name.trim())}`,
        ]);
      return kind;
    });
}
