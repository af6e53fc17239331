import { createReadStream } from 'node:fs';
import { createInterface } from 'node:readline';
import { Option, type Command } from 'commander';
import { writeProblem } from '../../core/body/problem.js';
import type { Locale } from '../../core/locale/tag.js';
import { REPORT_SHAPES, type ReportShape } from '../../exchange/violations/shapes.js';
import { Complaint, complaint } from '../../workspace/complaint.js';
import { readingFailed, readText } from '../../workspace/files.js';
import { payloadComplaint, readPayload } from '../../workspace/payload.js';
import { readReport, type ReportOptions } from '../../workspace/violations.js';
import type { Workspace } from '../../workspace/workspace.js';
import { openWorkspace, withWorkspace, type WorkspaceOptions } from '../options.js';
import { answerReport, writeAnswer } from '../print/answer.js';

interface Options extends WorkspaceOptions {
  readonly locale?: string;
  readonly head?: boolean;
  readonly from?: ReportShape;
  readonly form?: string;
  readonly payload?: string;
  readonly lines?: boolean;
}

function reportOptions({ from, form, payload: file }: Options): ReportOptions {
  if (file === undefined) return { from, form };
  const payload = readPayload(file);
  if ('problem' in payload) throw payloadComplaint(payload, file);
  return { from, form, payload };
}

/** The place of a complaint about one line of a file. */
function inLine(error: unknown, file: string, line: number): unknown {
  if (!(error instanceof Complaint) || !error.place) return error;
  return new Complaint(error.reason, error.sentence, { ...error.place, file, line });
}

async function renderLines(file: string, workspace: Workspace, locale: Locale, options: ReportOptions): Promise<void> {
  const named = file === '-' ? 'standard input' : file;
  const input = file === '-' ? process.stdin : createReadStream(file);
  let line = 0;
  try {
    for await (const text of createInterface({ input, crlfDelay: Infinity })) {
      line += 1;
      if (text.trim() === '') continue;
      const body = writeProblem(answerReport(workspace, readReport(text, named, workspace, options), locale));
      // Whoever reads more slowly than we write is waited for, so that memory stays flat.
      if (!process.stdout.write(`${body}\n`)) await new Promise((resume) => process.stdout.once('drain', resume));
    }
  } catch (error) {
    if (error instanceof Error && 'code' in error) throw readingFailed(named, error);
    throw inLine(error, named, line);
  }
}

async function render(file: string, options: Options): Promise<void> {
  const workspace = openWorkspace(options);
  const locale = workspace.locale(options.locale ?? workspace.config.original);
  if (options.lines) {
    if (options.head) throw complaint('wrong-use', ['--lines prints bodies alone; leave out --head']);
    await renderLines(file, workspace, locale, reportOptions(options));
    return;
  }
  const named = file === '-' ? 'standard input' : file;
  const report = readReport(readText(file, named, 'a report of violations'), named, workspace, reportOptions(options));
  writeAnswer(answerReport(workspace, report, locale), options);
}

export function define(command: Command): void {
  withWorkspace(command)
    .argument('<file>', 'what a validator reports, as JSON, or - for standard input')
    .option('--locale <tag>', "the language of the answer (else the workspace's original)")
    .option('--head', 'print the HTTP status line and the headers first')
    .addOption(new Option('--from <shape>', 'the shape of the report (else it is found out)').choices([...REPORT_SHAPES]))
    .option('--form <id>', 'the form that was validated, where the report does not say')
    .option('--payload <file>', 'what was validated: it tells what a report leaves out')
    .option('--lines', 'one report a line in (JSON Lines), one body a line out')
    .action(render);
}
