// Bundles the program and the library into dist/. Each command is a chunk of its own, so that a run loads only what it needs.
import { spawnSync } from 'node:child_process';
import { chmodSync, cpSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const at = (...parts) => path.join(root, ...parts);
const { version } = JSON.parse(readFileSync(at('package.json'), 'utf8'));

rmSync(at('dist'), { recursive: true, force: true });
await build({
  absWorkingDir: root,
  entryPoints: { cli: 'src/cli/main.ts', index: 'src/index.ts' },
  outdir: 'dist',
  bundle: true,
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20',
  // Where a package has both, its ES modules: the UMD wrappers of some cannot be bundled.
  mainFields: ['module', 'main'],
  minifySyntax: true,
  minifyWhitespace: true,
  keepNames: false,
  legalComments: 'linked',
  define: { ZEITWORT_VERSION: JSON.stringify(version) },
  // Packages in CommonJS ask for Node's own modules with require(), which a module does not have.
  banner: { js: "import{createRequire as zwRequire}from'node:module';const require=zwRequire(import.meta.url);" },
  chunkNames: 'part-[name]-[hash]',
  logLevel: 'warning',
});
cpSync(at('src', 'starter'), at('dist', 'starter'), { recursive: true });
chmodSync(at('dist', 'cli.js'), 0o755);

const types = spawnSync(process.execPath, [at('node_modules', 'typescript', 'bin', 'tsc'), '-p', 'tsconfig.build.json'], {
  cwd: root,
  stdio: ['ignore', 2, 2],
});
process.exit(types.status ?? 1);
