import { spawnSync } from 'node:child_process';
import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { createContext, runInContext, runInThisContext } from 'node:vm';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { build } from 'esbuild';
import fc from 'fast-check';
import { chromium } from 'playwright-core';
import { openWorkspace, type Renderer } from '../../src/library.js';
import { copyOf, zeitwort } from '../support/program.js';
import { closest } from '../../src/core/text/closest.js';
import { closest as ownClosest } from '../../src/runtime/swaps/closest.js';
import { executablePath, withBrowser } from '../support/browser.js';

const root = path.join(__dirname, '..', '..');
const runtime = path.join(root, 'dist', 'runtime');

type Report = Parameters<Renderer['render']>[0];

const TEXTS = {
  locale: 'en',
  messages: {
    'fits-the-night':
      'It takes {hours, number, ::.0} h ({hours, plural, =7 {a whole night} one {# hour} other {# hours}}), {price, number, ::currency/EUR}.',
    earliest:
      '{label_start}: not before {limit, date, ::yMMMd}; {exclusive, select, yes {not then} other {or then}}.',
    maxBytes: "It''s {size} at '{most}'.",
  },
};
const folder = copyOf('observatory', { 'messages/own.json': TEXTS });
const workspace = openWorkspace(folder);
zeitwort(['pack', '--module', '--out', 'packs'], folder);
const modules = workspace.locales.map((locale) => path.join(folder, 'packs', `${locale}.mjs`));

const reports: Report[] = ['worse-proposal', 'bad-proposal', 'bad-pass'].map(
  (name) =>
    JSON.parse(readFileSync(path.join(folder, 'violations', `${name}.json`), 'utf8')) as Report,
);
reports.push({
  form: 'observing-proposal',
  violations: [
    { path: 'targets[0].exposures', rule: 'fits-the-night', params: { hours: 7, price: 12.5 } },
    { path: 'firstNight', rule: 'earliest', params: { limit: '2027-02-01' } },
    { path: 'title', rule: 'maxBytes', params: { max: 5_000_000 } },
    { path: 'title', rule: 'format', params: { format: 'base64' }, value: 'x' },
    { path: 'targets[2]', rule: 'unnamed' },
  ],
});

/**
 * What a renderer answers to all reports, in all languages and shapes; plain data, so that it can
 * come from anywhere.
 */
const ANSWERS = `(renderer, reports, languages) => languages.flatMap((locale) =>
  ['problem', 'problem-xml', 'jsonapi', 'graphql', 'fields', 'list', 'text', 'html'].flatMap((shape) => [
    ...reports.map((report) => renderer.render(report, { locale, shape })),
    renderer.renderProblem('malformed-body', { locale, shape, params: { located: 'yes', line: 2, column: 1234 } }),
    renderer.renderProblem('not-found', { acceptLanguage: locale + ';q=0.9, xx;q=0.95, *;q=0.1', shape }),
  ]).map(({ status, headers, body }) => JSON.stringify([status, headers, body])))`;
const answersOf = runInThisContext(ANSWERS) as (
  renderer: Renderer,
  told: Report[],
  languages: readonly string[],
) => string[];
const expected = answersOf(workspace, reports, workspace.locales);

/**
 * One script out of the runtime, the packs and a reader, as a bundler makes it for where there is
 * nothing but the language.
 */
async function bundle(): Promise<string> {
  const contents = `
    import { openPack } from ${JSON.stringify(path.join(runtime, 'index.js'))};
    import { fromZod } from ${JSON.stringify(path.join(runtime, 'zod.js'))};
    ${modules.map((file, at) => `import pack${at} from ${JSON.stringify(file)};`).join('\n')}
    const renderer = openPack(${modules.map((_, at) => `pack${at}`).join(', ')});
    const answers = ${ANSWERS};
    globalThis.run = (reports, languages) => answers(renderer, reports, languages);
    globalThis.read = (issues) => fromZod(issues, { form: renderer.form('visitor-pass') });
  `;
  const { outputFiles } = await build({
    stdin: { contents, resolveDir: root },
    bundle: true,
    write: false,
    format: 'iife',
    platform: 'browser',
    minify: true,
    logLevel: 'error',
  });
  return outputFiles[0]?.text ?? '';
}

