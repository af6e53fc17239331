// Runs the torture tests for so many rounds: `npm run torture -- 50 [seed]`. A failure names its
// seed; the same seed does the same again.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const [rounds = '10', seed] = process.argv.slice(2);
if (!/^[1-9]\d*$/.test(rounds) || (seed !== undefined && !/^\d+$/.test(seed))) {
  process.stderr.write(
    'torture: give the number of rounds, and a seed if you want one: npm run torture -- 50 12345\n',
  );
  process.exit(2);
}
const env = {
  ...process.env,
  TORTURE_ROUNDS: rounds,
  ...(seed === undefined ? {} : { TORTURE_SEED: seed }),
};
const jest = path.join(root, 'node_modules', 'jest', 'bin', 'jest.js');
const { status } = spawnSync(process.execPath, [jest, '--selectProjects', 'long', '--verbose'], {
  cwd: root,
  env,
  stdio: 'inherit',
});
process.exit(status ?? 1);
