// Turns a TypeScript file into what Jest runs, with the bundler that the build uses too.
const { transformSync } = require('esbuild');

exports.process = (source, file) => {
  const { code, map } = transformSync(source, {
    loader: 'ts',
    format: 'cjs',
    target: 'node20',
    sourcefile: file,
    sourcemap: 'both',
  });
  return { code, map };
};
