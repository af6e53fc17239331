import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { unzipSync } from 'fflate';
import { chromium, type Browser, type Page } from 'playwright-core';
import { executablePath, withBrowser } from '../support/browser.js';
import { copyOf, jsonOf, zeitwort } from '../support/program.js';

/** What is typed for the message of one workspace, from the outside in. */
interface Work {
  readonly tag: string;
  readonly before: string;
  readonly after: string;
  readonly cases: readonly string[];
  readonly message: string;
  readonly sentence: string;
}

const WORK: readonly Work[] = [
  {
    tag: 'pl',
    before: 'Ekspozycje trwają ',
    after: ', a noc jest krótsza.',
    cases: [' godzinę', ' godziny', ' godzin', ' godziny'],
    message:
      'Ekspozycje trwają {hours, plural, one {# godzinę} few {# godziny} many {# godzin} other {# godziny}}, a noc jest krótsza.',
    sentence: 'Ekspozycje trwają 2 godziny, a noc jest krótsza.',
  },
  {
    tag: 'ar',
    before: 'تستغرق اللقطات ',
    after: '، وهذا أطول من الليل.',
    cases: [' ساعة', ' ساعة', ' ساعتان', ' ساعات', ' ساعة', ' ساعة'],
    message:
      'تستغرق اللقطات {hours, plural, zero {# ساعة} one {# ساعة} two {# ساعتان} few {# ساعات} many {# ساعة} other {# ساعة}}، وهذا أطول من الليل.',
    sentence: 'تستغرق اللقطات 3 ساعات، وهذا أطول من الليل.',
  },
  {
    tag: 'ja',
    before: '露出は',
    after: 'かかり、夜より長くなります。',
    cases: ['時間'],
    message: '露出は{hours, plural, other {#時間}}かかり、夜より長くなります。',
    sentence: '露出は6.5時間かかり、夜より長くなります。',
  },
];

const KEY = 'fits-the-night';

