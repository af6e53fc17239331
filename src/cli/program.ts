import { Command, CommanderError } from 'commander';
import { COMMANDS } from './commands.js';
import { report } from './failure.js';
import { print } from './print/out.js';

declare const ZEITWORT_VERSION: string;

const COMPLETE = 'complete';

/** Wrong use and unreadable input, always. */
const WRONG_USE = 2;

function newProgram(): Command {
  return new Command('zeitwort')
    .description('Maintains, checks and renders the validation error texts of an API.')
    .version(ZEITWORT_VERSION, '--version', 'print the version')
    .helpOption('--help', 'print what there is to know')
    .configureOutput({
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

/** Adds every command by name, and the one that is asked for with all it has, so that a run loads only what it needs. */
async function addCommands(program: Command, asked: string | undefined): Promise<void> {
  for (const { name, summary, load } of COMMANDS) {
    const command = program.command(name).summary(summary).description(summary).helpOption('--help', 'print how it is used');
    command.copyInheritedSettings(program);
    if (name !== asked) continue;
    const { define } = await load();
    define(command.option('--debug', 'print the stack of an unexpected error'));
  }
}

/**
 * Runs the program; its exit code is 0, or 1 where the command says so, or 2 for wrong use and unreadable input.
 * @param argv as Node gives it, the program's own two words first
 */
export async function run(argv: readonly string[]): Promise<void> {
  // Whoever reads our output may stop reading (`| head`); that is no error of ours.
  process.stdout.on('error', (error: NodeJS.ErrnoException) => process.exit(error.code === 'EPIPE' ? 0 : WRONG_USE));
  const program = newProgram();
  try {
    const [first, second] = argv.slice(2);
    if (first === COMPLETE) {
      // What shells call, and no command for people: the words behind `--`, the last as far as it is typed.
      const { candidatesFor } = await import('./completing.js');
      const found = await candidatesFor(argv.slice(4), COMMANDS);
      if (found.length > 0) print(found.join('\n'));
      return;
    }
    await addCommands(program, first === 'help' ? second : first);
    await program.parseAsync([...argv]);
  } catch (error) {
    if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : WRONG_USE;
    else process.exitCode = report(error, argv.includes('--debug'));
  }
}
