import { Command, CommanderError } from 'commander';
import type { RunOptions } from '../command.js';
import { streams, withStreams, type Output } from '../exchange/streams.js';
import { releaseTurns } from '../workspace/editing/held.js';
import { Complaint } from '../core/complaint.js';
import { suggestion } from '../core/text/closest.js';
import { COMMANDS } from './commands.js';
import { tellFailure } from './shared/failure.js';
import { print } from './print/out.js';

declare const ZEITWORT_VERSION: string;

const COMPLETE = 'complete';

/** The exit code for wrong use and unreadable input. */
export const WRONG_USE = 2;

/** The columns of a terminal; where a stream is none, Commander's own number. */
const widthOf =
  (stream: () => Output): (() => number) =>
  () =>
    (stream().isTTY ? stream().columns : undefined) ?? 80;

function newProgram(): Command {
  return new Command('zeitwort')
    .description('Maintains, checks and renders the validation error texts of an API.')
    .version(ZEITWORT_VERSION, '--version', 'print the version')
    .helpOption('-h, --help', 'print this help')
    .configureOutput({
      writeOut: (text) => streams().stdout.write(text),
      writeErr: (text) => streams().stderr.write(text),
      getOutHelpWidth: widthOf(() => streams().stdout),
      getErrHelpWidth: widthOf(() => streams().stderr),
      outputError: (text, write) => {
        write(
          `${text
            .replace(/^error: /, 'zeitwort: ')
            .trim()
            .replace(/\n/g, ' ')}\n`,
        );
      },
    })
    .exitOverride();
}

/**
 * Adds every command by name, and the one that is asked for with all it has, so that a run loads
 * only what it needs.
 */
async function addCommands(program: Command, asked: string | undefined): Promise<void> {
  for (const { name, summary, load } of COMMANDS) {
    const command = program.command(name).summary(summary).description(summary);
    command.copyInheritedSettings(program);
    if (name !== asked) continue;
    const { define } = await load();
    define(command.option('--debug', 'print the stack of an unexpected error'));
  }
}

/** @throws {Complaint} when there is no such command, which Commander's `help` passes over */
function mustBeCommand(name: string): void {
  const names = COMMANDS.map((one) => one.name);
  if (!names.includes(name))
    throw new Complaint('wrong-use', `there is no command "${name}"${suggestion(name, names)}`);
}

async function runWords(words: readonly string[]): Promise<void> {
  const program = newProgram();
  try {
    const [first, second] = words;
    if (first === COMPLETE) {
      // What shells call, and no command for people: the words behind `--`, the last as far as it
      // is typed.
      const { candidatesFor } = await import('./completing.js');
      const found = await candidatesFor(words.slice(2), COMMANDS);
      if (found.length > 0) print(found.join('\n'));
      return;
    }
    if (first === 'help' && second !== undefined) mustBeCommand(second);
    await addCommands(program, first === 'help' ? second : first);
    await program.parseAsync(words, { from: 'user' });
  } catch (error) {
    if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : WRONG_USE;
    else process.exitCode = tellFailure(error, words.includes('--debug'));
  } finally {
    releaseTurns();
  }
}

/** Returns the exit code that the run has set so far. */
const exitCode = (): number => Number(process.exitCode ?? 0);

/** See `Run`. */
export async function run(words: readonly string[], options: RunOptions = {}): Promise<number> {
  const { env, exitCode: code } = process;
  const cwd = options.cwd === undefined ? undefined : process.cwd();
  process.exitCode = undefined;
  try {
    if (options.env) process.env = { ...options.env };
    if (options.cwd !== undefined) process.chdir(options.cwd);
    await withStreams(options, () => runWords(words));
    return exitCode();
  } finally {
    if (cwd !== undefined) process.chdir(cwd);
    process.env = env;
    process.exitCode = code;
  }
}
