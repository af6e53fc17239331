import type { Command } from 'commander'; export function define(command: Command): void { command.action(() => { throw new Error('not yet'); }); }
