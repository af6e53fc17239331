import type { Command } from 'commander';
export function define(_: Command): void {}
