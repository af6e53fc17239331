import { availableParallelism } from 'node:os';
import { InvalidArgumentError, Option, type Command } from 'commander';
import { streams } from '../../exchange/streams.js';
import { AuditTally } from '../../core/audit/tally.js';
import { Audit } from '../../workspace/auditing/audit.js';
import { parts } from '../../workspace/auditing/parts.js';
import { readRecordings } from '../../workspace/auditing/recordings.js';
import { readTally, tallyText } from '../../workspace/auditing/tallies.js';
import { bodyStyle } from '../../workspace/answering/answering.js';
import { complaint, Complaint } from '../../workspace/disk/complaint.js';
import { writeWhole } from '../../workspace/disk/write.js';
import { auditParts, rangeOf, type PartResult } from '../shared/audit-jobs.js';
import { openWorkspace, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { auditJson, auditSarif, auditText } from '../print/audit.js';
import { counted, print, printExact, printJson } from '../print/out.js';
import { progressBar } from '../print/progress.js';

declare const ZEITWORT_VERSION: string;

interface Options extends WorkspaceOptions {
  readonly shape?: string;
  readonly format: 'text' | 'json' | 'sarif';
  readonly jobs?: number;
  readonly tally?: string;
  readonly join?: boolean;
  /**
   * A process of another one: the part that it audits, and nothing is printed but what came of it.
   */
  readonly part?: string;
}

/** Audits files one after the other, in this process. */
async function auditHere(files: readonly string[], auditing: () => Audit): Promise<AuditTally> {
  const tally = new AuditTally();
  const audit = auditing();
  for (const file of files)
    for await (const responses of readRecordings(file)) audit.tally(responses, tally);
  return tally;
}

/** Audits one part, for the process that began this one. */
async function auditPart(file: string, range: string, auditing: Audit): Promise<PartResult> {
  const tally = new AuditTally();
  let lines = 0;
  const part = rangeOf(range);
  const count = (read: number): void => {
    lines = read;
  };
  try {
    for await (const responses of readRecordings(file, part, count))
      auditing.tally(responses, tally);
    return { done: tally.data(), lines };
  } catch (error) {
    if (!(error instanceof Complaint)) throw error;
    return {
      failed: { sentence: error.sentence, file: error.location?.file, line: error.location?.line },
    };
  }
}

function joined(files: readonly string[], shape: string): AuditTally {
  const tally = new AuditTally();
  for (const file of files) tally.join(readTally(file, shape));
  return tally;
}

/** In as many processes as there is work for. */
async function auditIn(
  jobs: number,
  files: readonly string[],
  options: Options,
  auditing: () => Audit,
): Promise<AuditTally> {
  const all = jobs > 1 && !files.includes('-') ? parts(files) : [];
  if (all.length < 2) return auditHere(files, auditing);
  const { workspace, shape } = options;
  const handed = [
    ...(workspace === undefined ? [] : ['--workspace', workspace]),
    ...(shape === undefined ? [] : ['--shape', shape]),
  ];
  const progress = await progressBar('parts');
  const tally = await auditParts(all, Math.min(jobs, all.length), handed, (done) =>
    progress.show?.(done, all.length),
  );
  progress.end();
  return tally;
}

async function audit(files: readonly string[], options: Options): Promise<void> {
  const workspace = openWorkspace(options);
  const { shape } = bodyStyle(workspace, options.shape);
  if (options.part !== undefined) {
    const result = await auditPart(
      files[0] ?? '',
      options.part,
      new Audit(workspace, options.shape),
    );
    streams().stdout.write(JSON.stringify(result));
    return;
  }
  if (options.join && options.jobs !== undefined)
    throw complaint('wrong-use', [
      '--join reads tallies, which takes one process; leave --jobs out',
    ]);
  const tally = options.join
    ? joined(files, shape.name)
    : await auditIn(
        options.jobs ?? availableParallelism(),
        files,
        options,
        () => new Audit(workspace, options.shape),
      );
  if (options.tally !== undefined) {
    const text = tallyText(tally, shape.name);
    if (options.tally === '-') printExact(text);
    else {
      writeWhole(options.tally, text);
      print(
        `Wrote ${options.tally}: ${counted(tally.responses, 'response')}, ${tally.deviating} depart from the contract`,
      );
    }
    return;
  }
  if (options.format === 'json') printJson(auditJson(tally));
  else if (options.format === 'sarif') printJson(auditSarif(tally, ZEITWORT_VERSION));
  else print(auditText(tally));
  if (tally.deviating > 0) process.exitCode = 1;
}

function jobs(text: string): number {
  if (!/^[1-9]\d{0,2}$/.test(text))
    throw new InvalidArgumentError('It is a number of processes, from 1.');
  return Number(text);
}

export function define(command: Command): void {
  withWorkspace(command)
    .argument('<files...>', 'HAR files, JSON Lines (- for standard input), or folders of bodies')
    .option('--shape <name>', "the shape that bodies should have (else the workspace's)")
    .addOption(
      new Option('--format <format>', 'how to print')
        .choices(['text', 'json', 'sarif'])
        .default('text'),
    )
    .option('--jobs <number>', 'how many processes read large input (else one for each core)', jobs)
    .option(
      '--tally <file>',
      'write the counts into a file for --join, and print nothing (- for standard output)',
    )
    .option('--join', 'the files are tallies; add them up')
    .addOption(new Option('--part <range>').hideHelp())
    .addHelpText(
      'after',
      '\nThe exit code is 1 where a response departs from the contract; with --tally it is 0.',
    )
    .action(audit);
}
