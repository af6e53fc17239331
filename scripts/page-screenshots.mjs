// Takes the pictures of the page of a form in docs/screenshots, in a headless Chromium, from the
// demo data.
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium } from 'playwright-core';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const service = spawn(
  process.execPath,
  [path.join(root, 'dist/cli.cjs'), 'serve', '--port', '0', '--log-level', 'silent'],
  {
    cwd: path.join(root, 'demo/observatory'),
    stdio: ['ignore', 'pipe', 'inherit'],
  },
);
const url = await new Promise((resolve) =>
  service.stdout.once('data', (chunk) => resolve(chunk.toString().trim())),
);
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--no-first-run'],
});
const index = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await index.goto(`${url}/?locale=de`);
await index.screenshot({ path: path.join(root, 'docs/screenshots/service.png') });
for (const locale of ['en', 'ar']) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${url}/form/visitor-pass?locale=${locale}`);
  await page.fill(`[data-path='["email"]']`, 'ilse at harrowfell');
  await page.fill(`[data-path='["guests"]']`, '9');
  await page.click('#send');
  await page.waitForSelector('#summary:not([hidden])');
  await page.screenshot({ path: path.join(root, `docs/screenshots/form-${locale}.png`) });
}

// A page for people who write clients, as the service answers it.
const docs = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await docs.goto(`${url}/forms/visitor-pass/index.html`);
await docs.screenshot({ path: path.join(root, 'docs/screenshots/pages.png') });

// The report, of the broken workspace in light and dark, and in Arabic.
const folder = mkdtempSync(path.join(tmpdir(), 'zeitwort-report-'));
const report = (workspace) => {
  const file = path.join(folder, `${workspace}.html`);
  spawnSync(
    process.execPath,
    [path.join(root, 'dist/cli.cjs'), 'report', '--workspace', `demo/${workspace}`, '--out', file],
    {
      cwd: root,
    },
  );
  return `file://${file}`;
};
const [broken, observatory] = [report('broken'), report('observatory')];
const texts = () => document.getElementById('texts').scrollIntoView();
const arabic = () => {
  for (const [at, input] of [...document.querySelectorAll('#languages input')].entries())
    input.checked = at === 0 || at === 3;
  document.getElementById('form').value = 'observing-proposal';
  document.getElementById('languages').dispatchEvent(new Event('change'));
  document.getElementById('status').scrollIntoView();
};
for (const [name, url, colorScheme, width, act] of [
  ['report', broken, 'light', 1280, () => undefined],
  ['report-dark', broken, 'dark', 1280, texts],
  ['report-ar', observatory, 'light', 1280, arabic],
]) {
  const page = await browser.newPage({ viewport: { width, height: 800 }, colorScheme });
  await page.goto(url);
  await page.waitForSelector('#body tr');
  await page.evaluate(act);
  await page.waitForTimeout(200);
  await page.screenshot({ path: path.join(root, `docs/screenshots/${name}.png`) });
}

// The page to translate in, with a message in hand that its language does not have yet.
const zeitwort = (...args) =>
  spawnSync(process.execPath, [path.join(root, 'dist/cli.cjs'), ...args], { cwd: copy });
const copy = path.join(folder, 'observatory');
cpSync(path.join(root, 'demo/observatory'), copy, { recursive: true });
for (const [locale, before, after, cases] of [
  [
    'pl',
    'Ekspozycje ({place}) trwają ',
    ', a noc jest krótsza.',
    [' godzinę', ' godziny', ' godzin', ' godziny'],
  ],
  [
    'ar',
    'تستغرق اللقطات ({place}) ',
    '، وهذا أطول من الليل.',
    [' ساعة', ' ساعة', ' ساعتين', ' ساعات', ' ساعة', ' ساعة'],
  ],
  ['ja', '{place}の露出は', 'かかり、夜より長くなります。', ['時間']],
]) {
  zeitwort('unset', '--locale', locale, '--rule', 'fits-the-night');
  zeitwort('export', '--as', 'page', '--locale', locale, '--out', 'page.html');
  const page = await browser.newPage({ viewport: { width: 1280, height: 900 } });
  await page.goto(`file://${copy}/page.html`);
  await page.focus('#list');
  await page.keyboard.press('Enter');
  const insert = (text) =>
    page.evaluate((plain) => {
      const clipboardData = new DataTransfer();
      clipboardData.setData('text/plain', plain);
      document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData }));
    }, text);
  await insert(before);
  await page.keyboard.type('{');
  await page.click('#offers button:has-text("hours")');
  await page.keyboard.type(after);
  for (const one of cases) {
    await page.keyboard.press('Tab');
    await page.click('#offers button:has-text("#")');
    await page.keyboard.type(one);
  }
  await page.waitForTimeout(500);
  await page.screenshot({ path: path.join(root, `docs/guide/pictures/page-${locale}.png`) });
}
rmSync(folder, { recursive: true });
await browser.close();
service.kill();