const ISSUES = [{ code: 'too_big', origin: 'number', maximum: 5, path: ['guests'] }];
const READ = [{ path: 'guests', rule: 'maximum', params: { max: 5 } }];

describe('the runtime answers what the workspace answers', () => {
  test('in Node, as an ES module and with require', () => {
    const script = `import { openPack } from ${JSON.stringify(pathToFileURL(path.join(runtime, 'index.js')).href)};
      ${modules.map((file, at) => `import p${at} from ${JSON.stringify(pathToFileURL(file).href)};`).join('\n')}
      const answers = ${ANSWERS};
      const [reports, languages] = JSON.parse(await new Response(process.stdin).text());
      console.log(JSON.stringify(answers(openPack(${modules.map((_, at) => `p${at}`).join(', ')}), reports, languages)));`;
    const { stdout, stderr } = spawnSync(process.execPath, ['--input-type=module', '-e', script], {
      input: JSON.stringify([reports, workspace.locales]),
      encoding: 'utf8',
      maxBuffer: 64 * 1024 * 1024,
    });
    expect(stderr).toBe('');
    expect(JSON.parse(stdout)).toEqual(expected);
    const required = createRequire(__filename)(path.join(runtime, 'cjs/index.cjs')) as {
      openPack: (...packs: unknown[]) => Renderer;
    };
    const packs = modules.map(
      (file) =>
        JSON.parse(
          JSON.parse(
            /JSON\.parse\((".*")\)/.exec(readFileSync(file, 'utf8'))?.[1] ?? '""',
          ) as string,
        ) as object,
    );
    expect(answersOf(required.openPack(...packs), reports, workspace.locales)).toEqual(expected);
    expect(() => required.openPack({ ...packs[0], trees: undefined })).toThrow(
      'run "zeitwort pack --module"',
    );
    expect(() => required.openPack({ ...packs[0], pack: 2 })).toThrow('not a pack of version 1');
    expect(() => required.openPack('packs/en.json')).toThrow('not a pack');
  });

  test('in a bundle where there is no process, no file system and no require', async () => {
    const script = await bundle();
    // Only what the language itself has, and what every platform of the web has.
    const context = createContext({
      TextEncoder,
      TextDecoder,
      reports,
      languages: workspace.locales,
      ISSUES,
    });
    runInContext(script, context);
    expect(runInContext('typeof process + typeof require + typeof Buffer', context)).toBe(
      'undefinedundefinedundefined',
    );
    expect(
      JSON.parse(runInContext('JSON.stringify(run(reports, languages))', context) as string),
    ).toEqual(expected);
    expect(JSON.parse(runInContext('JSON.stringify(read(ISSUES))', context) as string)).toEqual(
      READ,
    );
  });
});

withBrowser('in a browser', () => {
  const server = createServer(
    (_, response) =>
      void bundle().then((script) =>
        response
          .setHeader('content-type', 'text/html; charset=utf-8')
          .end(`<script>${script}</script>`),
      ),
  );
  beforeAll(() => new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve)));
  afterAll(() => new Promise((resolve) => server.close(resolve)));

  test('the runtime answers the same', async () => {
    const browser = await chromium.launch({
      executablePath: executablePath ?? '',
      args: ['--no-sandbox'],
    });
    try {
      const page = await browser.newPage();
      await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
      const call = `JSON.stringify([run(${JSON.stringify(reports)}, ${JSON.stringify(workspace.locales)}), read(${JSON.stringify(ISSUES)})])`;
      const [answers, read] = JSON.parse(await page.evaluate(call)) as [string[], unknown];
      expect(read).toEqual(READ);
      // Another version of CLDR has other spaces in a few places.
      const spaces = (text: string): string => text.replace(/[\u00a0\u202f\u2009]/g, ' ');
      const differing = answers.filter((one, at) => spaces(one) !== spaces(expected[at] ?? ''));
      expect(differing).toEqual([]);
    } finally {
      await browser.close();
    }
  });
});

test('the nearest of many choices is the same without a package', () => {
  const word = fc.string({ unit: fc.constantFrom('a', 'b', 'C', 'ß', '-', '1'), maxLength: 9 });
  fc.assert(
    fc.property(word, fc.array(word, { maxLength: 6 }), (sent, names) => {
      expect(ownClosest(sent, names)).toBe(closest(sent, names));
    }),
  );
});
