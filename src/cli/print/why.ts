import type { Entry } from '../../core/texts/entry.js';
import type { Rung, Step } from '../../core/texts/ladder.js';
import type { Locale } from '../../core/locale/tag.js';
import { printPath, type Path } from '../../core/path/path.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { codeOf, type Field, type RuleUse } from '../../core/rules/form.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { paint, width } from './out.js';
import { cut, table, wrap } from './table.js';

/** One rule of one field in one locale, explained. */
export interface Explanation {
  readonly locale: Locale;
  readonly steps: readonly Step[];
  readonly sentence: string;
  /** The text beside the input; absent where there is none. */
  readonly inline: string | undefined;
  readonly beside: Entry | undefined;
  /** The arguments on offer, with what they would say. */
  readonly args: Readonly<Record<string, unknown>>;
  /** The field's label; absent where its name stands for it. */
  readonly label: Entry | undefined;
}

/** The rule and field to explain. */
export interface Asked {
  readonly form: FormIndex;
  readonly field: Field;
  readonly use: RuleUse;
  /** The place that the samples are for. */
  readonly path: Path;
}

const RUNG_NAMES: Record<Rung, string> = {
  'field-of-form': 'this field, in texts of this form',
  field: 'this field, in texts of all forms',
  'message-of-form': 'the rule, in texts of this form',
  message: 'the rule, in texts of all forms',
  house: 'the texts of the house',
  starter: 'the starter catalog',
};

function placeOf({ found, broken, draft }: Step, workspace: Workspace): string {
  const entry = found ?? draft ?? broken;
  return entry ? at(entry, workspace) : '';
}

function at(entry: Entry, workspace: Workspace): string {
  const { file, line, column } = workspace.place({ ...entry.origin, at: 'value' });
  return [file, line, column].filter((part) => part !== undefined).join(':');
}

function outcome(step: Step): string {
  if (step.found) return paint.green(`found under "${step.found.purpose.key}"`);
  if (step.draft) return paint.yellow('passed over, a draft that nobody has looked at');
  return step.broken ? paint.red('passed over, its syntax is broken') : paint.dim('nothing');
}

const shown = (value: unknown): string =>
  typeof value === 'string' ? value : JSON.stringify(value);

const title = ({ form, use, path }: Asked): string =>
  paint.bold(`${form.form.id}  ${printPath(path) || 'the body'}  ${codeOf(use)}`);

/** One language, rung by rung, with the message, the sentence and the arguments. */
export function whyOne(
  asked: Asked,
  { locale, steps, sentence, inline, beside, args, label }: Explanation,
  workspace: Workspace,
): string {
  const rungs = table(
    [
      { head: paint.dim('locale') },
      { head: paint.dim('looked for in') },
      { head: paint.dim('outcome') },
      { head: paint.dim('location') },
    ],
    steps.map((step) => [
      step.locale,
      RUNG_NAMES[step.rung],
      outcome(step),
      placeOf(step, workspace),
    ]),
  );
  const found = steps.at(-1)?.found;
  const offered = table(
    [{ head: paint.dim('argument') }, { head: paint.dim('here it says') }],
    Object.entries(args).map(([name, value]) => [`{${name}}`, cut(shown(value), width() - 30)]),
  );
  const indent = (text: string): string =>
    wrap(text, width() - 2)
      .map((line) => `  ${line}`)
      .join('\n');
  return [
    `${title(asked)}  ${locale}`,
    '',
    rungs,
    '',
    found
      ? `The message is\n${indent(found.text)}`
      : 'There is no message; the text for "unnamed" stands in.',
    `and with sample values it says\n${paint.green(indent(sentence))}`,
    ...(beside && inline !== undefined
      ? [`Beside the input, from ${at(beside, workspace)}, it says\n${paint.green(indent(inline))}`]
      : []),
    label
      ? `The label is from ${at(label, workspace)}`
      : "There is no label; the path's last word stands for it.",
    '',
    offered,
  ].join('\n');
}

/** All languages, a line each. */
export function whyTable(
  asked: Asked,
  explanations: readonly Explanation[],
  workspace: Workspace,
): string {
  const columns = explanations.map(({ steps, locale }) => {
    const last = steps.at(-1);
    const from = last?.found
      ? `${last.rung}${last.locale === locale ? '' : ` of ${last.locale}`}`
      : 'none';
    return { from, place: last ? placeOf(last, workspace) : '' };
  });
  const taken =
    8 +
    Math.max(...columns.map(({ from }) => from.length)) +
    4 +
    Math.max(...columns.map(({ place }) => place.length));
  const room = Math.max(30, width() - taken - 2);
  return [
    title(asked),
    '',
    table(
      [
        { head: paint.dim('locale') },
        { head: paint.dim('from') },
        { head: paint.dim('location') },
        { head: paint.dim('sentence') },
      ],
      explanations.map(({ locale, sentence }, at) => [
        locale,
        columns[at]?.from ?? '',
        columns[at]?.place ?? '',
        wrap(sentence, room).join('\n'),
      ]),
    ),
  ].join('\n');
}

/** Returns the explanation as JSON. */
export function whyJson(
  { form, field, use, path }: Asked,
  explanations: readonly Explanation[],
  workspace: Workspace,
): object {
  return {
    form: form.form.id,
    path: printPath(path),
    field: field.path,
    rule: use.rule,
    code: codeOf(use),
    locales: explanations.map(({ locale, steps, sentence, inline, beside, args, label }) => ({
      locale,
      rungs: steps.map((step) => {
        const entry = step.found ?? step.draft ?? step.broken;
        return {
          locale: step.locale,
          rung: step.rung,
          hit: step.found !== undefined,
          ...(step.broken ? { broken: true } : {}),
          ...(step.draft ? { draft: true } : {}),
          ...(entry
            ? {
                key: step.found?.purpose.key,
                text: entry.text,
                ...workspace.place({ ...entry.origin, at: 'value' }),
              }
            : {}),
        };
      }),
      text: steps.at(-1)?.found?.text,
      sentence,
      ...(beside
        ? {
            inline: {
              text: beside.text,
              sentence: inline,
              ...workspace.place({ ...beside.origin, at: 'value' }),
            },
          }
        : {}),
      ...(label
        ? { label: { text: label.text, ...workspace.place({ ...label.origin, at: 'value' }) } }
        : {}),
      arguments: args,
    })),
  };
}
