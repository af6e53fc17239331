// Writes V8's compiled code of the program, taken after it has run once, so that it holds what such a run needs.
//   node scripts/code-cache.mjs FILE ARGUMENT...
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { Script } from 'node:vm';

const [file, ...args] = process.argv.slice(2);
const dist = path.join(path.dirname(path.dirname(fileURLToPath(import.meta.url))), 'dist');
const filename = path.join(dist, 'program.cjs');
const script = new Script(readFileSync(filename, 'utf8'), { filename });

process.argv = [process.argv[0], filename, ...args];
process.chdir(path.join(dist, '..', 'demo', 'observatory'));
const { write } = process.stdout;
process.stdout.write = () => true;
script.runInThisContext()(createRequire(filename), filename);
process.on('exit', (code) => {
  process.stdout.write = write;
  if (code === 0) writeFileSync(path.join(dist, file), script.createCachedData());
});
