// Writes dist/program.cache: V8's compiled code of the program, taken after it has run once, so that it holds what a run needs.
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { Script } from 'node:vm';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const filename = path.join(root, 'dist', 'program.cjs');
const script = new Script(readFileSync(filename, 'utf8'), { filename });

process.argv = [process.argv[0], filename, 'render', 'violations/bad-proposal.json', '--head', '--workspace', '.'];
process.chdir(path.join(root, 'demo', 'observatory'));
const { write } = process.stdout;
process.stdout.write = () => true;
script.runInThisContext()(createRequire(filename), filename);
process.on('exit', (code) => {
  process.stdout.write = write;
  if (code === 0) writeFileSync(path.join(root, 'dist', 'program.cache'), script.createCachedData());
});
