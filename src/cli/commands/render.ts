import { createReadStream } from 'node:fs';
import { createInterface } from 'node:readline';
import { Option, type Command } from 'commander';
import { streams } from '../../exchange/streams.js';
import { answerProblem } from '../../core/body/answer.js';
import type { Locale } from '../../core/locale/tag.js';
import type { ReadEntry } from '../../exchange/violations/foreign.js';
import { ERROR_LIST_SHAPES } from '../../exchange/violations/report-shapes.js';
import { Complaint, complaint } from '../../workspace/disk/complaint.js';
import { readingFailed, readText } from '../../workspace/disk/files.js';
import { payloadComplaint, readPayload } from '../../workspace/reading/payload.js';
import { readErrorList, type ErrorListOptions } from '../../workspace/answering/violations.js';
import { suggestion } from '../../core/text/closest.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import {
  answerLocales,
  answerStyle,
  warn,
  withAnswer,
  type AnsweringOptions,
} from '../shared/answering.js';
import { collect, openWorkspace, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { loose, split } from '../shared/pairs.js';
import { checkMembers } from '../../render/rendering.js';
import { answerViolationsOf, writeAnswer, type AnswerStyle } from '../print/answer.js';
import { print } from '../print/out.js';

interface Options extends WorkspaceOptions, AnsweringOptions {
  readonly problem?: string;
  readonly param: readonly string[];
  readonly member: readonly string[];
  readonly reader?: string;
  readonly strict?: boolean;
  readonly explain?: boolean;
  readonly form?: string;
  readonly payload?: string;
  readonly lines?: boolean;
}

async function errorListOptions(workspace: Workspace, options: Options): Promise<ErrorListOptions> {
  const { reader: from, form, payload: file, strict } = options;
  const shared = { from, form, strict, warn };
  if (file === undefined) return shared;
  const payload = readPayload(file);
  if ('problem' in payload) throw payloadComplaint(payload, file);
  const declared = from !== undefined && Object.hasOwn(workspace.config.readers, from);
  if (!declared) return { ...shared, payload };
  // The validators are large; only readers of one's own may ask for what the form's rules find.
  const { judgeOf } = await import('../../workspace/judging/rulings.js');
  const judge = judgeOf(workspace);
  return {
    ...shared,
    payload,
    judge: (index, value) => judge.judge(index, { body: value }).violations,
  };
}

/** The place of a complaint about one line of a file. */
function inLine(error: unknown, file: string, line: number): unknown {
  if (!(error instanceof Complaint) || !error.location) return error;
  return new Complaint(error.reason, error.sentence, { ...error.location, file, line });
}

async function renderLines(
  file: string,
  style: AnswerStyle,
  locale: Locale,
  options: ErrorListOptions,
): Promise<void> {
  const named = file === '-' ? 'standard input' : file;
  const input = file === '-' ? streams().input() : createReadStream(file);
  const { shape, options: how } = style.style;
  const { stdout } = streams();
  let line = 0;
  try {
    for await (const text of createInterface({ input, crlfDelay: Infinity })) {
      line += 1;
      if (text.trim() === '') continue;
      const body = shape.write(
        answerViolationsOf(readErrorList(text, named, style.workspace, options), locale, style),
        how,
      );
      // Whoever reads more slowly than we write is waited for, so that memory stays flat.
      if (!stdout.write(`${body.replaceAll('\n', ' ')}\n`))
        await new Promise((resume) => stdout.once('drain', resume));
    }
  } catch (error) {
    if (error instanceof Error && 'code' in error) throw readingFailed(named, error);
    throw inLine(error, named, line);
  }
}

/** Parameters of a problem: numbers as numbers, so that they can be counted with. */
function problemParams(pairs: readonly string[]): Record<string, unknown> {
  return Object.fromEntries(
    pairs.map((pair) => {
      const [name, text] = split(pair, '=', '--param name=value');
      return [name, /^-?\d+(\.\d+)?$/.test(text) ? Number(text) : text];
    }),
  );
}

/** Extension members (RFC 9457 section 3.2), JSON where it is some. */
function extensions(pairs: readonly string[]): Record<string, unknown> {
  return Object.fromEntries(
    pairs.map((pair) => {
      const [name, text] = split(pair, '=', '--member name=value');
      return [name, loose(text)];
    }),
  );
}

function renderProblem(
  problem: string,
  style: AnswerStyle,
  locales: readonly Locale[],
  options: Options,
): void {
  const { statuses } = style.options;
  if (!statuses.has(problem))
    throw complaint('wrong-use', [
      `there is no problem "${problem}"${suggestion(problem, statuses.keys())}; the problems are ${[...statuses.keys()].join(', ')}`,
    ]);
  if (options.form !== undefined) style.workspace.form(options.form);
  const params = problemParams(options.param);
  const members = extensions(options.member);
  checkMembers(members, style.style.shape);
  const { texts } = style.workspace;
  for (const locale of locales)
    writeAnswer(
      answerProblem(problem, params, locale, options.form ?? '', texts, style.options, {
        ...style.occasion,
        members,
      }),
      style,
    );
}

async function render(file: string | undefined, options: Options): Promise<void> {
  const workspace = openWorkspace(options).forAnswers();
  const locales = answerLocales(workspace, options.locale);
  const style = answerStyle(workspace, options);
  if (options.problem !== undefined) {
    renderProblem(options.problem, style, locales, options);
    return;
  }
  if (file === undefined)
    throw complaint('wrong-use', [
      'name a file with a report (or - for standard input), or a problem with --problem',
    ]);
  if (options.lines) {
    const [locale] = locales;
    if (options.withHeaders)
      throw complaint('wrong-use', ['--lines prints bodies alone; leave out --with-headers']);
    if (!locale || locales.length > 1)
      throw complaint('wrong-use', ['--lines answers in one language; name it with --locale']);
    await renderLines(file, style, locale, await errorListOptions(workspace, options));
    return;
  }
  const named = file === '-' ? 'standard input' : file;
  const text = readText(file, named, 'a report of violations');
  const how = await errorListOptions(workspace, options);
  if (options.explain) {
    const read: ReadEntry[] = [];
    readErrorList(text, named, workspace, { ...how, trace: (one) => read.push(one) });
    const { explained } = await import('../print/explained.js');
    print(explained(read));
    return;
  }
  const report = readErrorList(text, named, workspace, how);
  for (const locale of locales) writeAnswer(answerViolationsOf(report, locale, style), style);
}

export function define(command: Command): void {
  withAnswer(withWorkspace(command))
    .argument('[file]', 'the report of a validator as JSON, or - for standard input')
    .addOption(
      new Option(
        '--reader <name>',
        `the reader of the report (else detected): ${ERROR_LIST_SHAPES.join(', ')}, or one of your own`,
      ),
    )
    .option('--form <id>', 'the form that was validated, where the report does not name it')
    .option('--strict', 'refuse a report with an entry that cannot be read')
    .option('--explain', 'print how the reader read each entry')
    .option('--payload <file>', 'the payload that was validated, for values that the report lacks')
    .option('--lines', 'read one report from each line (JSON Lines), and write one body a line')
    .option('--problem <name>', 'answer with a problem of the whole request instead')
    .option('--param <pair>', 'a parameter of the problem, such as id=41 (repeatable)', collect, [])
    .option(
      '--member <pair>',
      'an additional member of the body of a problem, as JSON or text (repeatable)',
      collect,
      [],
    )
    .action(render);
}
