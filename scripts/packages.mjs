// Bundles the packages that only a few commands ask for into dist/lib, each group in a file of its
// own that is loaded when it is needed. So whoever installs the program installs nothing else.
import { createRequire } from 'node:module';
import path from 'node:path';
import { build } from 'esbuild';
import { shortTables } from './tables.mjs';

/** What is loaded together. What shares a package must, or there would be two of it. */
const GROUPS = {
  schema: ['ajv', 'ajv/dist/2019.js', 'ajv/dist/2020.js', 'ajv-formats/dist/formats.js'],
  csv: ['csv-parse/sync', 'csv-stringify/sync'],
  diff: ['diff'],
  lsp: ['vscode-languageserver/node', 'vscode-languageserver-textdocument'],
  json: ['stream-json', 'stream-json/filters/Pick.js', 'stream-json/streamers/StreamArray.js'],
  po: ['gettext-parser'],
  progress: ['cli-progress'],
  properties: ['dot-properties'],
  regex: ['scslre'],
  server: [
    'fastify',
    'pino',
    'prom-client/lib/counter.js',
    'prom-client/lib/gauge.js',
    'prom-client/lib/histogram.js',
    'prom-client/lib/registry.js',
  ],
  watch: ['chokidar'],
  xml: ['fast-xml-parser', 'fast-xml-validator'],
  zip: ['fflate'],
};

/**
 * Parts of these packages that nothing here asks for, and what stands for them: tables of old
 * encodings (translations are read and written in UTF-8), a copy of Node's streams, compilers of
 * schemas for routes that have none, and requests that come over no socket.
 */
const STUBS = {
  encoding: `exports.convert = (text, to, from) =>
    Buffer.from(typeof text === 'string' ? text : new TextDecoder(from || 'utf-8').decode(text));`,
  'readable-stream': "module.exports = require('node:stream');",
  'light-my-request': 'module.exports = () => { throw new Error("requests come over sockets"); };',
  '@fastify/ajv-compiler':
    'module.exports = () => () => { throw new Error("no route has a schema"); };',
  '@fastify/fast-json-stringify-compiler':
    'module.exports = () => () => { throw new Error("no route has a schema"); };',
};

const withoutTables = {
  name: 'without-tables',
  setup({ onResolve, onLoad }) {
    onResolve({ filter: /^[a-z@]/ }, ({ path: name }) =>
      Object.hasOwn(STUBS, name) ? { path: name, namespace: 'stub' } : undefined,
    );
    onLoad({ filter: /.*/, namespace: 'stub' }, ({ path: name }) => ({
      contents: STUBS[name],
      loader: 'js',
    }));
  },
};

/**
 * What nearly every run asks for: the program has it in itself, so that it starts quickly; the
 * others share one file.
 */
const COMMON = { base: ['yaml'] };

const groupOf = new Map(
  Object.entries({ ...GROUPS, ...COMMON }).flatMap(([group, names]) =>
    names.map((name) => [name, group]),
  ),
);

/** Leads imports of these packages to the files in dist/lib. */
export const packagesAside = (lib = './lib', shares = true) => ({
  name: 'packages-aside',
  setup({ onResolve, onLoad }) {
    onResolve({ filter: /^[a-z@]/ }, ({ path: name, kind, namespace }) =>
      namespace !== 'aside' &&
      groupOf.has(name) &&
      (shares || !Object.hasOwn(COMMON, groupOf.get(name)))
        ? { path: name, namespace: 'aside' }
        : undefined,
    );
    onResolve({ filter: /^\.\.?\/lib\//, namespace: 'aside' }, ({ path: file }) => ({
      path: file,
      external: true,
    }));
    onLoad({ filter: /.*/, namespace: 'aside' }, ({ path: name }) => ({
      contents: `module.exports = require('${lib}/${groupOf.get(name)}.cjs')[${JSON.stringify(name)}];`,
      loader: 'js',
    }));
  },
});

/**
 * What an ES module may share with the program: in what is imported nothing may ask for modules of
 * Node's own by require().
 */
const IMPORTED = ['schema'];

/** Leads imports of an ES module to some of the files in dist/lib; bundlers follow them there. */
export const packagesImported = (root) => {
  const load = createRequire(path.join(root, 'package.json'));
  return {
    name: 'packages-imported',
    setup({ onResolve, onLoad }) {
      onResolve({ filter: /^[a-z@]/ }, ({ path: name }) =>
        IMPORTED.includes(groupOf.get(name)) ? { path: name, namespace: 'imported' } : undefined,
      );
      onResolve({ filter: /^\.\/lib\//, namespace: 'imported' }, ({ path: file }) => ({
        path: file,
        external: true,
      }));
      onLoad({ filter: /.*/, namespace: 'imported' }, ({ path: name }) => {
        const names = Object.keys(load(name)).filter(
          (one) => one !== 'default' && /^[A-Za-z_$][\w$]*$/.test(one),
        );
        return {
          contents: `import all from './lib/${groupOf.get(name)}.cjs';
            const { ${names.join(', ')} } = all[${JSON.stringify(name)}];
            export { ${names.join(', ')} };
            export default all[${JSON.stringify(name)}].default ?? all[${JSON.stringify(name)}];`,
          loader: 'js',
        };
      });
    },
  };
};

/** Writes the files; gives what esbuild tells of them. */
export async function buildPackages(root, shared) {
  const metafiles = [];
  for (const [group, names] of Object.entries({ ...GROUPS, ...COMMON })) {
    const members = names.map(
      (name) => `${JSON.stringify(name)}: require(${JSON.stringify(name)})`,
    );
    const { metafile } = await build({
      ...shared,
      outdir: undefined,
      outfile: path.join('dist', 'lib', `${group}.cjs`),
      stdin: {
        contents: `module.exports = { ${members.join(', ')} };`,
        resolveDir: root,
        loader: 'js',
      },
      format: 'cjs',
      plugins: [withoutTables, shortTables(/node_modules\/refa\/index\.js$/)],
      metafile: true,
    });
    metafiles.push(metafile);
  }
  return metafiles;
}
