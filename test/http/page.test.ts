import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { executablePath, withBrowser } from '../support/browser.js';
import { chromium, type Browser, type Page } from 'playwright-core';
import { copyOf } from '../support/program.js';
import { serve, type Serving } from '../support/server.js';

withBrowser('the page of a form, in a real browser', () => {
  const folder = copyOf('observatory');
  const good = JSON.parse(
    readFileSync(path.join(folder, 'payloads/good-proposal.json'), 'utf8'),
  ) as Record<string, unknown>;
  let serving: Serving;
  let browser: Browser;
  let page: Page;
  beforeAll(async () => {
    serving = await serve(folder, '--log-level', 'warn');
    const flags = [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ];
    browser = await chromium.launch({
      ...(executablePath === undefined ? {} : { executablePath }),
      args: flags,
    });
    page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  }, 60_000);
  afterAll(async () => {
    await browser.close();
    await serving.stop();
  });

  const open = (query: string): Promise<unknown> =>
    page.goto(`${serving.url}/form/observing-proposal?${query}`);
  const input = (...at: (string | number)[]): string =>
    `[data-as][data-path='${JSON.stringify(at)}']`;
  const send = async (): Promise<void> => {
    await page.click('#send');
    await page.waitForSelector('#send:not([disabled])');
  };
  const errorOf = async (...at: (string | number)[]): Promise<string> => {
    const control = page.locator(input(...at));
    const id = (await control.getAttribute('aria-describedby')) ?? '';
    const shown = page.locator(`#${id}`);
    return (await shown.isVisible()) ? ((await shown.textContent()) ?? '') : '';
  };

  test('errors stand beside their fields, the summary takes the focus and leads to them', async () => {
    await open('locale=en');
    await page.fill(input('nights'), 'twenty');
    await page.fill(input('targets', 0, 'magnitude'), '30');
    await send();
    expect(await errorOf('title')).toBe('Please give a title.');
    expect(await page.locator('#summary').innerText()).toContain('Please give a title.');
    expect(await errorOf('nights')).toContain('must be a whole number');
    expect(await errorOf('targets', 0, 'magnitude')).toBe('must be at most 25');
    expect(await page.getAttribute(input('title'), 'aria-invalid')).toBe('true');
    expect(await page.evaluate('document.activeElement.id')).toBe('summary');
    await page.click('#summary a >> nth=0');
    expect(await page.evaluate('document.activeElement.dataset.path')).toBe('["title"]');
  });

  test('old errors are gone when it is sent again; a good proposal is accepted', async () => {
    await open('locale=en');
    await send();
    expect(await errorOf('title')).not.toBe('');
    const fill = async (value: unknown, at: (string | number)[]): Promise<void> => {
      if (typeof value === 'object' && value !== null) {
        const members: [string | number, unknown][] = Array.isArray(value)
          ? [...(value as unknown[]).entries()]
          : Object.entries(value);
        for (const [key, member] of members) await fill(member, [...at, key]);
        return;
      }
      const control = page.locator(input(...at));
      if ((await control.evaluate((node) => node.tagName)) === 'SELECT')
        await control.selectOption(String(value));
      else await control.fill(String(value));
    };
    await fill({ ...good, title: '' }, []);
    await send();
    expect([await errorOf('title'), await errorOf('semester')]).toEqual([
      'Please give a title.',
      '',
    ]);
    await page.fill(input('title'), 'Faint halos');
    await send();
    expect(await page.textContent('#status')).toBe('Accepted.');
    expect([await page.isVisible('#summary'), await errorOf('title')]).toEqual([false, '']);
  });

  test('the button is disabled while a request is under way', async () => {
    await open('locale=en');
    let release = (): void => undefined;
    const held = new Promise<void>((resolve) => (release = resolve));
    await page.route('**/proposals*', async (route) => {
      await held;
      await route.continue();
    });
    await page.click('#send');
    expect([await page.isDisabled('#send'), await page.textContent('#send')]).toEqual([
      true,
      'Sending…',
    ]);
    release();
    await page.waitForSelector('#send:not([disabled])');
    expect(await page.textContent('#send')).toBe('Send');
    await page.unroute('**/proposals*');
  });

  test('the language can be changed without losing what was typed; Arabic runs from the right', async () => {
    await open('locale=de&rows=2');
    await page.fill(input('targets', 1, 'name'), 'Spirale 2');
    await page.selectOption('#language', 'ar');
    await page.waitForURL(/locale=ar/);
    expect(
      await page.evaluate('[document.documentElement.lang, document.documentElement.dir]'),
    ).toEqual(['ar', 'rtl']);
    expect(await page.inputValue(input('targets', 1, 'name'))).toBe('Spirale 2');
    await send();
    expect(await errorOf('title')).toBe('يُرجى إدخال العنوان.');
  });

  test('a network that is gone is told', async () => {
    await open('locale=en');
    await page.route('**/proposals*', (route) => route.abort());
    await send();
    expect(await page.textContent('#summary')).toContain('The service did not answer.');
    await page.unroute('**/proposals*');
  });
});
