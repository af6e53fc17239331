import { Option, type Command } from 'commander';
import { Audit, readRecordings } from '../../workspace/auditing.js';
import { openWorkspace, withWorkspace, type WorkspaceOptions } from '../options.js';
import { AuditTally } from '../print/audit-tally.js';
import { auditJson, auditSarif, auditText } from '../print/audit.js';
import { print, printJson } from '../print/out.js';

declare const ZEITWORT_VERSION: string;

interface Options extends WorkspaceOptions {
  readonly shape?: string;
  readonly format: 'text' | 'json' | 'sarif';
}

async function audit(files: readonly string[], options: Options): Promise<void> {
  const workspace = openWorkspace(options);
  const auditing = new Audit(workspace, options.shape);
  const tally = new AuditTally();
  for (const file of files)
    for await (const recorded of readRecordings(file)) tally.add(auditing.endpointOf(recorded), auditing.one(recorded));
  if (options.format === 'json') printJson(auditJson(tally));
  else if (options.format === 'sarif') printJson(auditSarif(tally, ZEITWORT_VERSION));
  else print(auditText(tally));
  if (tally.deviating > 0) process.exitCode = 1;
}

export function define(command: Command): void {
  withWorkspace(command)
    .argument('<files...>', 'HAR files, JSON Lines (- for standard input), or folders of bodies')
    .option('--shape <name>', "the shape that bodies should have (else the workspace's)")
    .addOption(new Option('--format <format>', 'how to print').choices(['text', 'json', 'sarif']).default('text'))
    .addHelpText('after', '\nThe exit code is 1 where a response departs from the contract.')
    .action(audit);
}
