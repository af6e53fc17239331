// Takes the pictures of the page of a form in docs/screenshots, in a headless Chromium, from the demo data.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium } from 'playwright-core';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const service = spawn(process.execPath, [path.join(root, 'dist/cli.cjs'), 'serve', '--port', '0', '--log', 'silent'], {
  cwd: path.join(root, 'demo/observatory'),
  stdio: ['ignore', 'pipe', 'inherit'],
});
const url = await new Promise((resolve) => service.stdout.once('data', (chunk) => resolve(chunk.toString().trim())));
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--no-first-run'],
});
for (const locale of ['en', 'de', 'ar']) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${url}/form/visitor-pass?locale=${locale}`);
  await page.fill(`[data-path='["email"]']`, 'ilse at harrowfell');
  await page.fill(`[data-path='["guests"]']`, '9');
  await page.click('#send');
  await page.waitForSelector('#summary:not([hidden])');
  await page.screenshot({ path: path.join(root, `docs/screenshots/form-${locale}.png`) });
}
await browser.close();
service.kill();
