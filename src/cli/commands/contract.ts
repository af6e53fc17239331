import { Option, type Command } from 'commander';
import { streams } from '../../exchange/streams.js';
import { workspaceContract, workspaceOpenApi } from '../../workspace/answering/contracts.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { writeWhole } from '../../workspace/disk/write.js';
import {
  isCurrent,
  openWorkspace,
  withWorkspace,
  type WorkspaceOptions,
} from '../shared/options.js';
import { print } from '../print/out.js';

interface Options extends WorkspaceOptions {
  readonly shape?: string;
  readonly format: 'json-schema' | 'openapi';
  readonly out?: string;
  readonly check?: boolean;
}

function contract(options: Options): void {
  const workspace = openWorkspace(options);
  const value =
    options.format === 'openapi'
      ? workspaceOpenApi(workspace, '1', options.shape)
      : workspaceContract(workspace, options.shape);
  const text = `${JSON.stringify(value, undefined, 2)}\n`;
  if (options.check) {
    if (options.out === undefined)
      throw complaint('wrong-use', ['--check compares with a file; name it with --out']);
    if (isCurrent(options.out, text)) print(`${options.out} is up to date`);
    else {
      print(`${options.out} is out of date; run "zeitwort contract --out ${options.out}"`);
      process.exitCode = 1;
    }
  } else if (options.out === undefined) streams().stdout.write(text);
  else {
    writeWhole(options.out, text);
    print(options.out);
  }
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--shape <name>', "the layout of the body (else the workspace's)")
    .addOption(
      new Option('--format <format>', 'what to write')
        .choices(['json-schema', 'openapi'])
        .default('json-schema'),
    )
    .option('--out <file>', 'the file to write (else standard output)')
    .option('--check', 'write nothing; exit with 1 where the file is out of date')
    .action(contract);
}
