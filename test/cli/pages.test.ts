import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { HtmlValidate } from 'html-validate';
import { chromium, type Browser, type Page } from 'playwright-core';
import { argumentsOf } from '../../src/core/message/tree.js';
import { readMessage } from '../../src/core/message/parse.js';
import { SITE_WORDS } from '../../src/report/site/words.js';
import { executablePath, withBrowser } from '../support/browser.js';
import { git } from '../support/git.js';
import { copyOf, folderWith, zeitwort } from '../support/program.js';
import { serve } from '../support/server.js';

const words = path.join(__dirname, '..', '..', 'src', 'words', 'site');

test.each(readdirSync(words))('%s says all that the pages say', (file) => {
  const said = JSON.parse(readFileSync(path.join(words, file), 'utf8')) as Record<string, string>;
  expect(Object.keys(said)).toEqual(Object.keys(SITE_WORDS));
  for (const [word, names] of Object.entries(SITE_WORDS))
    expect([word, ...argumentsOf(readMessage(said[word] ?? '')).keys()]).toEqual([word, ...names]);
});

/** What leads nowhere from a page of a folder of pages. */
function brokenLinks(site: string, file: string): string[] {
  const html = readFileSync(path.join(site, file), 'utf8');
  const links = [...html.matchAll(/<a [^>]*href="([^"]+)"/g)].map(([, href = '']) => href);
  return links.filter((href) => {
    const [to = '', anchor] = href.split('#');
    const target = to === '' ? file : path.posix.join(path.posix.dirname(file), to);
    const at = path.join(site, decodeURIComponent(target));
    if (!existsSync(at)) return true;
    return anchor !== undefined && !readFileSync(at, 'utf8').includes(` id="${anchor}"`);
  });
}

const filesIn = (site: string): string[] =>
  readdirSync(site, { recursive: true, encoding: 'utf8' }).filter((file) => file.endsWith('.html'));

const HARD = {
  'zeitwort.yaml': `original: en
locales: [en, he, pt]
body: { typeBase: "https://errors.domain.example/api/types/v1-", shape: jsonapi, perField: first }
problems: { "sold-out": { status: 409, params: { stock: 3 } } }
tables: { prices: prices.csv }
`,
  'prices.csv': 'price\n3\n',
  'rules/f.yaml': `forms:
  "a/b <c>":
    request: GET /things/{id}
    path:
      id: { type: string, required: true, format: uuid }
    query:
      limit: { type: integer, minimum: 1 }
  nothing: {}
  order:
    request: POST /orders
    fields:
      amount: { type: number, required: true, minimum: 0.5, maximum: 0.9, multipleOf: 0.1 }
      price: { type: integer, knownIn: { table: prices, column: price } }
      pin: { type: string, secret: true, const: "hunter2-<b>" }
      code: { type: string, pattern: { regex: "^[A-Z]{3}$", example: ABC }, external: { sold: { problem: sold-out } } }
      rows: { type: array, minItems: 2 }
      rows[*].from: { type: string, format: date, required: true }
      rows[*].till: { type: string, format: date, earliest: { field: "rows[*].from" } }
      notes.*: { type: string }
`,
};

