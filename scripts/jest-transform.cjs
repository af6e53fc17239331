// Turns a TypeScript file into what Jest runs, with the bundler that the build uses too.
const path = require('node:path');
const { pathToFileURL } = require('node:url');
const { transformSync } = require('esbuild');

// Sources find what ships with the program from where they are once built.
const built = pathToFileURL(path.join(__dirname, '..', 'dist', 'index.js')).href;

exports.process = (source, file) => {
  const { code, map } = transformSync(source, {
    loader: 'ts',
    format: 'cjs',
    target: 'node20',
    sourcefile: file,
    sourcemap: 'both',
    define: { 'import.meta.url': JSON.stringify(built) },
    supported: { 'dynamic-import': false },
  });
  return { code, map };
};

// Without a key of its own, Jest would keep what an older version of this file made.
const own = require('node:fs').readFileSync(__filename, 'utf8');
exports.getCacheKey = (source, file) =>
  require('node:crypto')
    .createHash('sha256')
    .update(own)
    .update('\0')
    .update(file)
    .update('\0')
    .update(source)
    .digest('hex');
