import { Command, type Option } from 'commander';
import { KIND_NAMES } from '../core/finding.js';
import { codeOf } from '../core/rules/form.js';
import { VOCABULARY } from '../core/rules/vocabulary.js';
import { Workspace } from '../workspace/reading/workspace.js';
import type { CommandEntry } from './commands.js';

/** The typed part of one call: options with their values, and other words. */
interface Typed {
  readonly options: ReadonlyMap<string, string>;
  readonly words: readonly string[];
}

const takesValue = (option: Option | undefined): boolean =>
  option !== undefined && (option.required || option.optional);

function typedOf(words: readonly string[], known: ReadonlyMap<string, Option>): Typed {
  const options = new Map<string, string>();
  const plain: string[] = [];
  for (let at = 0; at < words.length; at++) {
    const word = words[at] ?? '';
    const [name = '', value] = word.split('=', 2);
    if (!word.startsWith('-')) plain.push(word);
    else if (value !== undefined) options.set(name, value);
    else if (takesValue(known.get(name))) options.set(name, words[++at] ?? '');
  }
  return { options, words: plain };
}

/**
 * Opens the workspace; returns nothing where it cannot be read, since completion reports no errors.
 */
function opened({ options }: Typed): Workspace | undefined {
  try {
    return Workspace.open(options.get('--workspace') ?? '.', process.cwd());
  } catch {
    return undefined;
  }
}

/**
 * The values of an option or an argument of a name, as far as they can be listed; a shell knows
 * files itself.
 */
function valuesFor(name: string, typed: Typed): readonly string[] {
  if (name === 'kind' || name === 'skip-kind') return KIND_NAMES;
  const workspace = opened(typed);
  if (!workspace) return [];
  const { options, words } = typed;
  const { config } = workspace;
  const form = options.get('--form') ?? words.find((word) => workspace.forms.has(word));
  const forms = [...workspace.forms.values()].filter(
    ({ form: { id } }) => form === undefined || id === form,
  );
  const fields = forms.flatMap(({ form: one }) => one.fields);
  switch (name) {
    case 'form':
      return [...workspace.forms.keys()];
    case 'locale':
      return config.locales;
    case 'field':
    case 'path':
      return fields.map(({ path }) => path);
    case 'rule': {
      const at =
        options.get('--field') ?? words.find((word) => fields.some(({ path }) => path === word));
      const codes = fields
        .filter(({ path }) => at === undefined || path === at)
        .flatMap(({ uses }) => uses.map(codeOf));
      return codes.length > 0 ? codes : [...VOCABULARY.keys()];
    }
    case 'shape':
      return [...config.shapes.keys()];
    case 'problem':
      return [...config.statuses.keys()];
    default:
      return [];
  }
}

/**
 * Returns the candidates for the last word of a line.
 * @param line the words behind the program's name; the last is the one being typed, perhaps empty
 */
export async function candidatesFor(
  line: readonly string[],
  commands: readonly CommandEntry[],
): Promise<string[]> {
  const [name = '', ...rest] = line;
  const last = line.at(-1) ?? '';
  const fitting = (values: Iterable<string>): string[] =>
    [...new Set(values)].filter((one) => one !== '' && one.startsWith(last));
  if (line.length < 2)
    return fitting([...commands.map((one) => one.name), 'help', '--help', '--version']);
  if (name === 'help') return fitting(commands.map((one) => one.name));
  const entry = commands.find((one) => one.name === name);
  if (!entry) return [];
  const command = new Command(name);
  (await entry.load()).define(command);
  const known = new Map(
    command.options.flatMap((option): [string, Option][] =>
      option.long ? [[option.long, option]] : [],
    ),
  );
  const before = rest.slice(0, -1);
  const typed = typedOf(before, known);
  const option = known.get(before.at(-1) ?? '');
  if (option && takesValue(option))
    return fitting(option.argChoices ?? valuesFor(option.long?.slice(2) ?? '', typed));
  if (last.startsWith('-'))
    return fitting([
      ...[...known].flatMap(([long, one]) => (one.hidden ? [] : [long])),
      '--debug',
      '--help',
    ]);
  const wanted = command.registeredArguments;
  const argument =
    wanted[typed.words.length] ?? (wanted.at(-1)?.variadic ? wanted.at(-1) : undefined);
  return argument ? fitting(argument.argChoices ?? valuesFor(argument.name(), typed)) : [];
}
