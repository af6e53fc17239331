// Builds the runtime package into dist/runtime: packs in, bodies out, with nothing that asks for
// files, a process or another package. What only the program needs stands aside for something small
// (src/runtime/swaps). Fails where a part is too large.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { gzipSync } from 'node:zlib';
import { build } from 'esbuild';
import { minify } from 'terser';
import { privateNames } from './private-names.mjs';
import { prune } from './types.mjs';

const SWAPPED = {
  'core/body/status-phrases': 'status-phrases',
  'core/complaint': 'complaint',
  'core/locale/registry': 'registry',
  'core/locale/pseudo': 'locale-pseudo',
  'core/message/local-currency': 'local-currency',
  'core/message/may-hold': 'may-hold',
  'core/message/parse': 'parse',
  'core/message/signature': 'signature',
  'core/rules/parameter-names': 'parameter-names',
  'core/rules/vocabulary': 'vocabulary',
  'core/text/closest': 'closest',
  'core/texts/pseudo': 'texts-pseudo',
};
const ENTRIES = [
  'index',
  'zod',
  'schema-errors',
  'schema-output',
  'reader',
  'client',
  'node',
  'express',
  'fetch',
  'fastify',
];

/**
 * The bounds: of all that opening packs and rendering loads, and of what an entry loads besides;
 * minified, and compressed by gzip.
 */
const MOST = {
  index: [74_000, 28_600],
  fastify: [24_000, 10_600],
  client: [10_000, 4_000],
  node: [10_000, 4_000],
  express: [10_000, 4_000],
  fetch: [10_000, 4_000],
};
const MOST_OF_READER = [18_600, 7_600];

export async function buildRuntime(root, version) {
  const at = (...parts) => path.join(root, ...parts);
  const swap = (extension) => ({
    name: 'swap',
    setup({ onResolve }) {
      // An entry that another one imports is loaded as it is, in a file of its own.
      onResolve({ filter: /^\.\/schema-errors\.js$/ }, ({ importer }) =>
        importer === at('src/runtime/fastify.ts')
          ? { path: `./schema-errors${extension}`, external: true }
          : undefined,
      );
      onResolve({ filter: /\.js$/ }, ({ path: wanted, resolveDir }) => {
        const name = path
          .relative(at('src'), path.resolve(resolveDir, wanted))
          .split(path.sep)
          .join('/')
          .replace(/\.js$/, '');
        return Object.hasOwn(SWAPPED, name)
          ? { path: at('src/runtime/swaps', `${SWAPPED[name]}.ts`) }
          : undefined;
      });
      onResolve({ filter: /^negotiator$/ }, () => ({
        path: at('src/runtime/swaps/negotiator.ts'),
      }));
    },
  });
  const shared = {
    absWorkingDir: root,
    entryPoints: ENTRIES.map((name) => `src/runtime/${name}.ts`),
    bundle: true,
    platform: 'neutral',
    target: 'es2022',
    minify: true,
    metafile: true,
    logLevel: 'warning',
    // Members that constructors assign need no declaration.
    tsconfigRaw: { compilerOptions: { useDefineForClassFields: false } },
  };
  rmSync(at('dist/runtime'), { recursive: true, force: true });
  const { metafile: plan } = await build({
    ...shared,
    plugins: [swap('.js')],
    outdir: 'dist/runtime',
    write: false,
  });
  const sources = Object.keys(plan.inputs).map((file) => at(file));
  shared.mangleProps = new RegExp(`^(?:${privateNames(sources).join('|')})$`);
  const { metafile } = await build({
    ...shared,
    plugins: [swap('.js')],
    outdir: 'dist/runtime',
    format: 'esm',
    splitting: true,
    chunkNames: 'part-[hash]',
  });
  await build({
    ...shared,
    plugins: [swap('.cjs')],
    outdir: 'dist/runtime/cjs',
    format: 'cjs',
    outExtension: { '.js': '.cjs' },
  });
  for (const file of Object.keys(metafile.outputs)) await tighten(at(file), true);
  for (const name of ENTRIES) await tighten(at(`dist/runtime/cjs/${name}.cjs`), false);
  measure(root, metafile);
  const { status } = spawnSync(
    process.execPath,
    [at('node_modules/typescript/bin/tsc'), '-p', 'tsconfig.runtime.json'],
    {
      cwd: root,
      stdio: ['ignore', 2, 2],
    },
  );
  if (status !== 0) process.exit(status ?? 1);
  prune(
    at('dist/runtime/types'),
    ENTRIES.map((name) => `runtime/${name}`),
  );
  cpSync(at('dist/runtime/types'), at('dist/runtime/cjs/types'), { recursive: true });
  writeFileSync(at('dist/runtime/cjs/package.json'), '{ "type": "commonjs" }\n');
  const exported = (name) => ({
    require: { types: `./cjs/types/runtime/${name}.d.ts`, default: `./cjs/${name}.cjs` },
    default: { types: `./types/runtime/${name}.d.ts`, default: `./${name}.js` },
  });
  const manifest = {
    name: 'zeitwort-runtime',
    version,
    description: 'Renders validation errors as bodies for clients, out of packs made by zeitwort',
    license: 'MIT',
    type: 'module',
    sideEffects: false,
    engines: { node: '>=20' },
    exports: {
      ...Object.fromEntries(
        ENTRIES.map((name) => [name === 'index' ? '.' : `./${name}`, exported(name)]),
      ),
      './package.json': './package.json',
    },
  };
  writeFileSync(at('dist/runtime/package.json'), `${JSON.stringify(manifest, undefined, 2)}\n`);
  cpSync(at('LICENSE'), at('dist/runtime/LICENSE'));
  cpSync(at('docs/runtime.md'), at('dist/runtime/README.md'));
}

