import { reviewFileOf } from '../disk/files.js';
import { installedFile } from '../disk/installed.js';

/** The name of the merge driver in git's attributes and configuration. */
export const DRIVER = 'zeitwort';

/** A word of a shell, whatever is in it. */
const quoted = (word: string): string => `'${word.replaceAll("'", String.raw`'\''`)}'`;

/**
 * Returns the command that git runs to merge a file. It names the program by its path, so that
 * nothing in a repository decides what runs. Where the program is gone or cannot read a side, git
 * merges lines as usual: a driver that fails otherwise leaves one side without any mark.
 */
export function driverCommand(node = process.execPath): string {
  const program = [node, installedFile('cli.cjs')].map(quoted).join(' ');
  const merge = `${program} merge %O %A %B --path %P --marker-size %L`;
  return `${merge}; s=$?; test $s -le 1 && exit $s; git merge-file --marker-size=%L -L ours -L base -L theirs %A %O %B`;
}

/** All that the braces of a glob stand for; git's patterns have none. */
function withoutBraces(glob: string): string[] {
  const [whole, inside] = /\{([^{}]*)\}/.exec(glob) ?? [];
  if (whole === undefined || inside === undefined) return [glob];
  return inside.split(',').flatMap((one) => withoutBraces(glob.replace(whole, () => one)));
}

/**
 * Globs that git's attributes cannot express: those that lead out, negations, groups of patterns.
 */
const UNSAYABLE = /^!|(?:^|\/)\.\.(?:\/|$)|[@?!+*]\(|\.\.[^/]*\}|[{}]/;

/**
 * The lines of `.gitattributes` that catalogs are merged by.
 * @returns the lines, and the globs that attributes cannot say
 */
export function attributesFor(texts: readonly string[]): {
  readonly lines: readonly string[];
  readonly left: readonly string[];
} {
  const globs = texts.flatMap(withoutBraces);
  const left = globs.filter((glob) => UNSAYABLE.test(glob));
  const lines = globs
    .filter((glob) => !UNSAYABLE.test(glob))
    .map((glob) => {
      const pattern = `/${glob.replace(/^\.?\//, '')}`;
      const said = /[\s"\\]/.test(pattern) ? JSON.stringify(pattern) : pattern;
      return `${said} merge=${DRIVER}`;
    });
  return { lines, left };
}

/** Reviews hold a line a text: git can join what two people note without any help. */
export const REVIEW_ATTRIBUTES = `*${reviewFileOf('.json')} merge=union`;

/** Text of attributes with lines that it lacks. */
export function withLines(text: string, wanted: readonly string[]): string {
  const there = new Set(text.split(/\r?\n/));
  const lacking = wanted.filter((line) => !there.has(line));
  if (lacking.length === 0) return text;
  return `${text}${text === '' || text.endsWith('\n') ? '' : '\n'}${lacking.join('\n')}\n`;
}
