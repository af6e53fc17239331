import type { Command } from 'commander';
import { answerViolations } from '../../core/body/answer.js';
import { problemBody } from '../../core/body/problem.js';
import { readText } from '../../workspace/files.js';
import { readViolations } from '../../workspace/violations.js';
import { openWorkspace, withWorkspace, type WorkspaceOptions } from '../options.js';
import { head } from '../print/http.js';

interface Options extends WorkspaceOptions {
  readonly locale?: string;
  readonly head?: boolean;
}

function render(file: string, options: Options): void {
  const workspace = openWorkspace(options);
  const locale = workspace.locale(options.locale ?? workspace.config.original);
  const named = file === '-' ? 'standard input' : file;
  const { form, instance, violations } = readViolations(readText(file, named, 'a report of violations'), named, workspace);
  const answer = answerViolations(
    violations,
    locale,
    workspace.sentences(form),
    workspace.texts,
    workspace.answerOptions,
    instance,
  );
  const body = `${JSON.stringify(problemBody(answer), undefined, 2)}\n`;
  process.stdout.write(options.head ? head(answer, body) + body : body);
}

export function define(command: Command): void {
  withWorkspace(command)
    .argument('<file>', 'a report of violations as JSON, or - for standard input')
    .option('--locale <tag>', "the language of the answer (else the workspace's original)")
    .option('--head', 'print the HTTP status line and the headers first')
    .action(render);
}