/** Writes a file shorter than the bundler does, which looks at each expression alone. */
async function tighten(file, module) {
  const { code } = await minify(readFileSync(file, 'utf8'), {
    ...{ module, toplevel: true, ecma: 2022 },
    // A function becomes an arrow or a method where it may: none of them is called with `new`.
    // Getters have no side effects.
    compress: { passes: 3, pure_getters: true, unsafe_arrows: true, unsafe_methods: true },
  });
  writeFileSync(file, code);
}

/**
 * Holds every entry against its bound; what the core loads already counts for nothing in the
 * others.
 */
function measure(root, { outputs }) {
  const sizeOf = (files) =>
    files
      .map((file) => readFileSync(path.join(root, file)))
      .reduce(
        ([all, small], bytes) => [all + bytes.length, small + gzipSync(bytes, { level: 9 }).length],
        [0, 0],
      );
  const loaded = (file, seen = new Set()) => {
    if (seen.has(file)) return seen;
    seen.add(file);
    for (const { path: other, external } of outputs[file].imports)
      loaded(external ? path.posix.join(path.posix.dirname(file), other) : other, seen);
    return seen;
  };
  const core = loaded('dist/runtime/index.js');
  const lines = ENTRIES.map((name) => {
    const files = [...loaded(`dist/runtime/${name}.js`)].filter(
      (file) => name === 'index' || !core.has(file),
    );
    const [size, small] = sizeOf(files);
    const [most, mostSmall] = MOST[name] ?? MOST_OF_READER;
    if (size > most || small > mostSmall) {
      console.error(
        `dist/runtime/${name}.js is too large: ${size} bytes, ${small} compressed; at most ${most} and ${mostSmall}`,
      );
      process.exitCode = 1;
    }
    return { entry: name, minified: size, compressed: small };
  });
  mkdirSync(path.join(root, 'dist/runtime'), { recursive: true });
  writeFileSync(
    path.join(root, 'dist/runtime-sizes.json'),
    `${JSON.stringify(lines, undefined, 2)}\n`,
  );
}
