import { Tables } from '../reading/tables.js';
import type { Workspace } from '../reading/workspace.js';
import { Judge, type JudgeOptions } from './judge.js';

/** The judge of a workspace's requests. */
export function judgeOf(workspace: Workspace, options: JudgeOptions = {}): Judge {
  const { zone } = workspace.config;
  return new Judge({ schemas: workspace.schemas, tables: Tables.of(workspace), zone }, options);
}
