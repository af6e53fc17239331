import { Option, type Command } from 'commander';
import type { Locale } from '../../core/locale/tag.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import type { Warning } from '../../core/violation/warning.js';
import type { AnswerStyle } from '../print/answer.js';
import { say } from '../print/out.js';
import { answerOptions, bodyStyle } from '../../workspace/answering/answering.js';

/** The options of commands that print an answer. */
export interface AnsweringOptions {
  readonly locale?: string;
  readonly withHeaders?: boolean;
  readonly shape?: string;
  readonly perField?: 'all' | 'first';
  readonly audience?: 'client' | 'developer';
  readonly requestId?: string;
  readonly instance?: string;
}

/** Gives a command the options of an answer. */
export function withAnswer(command: Command): Command {
  return command
    .option('--locale <tag>', "the language of the answer, or all (else the workspace's original)")
    .option('--with-headers', 'print the HTTP status line and the headers first')
    .option('--shape <name>', "the layout of the body (else the workspace's)")
    .addOption(
      new Option('--per-field <which>', 'the errors of each field in the body').choices([
        'all',
        'first',
      ]),
    )
    .addOption(
      new Option('--audience <who>', 'who reads the body').choices(['client', 'developer']),
    )
    .option('--request-id <id>', 'the id of the request, for shapes that show it')
    .option('--instance <uri>', 'the URI of this occurrence');
}

/** Prints texts and entries that could not be said or read, and were answered all the same. */
export const warn = ({ message }: Warning): void => {
  say(message.replace(/\.$/, ''));
};

/** How the answers of a command are to be. */
export function answerStyle(workspace: Workspace, options: AnsweringOptions): AnswerStyle {
  const { withHeaders, shape, perField, audience, requestId, instance } = options;
  return {
    workspace,
    options: answerOptions(workspace, { perField, audience, warn }),
    style: bodyStyle(workspace, shape),
    head: withHeaders ?? false,
    occasion: { time: new Date().toISOString(), requestId, instance },
  };
}

/** The languages that a command answers in: one, or all of the workspace. */
export function answerLocales(workspace: Workspace, tag: string | undefined): readonly Locale[] {
  if (tag === 'all') return workspace.config.locales;
  return [workspace.locale(tag ?? workspace.config.original)];
}