describe.each([
  ['the demo', () => copyOf('observatory'), ['observing-proposal', 'visitor-pass', 'night-log']],
  ['hard names and another shape', () => folderWith(HARD), ['order']],
])('the pages of %s', (_, make, forms) => {
  const folder = make();
  const site = path.join(folder, 'site');
  const written = zeitwort(['pages', '--out', site], folder);

  test('are valid HTML, lead somewhere, are small, and say nothing internal', async () => {
    expect([written.code, written.err]).toEqual([0, '']);
    const validator = new HtmlValidate({
      extends: ['html-validate:standard'],
      rules: { 'no-inline-style': 'off', 'no-trailing-whitespace': 'off', 'long-title': 'off' },
    });
    // One language from the left, one from the right.
    for (const file of filesIn(site).filter((one) => !/^(?:de|pl|ja|pt)\//.test(one))) {
      const html = readFileSync(path.join(site, file), 'utf8');
      const { results } = await validator.validateString(html);
      const told = results.flatMap(({ messages }) =>
        messages.map(({ ruleId, message, line }) => `${ruleId} ${line}: ${message}`),
      );
      expect([file, told, brokenLinks(site, file)]).toEqual([file, [], []]);
      expect([file, html.length < 50_000]).toEqual([file, true]);
      expect(html).not.toMatch(/rules\/|zeitwort\.yaml|\.csv|hunter2|\/work\/|prices|undefined/);
    }
  });

  test('hold a request body that the form takes', () => {
    for (const form of forms) {
      const html = readFileSync(path.join(site, 'forms', form, 'index.html'), 'utf8');
      const [, body = ''] = /<pre tabindex="0"><code>([^<]*)<\/code>/.exec(html) ?? [];
      const payload = body.replaceAll('&quot;', '"').replaceAll('&amp;', '&');
      const tried = zeitwort(['try', '-', '--form', form, '--locale', 'en'], folder, payload);
      expect([form, tried.code, tried.out]).toEqual([form, 0, expect.any(String)]);
    }
  });
});

test('a page stands where its type leads to, in each language, with what is told in all', () => {
  const folder = folderWith(HARD);
  zeitwort(['pages', '--out', 'site'], folder);
  const read = (file: string): string => readFileSync(path.join(folder, 'site', file), 'utf8');
  expect(read('v1-sold-out/index.html')).toContain(
    'https://errors.domain.example/api/types/v1-sold-out',
  );
  const he = read('he/v1-sold-out/index.html');
  expect(he).toContain('<html lang="he" dir="rtl">');
  // The rule that is this problem leads here, and there.
  expect(he).toMatch(
    /href="\.\.\/\.\.\/he\/forms\/order\/index\.html#field-\d+"><code>order code sold/,
  );
  expect(read('he/forms/order/index.html')).toContain('href="../../../he/v1-sold-out/index.html"');
  expect(read('forms/a-b-c/index.html')).toContain('<h1>a/b &lt;c&gt;</h1>');
  expect(read('forms/order/index.html')).toContain('&quot;amount&quot;: 0.7,');
  expect(read('forms/order/index.html')).toContain('application/vnd.api+json');
});

test('--check finds what is out of date, a run takes out what is gone, --since lists changes', () => {
  const folder = folderWith(HARD);
  git(folder, 'init', '-q');
  git(folder, 'add', '.');
  git(folder, 'commit', '-qm', 'one');
  const pages = (...args: string[]): ReturnType<typeof zeitwort> =>
    zeitwort(['pages', '--out', 'site', ...args], folder);
  expect(pages('--check').code).toBe(1);
  pages();
  const own = path.join(folder, 'site', 'mine', 'index.html');
  mkdirSync(path.dirname(own), { recursive: true });
  writeFileSync(own, '<!doctype html><title>Mine</title>');
  expect(pages('--check')).toMatchObject({ code: 0, out: expect.stringContaining('up to date') });
  // One language alone leaves the others where they are; another page of ours is none of a site.
  const report = path.join(folder, 'site', 'report', 'index.html');
  mkdirSync(path.dirname(report));
  zeitwort(['report', '--out', report], folder);
  pages('--locale', 'he');
  expect([existsSync(report), existsSync(path.join(folder, 'site/index.html'))]).toEqual([
    true,
    true,
  ]);
  pages();
  const rules = path.join(folder, 'rules', 'f.yaml');
  const text = readFileSync(rules, 'utf8');
  writeFileSync(
    rules,
    text.slice(0, text.indexOf('  "a/b')) +
      text.slice(text.indexOf('  order:')).replace('minItems: 2', 'maxItems: 9'),
  );
  const stale = pages('--check');
  expect(stale.code).toBe(1);
  expect(stale.out).toMatch(/forms\/order\/index\.html is out of date/);
  expect(stale.out).toMatch(/forms\/a-b-c\/index\.html is of nothing that is there/);
  pages('--since', 'HEAD');
  expect(existsSync(path.join(folder, 'site/forms/a-b-c/index.html'))).toBe(false);
  expect(existsSync(own)).toBe(true);
  const changes = readFileSync(path.join(folder, 'site/changes/index.html'), 'utf8');
  expect(changes).toContain('<ins><code>maxItems</code></ins>');
  expect(changes).toContain('<del><code>minItems</code></del>');
  rmSync(path.join(folder, 'site'), { recursive: true });
  const both = { ...HARD, 'zeitwort.yaml': HARD['zeitwort.yaml'].replace('sold-out', 'he') };
  const clash = folderWith({
    ...both,
    'zeitwort.yaml': both['zeitwort.yaml'].replace('v1-', ''),
  });
  expect(zeitwort(['pages'], clash)).toMatchObject({
    code: 2,
    err: expect.stringContaining('he/index.html, where another page is already'),
  });
});

test('the service answers them where types lead to, and the contract names them', async () => {
  const folder = folderWith(HARD);
  const service = await serve(folder, '--log-level', 'silent', '--no-watch');
  const get = (at: string, accept: string, language = 'en'): Promise<Response> =>
    fetch(service.url + at, {
      headers: { accept, 'accept-language': language },
    });
  const page = await get('/api/types/v1-sold-out', 'text/html', 'he');
  expect([page.status, page.url]).toEqual([200, `${service.url}/api/types/he/v1-sold-out/`]);
  expect(page.headers.get('content-language')).toBe('he');
  expect(await page.text()).toContain('<html lang="he" dir="rtl">');
  const json = await get('/api/types/v1-sold-out', 'application/json');
  expect(await json.json()).toMatchObject({ problem: 'sold-out', status: 409 });
  const form = await get('/api/types/forms/order/index.html', 'text/html');
  expect([form.status, form.headers.get('content-type')]).toEqual([
    200,
    'text/html; charset=utf-8',
  ]);
  for (const at of ['/api/types/none/', '/api/types/%zz', '/v1-sold-out', '/api/types/../x'])
    expect((await get(at, 'text/html')).status).toBe(404);
  await service.stop();
  const contract = JSON.parse(zeitwort(['contract', '--format', 'openapi'], folder).out) as {
    readonly paths: Readonly<Record<string, Readonly<Record<string, unknown>>>>;
  };
  expect(contract).toMatchObject({
    externalDocs: { url: 'https://errors.domain.example/api/types/index.html' },
  });
  expect(contract.paths['/orders']?.post).toMatchObject({
    externalDocs: { url: 'https://errors.domain.example/api/types/forms/order/index.html' },
  });
});

withBrowser('in a browser', () => {
  const folder = copyOf('observatory');
  const site = path.join(folder, 'site');
  let browser: Browser;
  let page: Page;
  beforeAll(async () => {
    zeitwort(['pages', '--out', site], folder);
    browser = await chromium.launch({ executablePath, args: ['--no-sandbox'] });
    page = await browser.newPage();
  });
  afterAll(async () => {
    await browser.close();
  });
  const open = (file: string): Promise<unknown> =>
    page.goto(pathToFileURL(path.join(site, file)).href);

  test.each([
    ['index.html', 'light'],
    ['ar/forms/observing-proposal/index.html', 'dark'],
    ['de/invalid-fields/index.html', 'light'],
    ['ja/telescope-closed/index.html', 'dark'],
  ] as const)('%s is accessible, %s, at a phone’s width too', async (file, colorScheme) => {
    await page.emulateMedia({ colorScheme });
    await page.setViewportSize({ width: 390, height: 800 });
    await open(file);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
    // The pages forbid scripts from elsewhere.
    const source = readFileSync(createRequire(__filename).resolve('axe-core/axe.min.js'), 'utf8');
    const violations = await page.evaluate(
      `${source};axe.run().then(({ violations }) => violations.map(({ id, nodes }) => id + ' ' + nodes[0].html))`,
    );
    expect(violations).toEqual([]);
  });

  test('the index is searched; languages change by links, no script needed', async () => {
    await page.setViewportSize({ width: 1280, height: 800 });
    await open('index.html');
    await page.fill('#search', 'telescope closed');
    const found = page.locator('[data-found]:visible');
    expect(await found.allInnerTexts()).toEqual([expect.stringContaining('telescope-closed')]);
    await page.fill('#search', 'nowhere at all');
    expect(await page.locator('#none').innerText()).toBe('Nothing found.');
    await open('forms/visitor-pass/index.html');
    await page.click('a[lang=ar]');
    expect(await page.evaluate(() => [document.dir, document.documentElement.lang])).toEqual([
      'rtl',
      'ar',
    ]);
    expect(page.url()).toContain('/ar/forms/visitor-pass/');
  });
});
