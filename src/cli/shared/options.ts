import { existsSync, readFileSync } from 'node:fs';
import { InvalidArgumentError, Option, type Command } from 'commander';
import type { Locale } from '../../core/locale/tag.js';
import { readingFailed } from '../../workspace/disk/files.js';
import { WorkspaceFolder } from '../../workspace/reading/folder.js';
import { isInterrupted } from '../../workspace/editing/journal.js';
import { Workspace } from '../../workspace/reading/workspace.js';
import { say } from '../print/out.js';

export interface WorkspaceOptions {
  readonly workspace?: string;
}

/** Gives a command the option that names the workspace. */
export function withWorkspace(command: Command): Command {
  return command.option(
    '--workspace <folder>',
    'the folder of the workspace (else the one around the current folder)',
  );
}

/** So many commits are looked back at where nobody says otherwise. */
export const HISTORY = 12;
const MOST_HISTORY = 100;

/** Reads the value of an option as a whole number within bounds. */
export const wholeNumber =
  (least: number, most: number) =>
  (said: string): number => {
    const number = Number(said);
    if (Number.isInteger(number) && number >= least && number <= most) return number;
    throw new InvalidArgumentError(`a whole number from ${least} to ${most} is wanted`);
  };

/** The number of earlier commits with coverage. */
export const historyOption = (): Option =>
  new Option(
    '--history <n>',
    'also print the coverage at this many earlier commits; 0 for none',
  ).argParser(wholeNumber(0, MOST_HISTORY));

/** The choice between what people read and what programs read. */
export function formatOption(): Option {
  return new Option('--format <format>', 'how to print').choices(['text', 'json']).default('text');
}

/**
 * Warns a reader that some files may be as they were before an edit, and some as after it; only an
 * edit finishes it.
 */
function tellInterrupted(folder: string): void {
  if (isInterrupted(folder))
    say(
      'an edit was interrupted here; the next command that edits finishes it, or "zeitwort fix --recover finish|drop"',
    );
}

/**
 * Opens the workspace named, or the one around the current folder; files are named as one would
 * name them from here.
 */
export function openWorkspace({ workspace }: WorkspaceOptions): Workspace {
  const opened = Workspace.open(workspace ?? '.', process.cwd());
  tellInterrupted(opened.folder);
  return opened;
}

/** Opens a workspace's folder; reads the settings only. */
export function openFolder({ workspace }: WorkspaceOptions): WorkspaceFolder {
  const opened = WorkspaceFolder.openFolder(workspace ?? '.', process.cwd());
  tellInterrupted(opened.folder);
  return opened;
}

/** The locales asked for, or all of the workspace. */
export function localesOf(workspace: WorkspaceFolder, tag: string | undefined): readonly Locale[] {
  return tag === undefined ? workspace.config.locales : [workspace.locale(tag)];
}

/**
 * The forms that an option names, with commas.
 * @throws {Complaint} when there is none of that id
 */
export const formIds = (workspace: Workspace, said: string): readonly string[] =>
  workspace.forms.has(said)
    ? [said]
    : said.split(',').map((id) => workspace.form(id.trim()).form.id);

/** Collects an option that may be given again and again. */
export const collect = (one: string, before: readonly string[]): readonly string[] => [
  ...before,
  one,
];

/**
 * Whether a file holds just this text; git may have checked it out with line ends of another
 * system.
 */
export function isCurrent(file: string, text: string): boolean {
  if (!existsSync(file)) return false;
  try {
    return readFileSync(file, 'utf8').replaceAll('\r\n', '\n') === text.replaceAll('\r\n', '\n');
  } catch (error) {
    throw readingFailed(file, error);
  }
}
