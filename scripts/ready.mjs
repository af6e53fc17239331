// Makes the checkout ready to run: installs when the lock file is newer than what is installed,
// builds when a source is newer than the build.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const at = (...parts) => path.join(root, ...parts);

function run(command, args) {
  // Set-up talks on stderr, so that stdout stays the command's own.
  const { status } = spawnSync(command, args, {
    cwd: root,
    stdio: ['ignore', 2, 2],
    shell: process.platform === 'win32',
  });
  if (status !== 0) process.exit(status ?? 1);
}

function digest(files) {
  const hash = createHash('sha256');
  for (const file of files)
    hash.update(path.relative(root, file)).update('\0').update(readFileSync(file));
  return hash.digest('hex');
}

function filesBelow(directory) {
  return readdirSync(directory, { withFileTypes: true })
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .flatMap((entry) =>
      entry.isDirectory()
        ? filesBelow(path.join(directory, entry.name))
        : [path.join(directory, entry.name)],
    );
}

function onceFor(stamp, wanted, work) {
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  work();
  mkdirSync(path.dirname(stamp), { recursive: true });
  writeFileSync(stamp, wanted);
}

onceFor(at('node_modules', '.installed-for'), digest([at('package-lock.json')]), () =>
  run('npm', ['ci', '--no-audit', '--no-fund']),
);
onceFor(
  at('dist', '.built-for'),
  digest([
    ...filesBelow(at('src')),
    ...['build', 'licences', 'packages', 'runtime', 'types'].map((name) =>
      at('scripts', `${name}.mjs`),
    ),
    ...['package.json', 'tsconfig.build.json', 'tsconfig.runtime.json', 'docs/runtime.md'].map(
      (name) => at(name),
    ),
  ]),
  () => run(process.execPath, [at('scripts', 'build.mjs')]),
);
