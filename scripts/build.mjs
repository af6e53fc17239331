// Bundles the program and the library into dist/, and keeps the program's compiled code beside it
// (see src/cli/start.cjs).
import { spawnSync } from 'node:child_process';
import {
  chmodSync,
  cpSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { writeLicences } from './licences.mjs';
import { buildPackages, packagesAside, packagesImported } from './packages.mjs';
import { buildRuntime } from './runtime.mjs';
import { prune } from './types.mjs';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const at = (...parts) => path.join(root, ...parts);
const { version } = JSON.parse(readFileSync(at('package.json'), 'utf8'));

function node(...args) {
  const { status } = spawnSync(process.execPath, args, { cwd: root, stdio: ['ignore', 2, 2] });
  if (status !== 0) process.exit(status ?? 1);
}

const shared = {
  absWorkingDir: root,
  outdir: 'dist',
  bundle: true,
  platform: 'node',
  target: 'node20',
  // Where a package has both, its ES modules: the UMD wrappers of some cannot be bundled.
  mainFields: ['module', 'main'],
  minify: true,
  legalComments: 'linked',
  metafile: true,
  logLevel: 'warning',
};

/**
 * What most runs never call, though what they load asks for it at once: it is loaded when something
 * of it is called. Of a package that is named, only what that one asks for.
 */
const CALLED_LATER = [
  {
    name: 'jsonc-parser',
    functions:
      'applyEdits findNodeAtLocation findNodeAtOffset getLocation modify parse parseTree printParseErrorCode visit',
  },
  // Only places in files, and what is wrong with them, need it.
  { name: 'yaml', functions: 'isMap isNode isPair isScalar isSeq parseDocument stringify visit' },
  // It makes expressions for all signs of Unicode when it is loaded, and most texts are measured
  // without it. Packages have others.
  { name: 'string-width', by: at('src'), functions: 'default' },
  { name: 'crypto', functions: 'createHash randomBytes randomUUID' },
  { name: 'readline', functions: 'createInterface' },
  // To start commands that are programs of their own; ours are none.
  { name: 'child_process', by: 'commander', functions: 'spawn' },
  // To make a require() out of an address, where the program has one.
  { name: 'module', by: 'fdir', text: 'export const createRequire = () => require;' },
];
const calledLater = {
  name: 'called-later',
  setup({ onResolve, onLoad }) {
    onResolve({ filter: /^[a-z]/ }, ({ path: asked, importer, namespace }) => {
      const name = asked.replace(/^node:/, '');
      const from = importer.split(/[\\/]node_modules[\\/]/).at(-1);
      const isMeant = (one) =>
        one.name === name && (one.by === undefined || from.startsWith(one.by));
      return namespace !== 'later' && CALLED_LATER.some(isMeant)
        ? { path: name, namespace: 'later' }
        : undefined;
    });
    onLoad({ filter: /.*/, namespace: 'later' }, ({ path: name }) => {
      const { functions = '', text } = CALLED_LATER.find((one) => one.name === name);
      const exported = (one) => (one === 'default' ? 'export default' : `export const ${one} =`);
      const lines = functions
        .split(' ')
        .map((one) => `${exported(one)} (...args) => load().${one}(...args);`);
      lines.unshift(`let loaded; const load = () => (loaded ??= require('${name}'));`);
      return { contents: text ?? lines.join('\n'), loader: 'js', resolveDir: root };
    });
  },
};

rmSync(at('dist'), { recursive: true, force: true });
mkdirSync(at('dist'));
const made = [];
const bundle = async (options) => made.push((await build(options)).metafile);
// Bundlers take what is imported, and leave what only lies beside it behind.
const starters = readdirSync(at('src', 'starter')).map(
  (file) =>
    `exports[${JSON.stringify(path.basename(file, '.json'))}]=()=>require('./starter/${file}');\n`,
);
writeFileSync(at('dist', 'starters.cjs'), starters.join(''));
const library = {
  ...shared,
  define: { ZEITWORT_VERSION: JSON.stringify(version), ZEITWORT_STARTERS: 'zwStarters' },
};
await bundle({
  ...library,
  entryPoints: { index: 'src/index.ts' },
  plugins: [packagesImported(root)],
  format: 'esm',
  splitting: true,
  chunkNames: 'part-[hash]',
  define: { ...library.define, 'import.meta.url': 'zwUrl' },
  // Packages in CommonJS ask for Node's own modules with require(), which a module does not have;
  // once somebody bundles it as CommonJS, it has no address of its own either, and any that every
  // system takes will do.
  banner: {
    js: "import zwStarters from'./starters.cjs';import{createRequire as zwCreate}from'node:module';const zwUrl=import.meta.url||'file:///C:/zeitwort.js',require=zwCreate(zwUrl);",
  },
});
// For require(), which takes no ES module on the older of the Node versions that are served.
await bundle({
  ...library,
  outdir: 'dist/cjs',
  plugins: [packagesAside('../lib')],
  entryPoints: { index: 'src/index.ts' },
  outExtension: { '.js': '.cjs' },
  format: 'cjs',
  define: { ...library.define, 'import.meta.url': 'zwUrl' },
  banner: {
    js: "const zwStarters=require('../starters.cjs'),zwUrl=require('node:url').pathToFileURL(__filename).href;",
  },
});
await bundle({
  ...shared,
  outdir: 'dist/cjs',
  entryPoints: { client: 'src/client.ts' },
  outExtension: { '.js': '.cjs' },
  format: 'cjs',
});
await bundle({
  ...shared,
  entryPoints: { program: 'src/cli/main.ts' },
  plugins: [calledLater, packagesAside('./lib', false)],
  outExtension: { '.js': '.cjs' },
  format: 'cjs',
  define: { ZEITWORT_VERSION: JSON.stringify(version), 'import.meta.url': 'zwUrl' },
  // The whole is one function, so that start.cjs can run it without Node's loader. A command's
  // modules run when it is asked for.
  banner: {
    js: "(function(require,zwFile){const module={exports:{}};const zwUrl=require('node:url').pathToFileURL(zwFile).href;",
  },
  footer: { js: 'return module.exports})' },
});
// What it has besides ASCII stands in regular expressions, and may be escaped there: so it is read,
// and kept, byte for byte.
const program = at('dist', 'program.cjs');
const escaped = (unit) => `\\u${unit.charCodeAt(0).toString(16).padStart(4, '0')}`;
writeFileSync(program, readFileSync(program, 'utf8').replaceAll(/[^\x00-\x7f]/g, escaped));
// What runs modules that export schemas, each in a process of its own.
await bundle({
  ...shared,
  entryPoints: { 'deriving-worker': 'src/workspace/deriving/worker.ts' },
  plugins: [packagesAside()],
  outExtension: { '.js': '.cjs' },
  format: 'cjs',
});
// For browsers and API clients: nothing in them but themselves.
await build({
  absWorkingDir: root,
  outdir: 'dist',
  entryPoints: {
    client: 'src/client.ts',
    'form-page': 'src/browser/form-page.ts',
    'report-page': 'src/browser/report-page.ts',
  },
  bundle: true,
  platform: 'neutral',
  format: 'esm',
  target: 'es2022',
  minify: true,
  logLevel: 'warning',
});
// The page that translators work in holds the core, and the packages that it needs, as browsers
// take them. What the page names was checked when it was written, so the registry of languages
// stays out.
const forBrowsers = {
  name: 'for-browsers',
  setup({ onResolve }) {
    onResolve({ filter: /\/registry\.js$/ }, () => ({
      path: at('src/runtime/swaps/registry.ts'),
    }));
    onResolve({ filter: /^csv-(parse|stringify)\/sync$/ }, ({ path: name, ...asked }) => ({
      path: at('node_modules', name.replace('/sync', ''), 'dist/esm/sync.js'),
    }));
  },
};
const page = await build({
  absWorkingDir: root,
  outdir: 'dist',
  entryPoints: { 'desk-page': 'src/browser/desk/desk-page.ts' },
  plugins: [forBrowsers],
  bundle: true,
  platform: 'browser',
  format: 'esm',
  target: 'es2022',
  minify: true,
  metafile: true,
  legalComments: 'none',
  logLevel: 'warning',
});
made.push(page.metafile);
/** The most that the page weighs besides its texts, in bytes. */
const MOST_OF_PAGE = 350_000;
const weight = page.metafile.outputs['dist/desk-page.js'].bytes;
if (weight > MOST_OF_PAGE) {
  console.error(`the page for translators has ${weight} bytes, and may have ${MOST_OF_PAGE}`);
  process.exit(1);
}
made.push(...(await buildPackages(root, shared)));
writeLicences(root, made);
cpSync(at('src', 'cli', 'start.cjs'), at('dist', 'cli.cjs'));
cpSync(at('src', 'cli', 'command.cjs'), at('dist', 'command.cjs'));
chmodSync(at('dist', 'cli.cjs'), 0o755);
cpSync(at('src', 'starter'), at('dist', 'starter'), { recursive: true });
cpSync(at('src', 'words'), at('dist', 'words'), { recursive: true });
node(at('node_modules', 'typescript', 'bin', 'tsc'), '-p', 'tsconfig.build.json');
prune(at('dist', 'types'), ['index', 'client', 'command']);
// The same declarations for require(): a folder of its own says that what is in it is CommonJS.
cpSync(at('dist', 'types'), at('dist', 'cjs', 'types'), { recursive: true });
writeFileSync(at('dist', 'cjs', 'package.json'), '{ "type": "commonjs" }\n');
await buildRuntime(root, version);
