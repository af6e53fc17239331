import { describe } from '@jest/globals';
import { existsSync } from 'node:fs';

/** Where a browser is, if there is one. */
export const executablePath = [
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
].find((file) => existsSync(file));
// CI installs a browser (.ci/run); elsewhere the page is tested where there is one.
export const withBrowser =
  executablePath === undefined && process.env.CI === undefined ? describe.skip : describe;
