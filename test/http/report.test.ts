import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { chromium, type Browser, type Page } from 'playwright-core';
import { executablePath, withBrowser } from '../support/browser.js';
import { copyOf, zeitwort } from '../support/program.js';

let browser: Browser;
let page: Page;
const folder = copyOf('broken');
const asked: string[] = [];

beforeAll(async () => {
  zeitwort(['report', '--out', 'report.html', '--title', 'the <observatory>'], folder);
  if (executablePath === undefined) return;
  browser = await chromium.launch({ executablePath, args: ['--no-sandbox', '--disable-gpu'] });
  page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  page.on('request', (request) => asked.push(request.url()));
  page.on('pageerror', (error) => asked.push(error.message));
  await page.goto(`file://${path.join(folder, 'report.html')}`);
  await page.waitForSelector('#body tr');
}, 60_000);
afterAll(async () => {
  if (executablePath !== undefined) await browser.close();
});

const rows = (): Promise<string[]> => page.locator('#body tr').allInnerTexts();

withBrowser('the report', () => {
  test('is one file that asks for nothing else, the same each time', () => {
    expect(asked).toEqual([`file://${path.join(folder, 'report.html')}`]);
    const first = readFileSync(path.join(folder, 'report.html'), 'utf8');
    zeitwort(['report', '--out', 'again.html', '--title', 'the <observatory>'], folder);
    expect(readFileSync(path.join(folder, 'again.html'), 'utf8')).toBe(first);
  });

  test('tells the coverage in figures, not in colour alone, and leads to the texts', async () => {
    expect(await page.locator('h1').innerText()).toBe('Validation texts of the <observatory>');
    const square = page.getByRole('button', {
      name: /^observing-proposal, pl: 96 % covered; .* 1 fallback, 0 missing$/,
    });
    expect(await square.innerText()).toMatch(/96 %\s+1 lacking/);
    await square.click();
    expect(await page.locator('#form').inputValue()).toBe('observing-proposal');
    await page.selectOption('#form', '');
  });

  test('searches sentences in all languages, and shows findings in place', async () => {
    await page.keyboard.press('Escape');
    await page.fill('#search', 'judged minLength');
    await page.waitForFunction(() => document.querySelectorAll('#body tr').length === 1);
    const [row = ''] = await rows();
    expect(row).toContain('Abstract needs 200 characters or more, so that it can be judged.');
    expect(row).toContain('Kurzfassung braucht 200 Zeichen oder mehr');
    expect(row).toMatch(/warning: too-long With sample values[^]*messages\/en\.json:19:33/);
    expect(await page.locator('#status').innerText()).toMatch(/^1 of \d+ texts$/);
    await page.fill('#search', '');
    await page.selectOption('#state', 'f');
    await page.waitForFunction(() => document.querySelectorAll('#body tr').length === 1);
    expect((await rows())[0]).toMatch(/fits-the-night[^]*other language/);
    await page.selectOption('#state', '');
  });

  test('has each finding once below, and text from the right where it should', async () => {
    expect(await page.locator('summary .count').allInnerTexts()).toEqual(
      Array.from({ length: 59 }, () => '1'),
    );
    const arabic = copyOf('observatory');
    zeitwort(['report', '--out', 'ar.html'], arabic);
    await page.goto(`file://${path.join(arabic, 'ar.html')}`);
    const cell = page.locator('#body td[lang="ar"]').first();
    expect([
      await cell.getAttribute('dir'),
      await cell.evaluate((one) => getComputedStyle(one).textAlign),
    ]).toEqual(['rtl', 'right']);
  });
});
