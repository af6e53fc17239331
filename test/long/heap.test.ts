import { expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { copyOf } from '../support/program.js';
import { IS_LONG } from '../support/torture.js';

const COUNTS = IS_LONG ? [100_000, 25_000] : [4_000, 400];

/** What is kept of what clients decide is bounded, and all memos of an owner share 16 MB. */
const MOST_KEPT = 24_000_000;

test.each([
  ['renderer', COUNTS[0]],
  ['service', COUNTS[1]],
])(
  'a %s keeps nothing of %i requests that share nothing',
  (way, count = 0) => {
    const script = path.join(__dirname, '../support/heap.cjs');
    const words = ['--expose-gc', script, copyOf('observatory'), way, String(count)];
    const each = Number(execFileSync(process.execPath, words, { encoding: 'utf8' }));
    expect(each * count).toBeLessThan(MOST_KEPT);
    // A little of each would take longer to fill the memory.
    if (IS_LONG) expect(each).toBeLessThan(400);
  },
  600_000,
);