withBrowser('a page to translate in, by keyboard alone and without a network', () => {
  let browser: Browser;
  beforeAll(async () => {
    browser = await chromium.launch({
      ...(executablePath === undefined ? {} : { executablePath }),
      args: ['--no-sandbox', '--disable-gpu'],
    });
  }, 60_000);
  afterAll(() => browser.close());

  /** A workspace without one message, and its page. */
  const workspaceFor = (tag: string): string => {
    const folder = copyOf('observatory');
    const file = path.join(folder, `messages/${tag}.json`);
    const catalog = JSON.parse(readFileSync(file, 'utf8')) as { messages: Record<string, unknown> };
    Reflect.deleteProperty(catalog.messages, KEY);
    writeFileSync(file, JSON.stringify(catalog, undefined, 2));
    const made = zeitwort(
      ['export', '--as', 'page', '--locale', tag, '--out', 'page.html'],
      folder,
    );
    expect([made.code, made.err]).toEqual([0, '']);
    return folder;
  };

  const opened = async (folder: string, before?: string): Promise<Page> => {
    const context = await browser.newContext({
      offline: true,
      viewport: { width: 1280, height: 800 },
    });
    const page = await context.newPage();
    page.on('pageerror', (error) => {
      throw error;
    });
    if (before !== undefined) await page.addInitScript(before);
    await page.goto(`file://${path.join(folder, 'page.html')}`);
    return page;
  };

  const saved = async (page: Page): Promise<string> => {
    const waiting = page.waitForEvent('download');
    await page.keyboard.press('Control+s');
    return (await waiting).path();
  };

  /** Inserts a chip by its name where the caret is. */
  const insert = async (page: Page, name: string): Promise<void> => {
    await page.keyboard.type('{');
    for (let tries = 0; tries < 9; tries++) {
      const focused = await page.evaluate('document.activeElement.textContent');
      if (focused === name) break;
      await page.keyboard.press('Tab');
    }
    await page.keyboard.press('Enter');
  };

  test.each(WORK)('$tag: typed, saved, taken in', async (work) => {
    const { tag, before, after, cases, message, sentence } = work;
    const folder = workspaceFor(tag);
    const page = await opened(folder);
    // The first text to do is chosen; Enter in the list begins.
    await page.focus('#list');
    await page.keyboard.press('Enter');
    await page.keyboard.type(before);
    await insert(page, 'hours');
    await page.keyboard.type(after);
    for (const one of cases) {
      await page.keyboard.press('Tab');
      await insert(page, '#');
      await page.keyboard.type(one);
    }
    await page.waitForFunction(
      (text) => document.querySelector('#reads')?.textContent.includes(text),
      sentence,
    );
    await page.locator('#flaws').waitFor({ state: 'hidden' });
    await page.focus('#question');
    await page.keyboard.type('one place or many?');
    const file = await saved(page);
    expect(await page.locator('#status').textContent()).toContain(`.${tag}.csv`);
    const taken = zeitwort(['import', file, '--format', 'csv', '--locale', tag], folder);
    expect(taken.out).toContain('one place or many?');
    expect(jsonOf(folder, `messages/${tag}.json`)).toHaveProperty(['messages', KEY], message);
    // What is done is still there in the same browser, and in the file.
    await page.reload();
    await page.waitForSelector('#reads');
    expect(await page.locator('.text.ready').first().isVisible()).toBe(true);
    const fresh = await opened(folder);
    await fresh.setInputFiles('#open', file);
    await fresh.waitForFunction(() => document.querySelector('#status')?.textContent !== '');
    await fresh.selectOption('#show', 'changed');
    expect(await fresh.locator('.text').allInnerTexts()).toHaveLength(1);
    expect(await saved(fresh)).not.toBe(file);
    await fresh.context().close();
    await page.context().close();
  });

  test('braces cannot be typed, pasted messages have chips, markup is refused at once', async () => {
    const page = await opened(workspaceFor('pl'));
    await page.focus('#list');
    await page.keyboard.press('Enter');
    await page.evaluate(() => {
      const data = new DataTransfer();
      data.setData('text/plain', '<b>{place}</b>: {hours, plural, one {#} other {# x}} {nonsense');
      document.activeElement?.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data }));
      const other = new DataTransfer();
      other.setData('text/plain', ' {place}');
      document.activeElement?.dispatchEvent(new ClipboardEvent('paste', { clipboardData: other }));
    });
    expect(await page.locator('#panel .editor .chip').allInnerTexts()).toEqual(['place']);
    await page.waitForSelector('#flaws li');
    expect(await page.locator('#flaws').innerText()).toContain('Są znaczniki');
    await page.context().close();
  });

  test('is found by a sentence that somebody saw; speaks English too', async () => {
    const page = await opened(workspaceFor('pl'));
    await page.fill(
      '#search',
      'The exposures for target 1 take 9 hours, which is longer than a night.',
    );
    expect((await page.locator('.text').allInnerTexts()).join()).toContain('The exposures');
    await page.selectOption('#tongue', 'en');
    expect(await page.locator('#save').innerText()).toBe('Save the file');
    await page.context().close();
  });

  test('a browser that keeps nothing says so', async () => {
    const page = await opened(
      workspaceFor('pl'),
      "Storage.prototype.setItem = () => { throw new Error('no'); }",
    );
    expect(await page.locator('#kept').innerText()).toContain('nie może przechować');
    await page.context().close();
  });
});

test('a page comes packed where its name says so; one way to write is asked for', () => {
  const folder = copyOf('observatory');
  const out = ['--locale', 'ja', '--out', 'page.zip'];
  expect(zeitwort(['export', '--as', 'page', ...out], folder).code).toBe(0);
  const packed = unzipSync(readFileSync(path.join(folder, 'page.zip')));
  expect(Object.keys(packed)).toEqual([`${path.basename(folder)}.ja.html`]);
  const both = zeitwort(['export', '--as', 'page', '--format', 'csv', ...out], folder);
  expect([both.code, both.err]).toEqual([2, expect.stringContaining('say what to write')]);
  expect(zeitwort(['export', '--locale', 'ja'], folder).code).toBe(2);
});
