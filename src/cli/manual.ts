import { Command, type Argument, type Option } from 'commander';
import { COMMANDS } from './commands.js';

/** A text as roff has it: nothing in it is a request or an escape. */
const text = (said: string): string =>
  said
    .replaceAll('\\', '\\e')
    .replaceAll('-', '\\-')
    .replace(/^(?=[.'])/gm, '\\&');
const bold = (said: string): string => `\\fB${text(said)}\\fR`;
/** `--form <id>`: names of values in italics. */
const flags = (said: string): string =>
  said
    .split(/(<[^>]*>|\[[^\]]*\])/)
    .map((part) =>
      /^[<[]/.test(part)
        ? `\\fI${text(part)}\\fR`
        : part.trim() === ''
          ? part
          : bold(part.trimEnd()) + (/\s$/.test(part) ? ' ' : ''),
    )
    .join('');

const choices = (known: readonly string[] | undefined): string =>
  known ? `: ${known.join(', ')}` : '';

function optionLines({ flags: written, description, argChoices, hidden }: Option): string[] {
  return hidden ? [] : ['.TP', flags(written), text(description + choices(argChoices))];
}

function nameOf(argument: Argument): string {
  const name = argument.name() + (argument.variadic ? '...' : '');
  return argument.required ? `<${name}>` : `[${name}]`;
}

/** The manual page of the program, section 1, made of what each command says of itself. */
export async function manual(version: string): Promise<string> {
  const lines = [
    `.TH ZEITWORT 1 "" "zeitwort ${version}"`,
    '.SH NAME',
    'zeitwort \\- maintains, checks and renders the validation error texts of an API',
    '.SH SYNOPSIS',
    `${bold('zeitwort')} \\fIcommand\\fR [\\fIoptions\\fR]`,
    '.SH DESCRIPTION',
    text(
      'A workspace is a folder with a zeitwort.yaml: it names the languages, and the files with rules and with texts.',
    ),
    text(
      'Commands look for it in the current folder and above, or in the one that --workspace names.',
    ),
    '.SH COMMANDS',
  ];
  for (const { name, summary, load } of COMMANDS) {
    const command = new Command(name);
    (await load()).define(command);
    const { registeredArguments, options } = command;
    lines.push(
      `.SS ${flags(['zeitwort', name, ...registeredArguments.map(nameOf)].join(' '))}`,
      text(`${summary}.`),
    );
    for (const argument of registeredArguments)
      lines.push(
        '.TP',
        flags(nameOf(argument)),
        text(argument.description + choices(argument.argChoices)),
      );
    lines.push(...options.flatMap(optionLines));
  }
  lines.push(
    '.SH EXIT STATUS',
    text(
      '0 where all is well; 1 where something was found (each command says what); 2 for wrong use and for what cannot be read.',
    ),
    '.SH FILES',
    '.TP',
    bold('zeitwort.yaml'),
    'the settings of a workspace',
    '.TP',
    bold('.zeitwort/'),
    'the journal of an edit; may be removed when no edit was interrupted',
    '.TP',
    bold('$XDG_CACHE_HOME/zeitwort/'),
    'what is kept of the last check of each workspace; may be removed',
    '.SH ENVIRONMENT',
    '.TP',
    bold('NO_COLOR'),
    'no colours',
    '.TP',
    bold('FORCE_COLOR'),
    '1 for colours where the output is not a terminal',
    '.TP',
    bold('COLUMNS'),
    'how wide tables may be where the output is not a terminal',
  );
  return `${lines.join('\n')}\n`;
}
