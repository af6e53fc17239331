import { Option, type Command } from 'commander';
import { streams } from '../../exchange/streams.js';
import { workspaceContract, workspaceOpenApi } from '../../workspace/answering/contracts.js';
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
  readonly as: 'json-schema' | 'openapi';
  readonly out?: string;
  readonly check?: string;
}

function contract(options: Options): void {
  const workspace = openWorkspace(options);
  const value =
    options.as === 'openapi'
      ? workspaceOpenApi(workspace, '1', options.shape)
      : workspaceContract(workspace, options.shape);
  const text = `${JSON.stringify(value, undefined, 2)}\n`;
  if (options.check !== undefined) {
    if (isCurrent(options.check, text)) print(`${options.check} is up to date`);
    else {
      print(`${options.check} is out of date; run "zeitwort contract --out ${options.check}"`);
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
      new Option('--as <format>', 'what to write')
        .choices(['json-schema', 'openapi'])
        .default('json-schema'),
    )
    .option('--out <file>', 'the file to write (else standard output)')
    .option('--check <file>', 'write nothing; exit with 1 where this file is out of date')
    .action(contract);
}
