import type { Command } from 'commander';
import { complaint } from '../../workspace/disk/complaint.js';
import { normalPath } from '../../workspace/reading/address.js';
import { suggestion } from '../../core/text/closest.js';
import { FRAMES, type Address } from '../../core/texts/purpose.js';
import type { Edits } from '../../workspace/editing/edits.js';
import { keepTurn } from '../../workspace/editing/turn.js';
import { findWorkspace } from '../../workspace/disk/find.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { openWorkspace, type WorkspaceOptions } from './options.js';
import { counted, print, printExact, say } from '../print/out.js';

const FRAME_NAMES: readonly string[] = Object.keys(FRAMES);

export interface DryRunOptions {
  readonly dryRun?: boolean;
}

export function withDryRun(command: Command): Command {
  return command.option('--dry-run', 'write nothing; print what would change as a unified diff');
}

/**
 * Opens a workspace to edit it: no other run can until this one ends, unless nothing will be
 * written.
 */
export function openToEdit(options: WorkspaceOptions & DryRunOptions): Workspace {
  if (!options.dryRun) keepTurn(findWorkspace(options.workspace ?? '.'), say);
  return openWorkspace(options);
}

/** Writes what was gathered, or shows it; says what was done. */
export async function finish(edits: Edits, { dryRun }: DryRunOptions, done: string): Promise<void> {
  const files = edits.changed();
  if (dryRun) {
    const diff = await edits.diff();
    if (diff !== '') printExact(diff);
    // Standard output is for what is applied.
    else say('nothing would change');
    return;
  }
  edits.commit();
  const names = files.map((file) => edits.workspace.shown(file)).join(', ');
  print(
    files.length === 0
      ? 'Nothing to change.'
      : `${done} (${counted(files.length, 'file')}: ${names})`,
  );
}

/** The options that name one text. */
export interface AddressOptions {
  readonly locale: string;
  readonly form?: string;
  readonly field?: string;
  readonly rule?: string;
  readonly label?: boolean;
  readonly inflected?: string;
  readonly choice?: string;
  readonly problem?: string;
  readonly detail?: boolean;
  readonly inline?: boolean;
  readonly frame?: string;
  readonly word?: string;
  readonly into?: string;
}

export function withAddress(command: Command): Command {
  return command
    .requiredOption('--locale <tag>', 'the language of the text')
    .option('--form <ids>', 'the form; several with commas: a,b (else all forms)')
    .option('--field <path>', 'the field, such as targets[*].name')
    .option('--rule <key>', 'the rule, or a message key of your own')
    .option('--label', "the field's label")
    .option('--inline', 'with --rule: the text beside the input')
    .option('--inflected <name>', 'with --label or --word: an inflection of it, such as accusative')
    .option('--choice <value>', "the label of one of the field's values")
    .option('--problem <name>', 'the title of a problem, such as not-found')
    .option('--detail', 'with --problem: its detail')
    .option('--frame <name>', `a frame, which says how texts are joined: ${FRAME_NAMES.join(', ')}`)
    .option('--word <name>', 'a word for a type or a format, such as "type integer"')
    .option('--into <file>', 'the catalog to write to (else the one that has the text)');
}

function frameNamed(name: string): string {
  if (FRAME_NAMES.includes(name)) return name;
  throw complaint('wrong-use', [
    `there is no frame "${name}"${suggestion(name, FRAME_NAMES)}; there are ${FRAME_NAMES.join(', ')}`,
  ]);
}

function wordNamed(word: string, inflected: string | undefined): string {
  if (/^(?:part|type|format) \S+$/.test(word))
    return inflected === undefined ? word : `${word} ${inflected}`;
  throw complaint('wrong-use', [
    `--word takes a group and a name, such as "type integer" or "format email", not "${word}"`,
  ]);
}

/**
 * The text that options name.
 * @throws {Complaint} when they name none, or more than one
 */
export function addressFrom(options: AddressOptions, workspace: Workspace): Address {
  const { field, rule, label, choice, problem, frame, word } = options;
  const form = options.form === undefined ? undefined : workspace.formsNamed(options.form);
  const chosen = [rule, label, choice, problem, frame, word].filter((one) => one !== undefined);
  if (chosen.length !== 1)
    throw complaint('wrong-use', [
      'name one text, with --rule, --label, --choice, --problem, --frame or --word',
    ]);
  const path = field === undefined ? undefined : normalPath(field);
  if (rule !== undefined)
    return { kind: options.inline ? 'inline' : 'message', form, path, key: rule };
  if (frame !== undefined) return { kind: 'frame', form, key: frameNamed(frame) };
  if (word !== undefined) return { kind: 'word', form, key: wordNamed(word, options.inflected) };
  if (problem !== undefined) {
    return { kind: 'problem', form, key: `${problem} ${options.detail ? 'detail' : 'title'}` };
  }
  if (path === undefined)
    throw complaint('wrong-use', [`name the field with --field, such as --field targets[*].name`]);
  return choice === undefined
    ? { kind: 'label', form, path, key: options.inflected ?? '' }
    : { kind: 'choice', form, path, key: choice };
}
