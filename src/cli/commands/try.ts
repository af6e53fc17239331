import { Option, type Command } from 'commander';
import { streams } from '../../exchange/streams.js';
import { withoutSecrets, type Judgement, type Request } from '../../core/rules/evaluate.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { gathered } from '../../core/rules/parameters.js';
import { complaint } from '../../workspace/disk/complaint.js';
import type { Judge } from '../../workspace/judging/judge.js';
import { payloadComplaint, readPayload } from '../../workspace/reading/payload.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import {
  answerLocales,
  answerStyle,
  withAnswer,
  type AnsweringOptions,
} from '../shared/answering.js';
import { collect, openWorkspace, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import {
  answerProblemOf,
  answerViolationsOf,
  answerUnreadable,
  writeAnswer,
  type AnswerStyle,
} from '../print/answer.js';
import { printJson, say } from '../print/out.js';
import { split } from '../shared/pairs.js';
import { trySingle, type SingleOptions } from '../shared/single.js';

interface TryOptions extends WorkspaceOptions, AnsweringOptions, SingleOptions {
  readonly form: string;
  readonly format: 'body' | 'violations';
  readonly query?: string;
  readonly header: readonly string[];
  readonly path: readonly string[];
  readonly today?: string;
}

function requestOf(body: unknown, { query, header, path }: TryOptions): Request {
  return {
    ...(body === undefined ? {} : { body }),
    query: gathered(new URLSearchParams(query ?? '')),
    header: gathered(
      header
        .map((line) => split(line, ':', '--header "Name: value"'))
        .map(([name, value]) => [name.toLowerCase(), value]),
    ),
    path: gathered(path.map((pair) => split(pair, '=', '--path name=value'))),
  };
}

async function judgeFor(workspace: Workspace, today: string | undefined): Promise<Judge> {
  const { judgeOf } = await import('../../workspace/judging/rulings.js');
  if (today === undefined) return judgeOf(workspace);
  const day = new Date(`${today}T12:00:00Z`);
  if (!/^\d{4}-\d{2}-\d{2}$/.test(today) || Number.isNaN(day.getTime()))
    throw complaint('wrong-use', [`--today takes a date such as 2027-02-01, not "${today}"`]);
  return judgeOf(workspace, { now: () => day });
}

function finish(
  form: FormIndex,
  { violations, more }: Judgement,
  style: AnswerStyle,
  options: TryOptions,
): void {
  if (options.format === 'violations')
    printJson({
      form: form.form.id,
      violations: withoutSecrets(violations, form),
      ...(more > 0 ? { more } : {}),
    });
  if (violations.length === 0) {
    streams().stderr.write('Nothing is broken.\n');
    return;
  }
  process.exitCode = 1;
  if (options.format !== 'body') return;
  for (const locale of answerLocales(style.workspace, options.locale))
    writeAnswer(answerViolationsOf({ form, violations, more }, locale, style), style);
}

async function tryPayload(file: string | undefined, options: TryOptions): Promise<void> {
  const workspace = openWorkspace(options).forAnswers();
  const form = workspace.form(options.form);
  const locales = answerLocales(workspace, options.locale);
  const style = answerStyle(workspace, options);
  const single =
    options.field !== undefined || options.rule !== undefined || options.value !== undefined;
  const takesBody = form.form.fields.some((field) => field.in === 'body');
  if (file === undefined && !single && takesBody)
    throw complaint('wrong-use', [
      'name a file with a payload (or - for standard input), or a field with --field and --value (and --rule)',
    ]);
  const payload = file === undefined ? { value: {}, text: '{}' } : readPayload(file);
  if ('problem' in payload) {
    if (single) throw payloadComplaint(payload, file ?? '-');
    say(payloadComplaint(payload, file ?? '-').message);
    process.exitCode = 1;
    if (options.format === 'body')
      for (const locale of locales)
        writeAnswer(answerUnreadable(payload, form.form.id, locale, style), style);
    return;
  }
  const judge = await judgeFor(workspace, options.today);
  const request = requestOf(takesBody ? payload.value : undefined, options);
  try {
    const judgement = single
      ? { violations: trySingle(form, options, request, judge), more: 0 }
      : judge.judge(form, request);
    finish(form, judgement, style, options);
  } catch (error) {
    if (!(error instanceof Error) || error.name !== 'OutOfTime') throw error;
    // As a client of the service would get it.
    say(error.message);
    process.exitCode = 1;
    if (options.format !== 'body') return;
    for (const locale of locales)
      writeAnswer(answerProblemOf('not-validated', form.form.id, locale, style), style);
  }
}

export function define(command: Command): void {
  withAnswer(withWorkspace(command))
    .argument('[file]', 'a payload as JSON, or - for standard input')
    .requiredOption('--form <id>', 'the form that the payload is for')
    .addOption(
      new Option('--format <format>', 'what to print')
        .choices(['body', 'violations'])
        .default('body'),
    )
    .option('--query <string>', 'the query string, such as "dryRun=yes"')
    .option('--header <line>', 'a header, such as "X-Station: north" (repeatable)', collect, [])
    .option('--path <pair>', 'a parameter of the path, such as id=41 (repeatable)', collect, [])
    .option('--field <path>', 'try this field only')
    .option('--rule <id>', 'with --field: this rule only')
    .option('--value <value>', 'with --field: the value, as JSON or text')
    .option(
      '--param <pair>',
      'with --rule: another parameter, such as max=10 (repeatable)',
      collect,
      [],
    )
    .option('--today <date>', 'the date that rules use as today')
    .addHelpText(
      'after',
      '\nThe exit code is 1 where a rule is broken, or the payload cannot be read.',
    )
    .action(tryPayload);
}
