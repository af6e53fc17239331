import { createHash } from 'node:crypto';

/** A short name for a key that XML allows as an id. */
export const shortId = (key: string): string =>
  `u${createHash('sha256').update(key).digest('hex').slice(0, 16)}`;
