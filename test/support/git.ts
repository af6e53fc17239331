import { execFileSync } from 'node:child_process';

/** Runs git in a folder, as nobody in particular. */
export function git(folder: string, ...args: string[]): string {
  return execFileSync(
    'git',
    ['-c', 'user.name=t', '-c', 'user.email=t@x.example', '-c', 'init.defaultBranch=main', ...args],
    {
      cwd: folder,
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
    },
  );
}
