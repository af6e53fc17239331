import { createTwoFilesPatch } from 'diff';

/**
 * The change of one file as a unified diff, as version control prints it; nothing as the text of a
 * file that is not there.
 */
export function unifiedDiff(
  file: string,
  before: string | undefined,
  after: string | undefined,
): string {
  const from = before === undefined ? '/dev/null' : `a/${file}`;
  const to = after === undefined ? '/dev/null' : `b/${file}`;
  const patch = createTwoFilesPatch(from, to, before ?? '', after ?? '', undefined, undefined, {
    context: 3,
  });
  return patch.replace(/^=+\n/, '').replace(/^((?:---|\+\+\+) .*)\t$/gm, '$1');
}
