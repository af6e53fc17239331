import type { Command } from 'commander';
import { copyShipped } from '../../workspace/copy.js';
import { print } from '../print/out.js';

function init(folder: string): void {
  const names = copyShipped('small', folder);
  const into = folder === '.' ? '' : ` in ${folder}`;
  const there = folder === '.' ? '' : ` --workspace ${folder}`;
  print(`Started a workspace${into}:\n${names.map((name) => `  ${name}`).join('\n')}\n\nNow try: zeitwort check${there}`);
}

export function define(command: Command): void {
  command.argument('[dir]', 'the folder, made where it is not there', '.').action(init);
}
