import { createHash } from 'node:crypto';
import type { Finding } from '../../core/finding.js';

/**
 * Returns ids for findings that stay the same while lines move: by kind, file and the keys of the
 * place, not by line. Equal ones are numbered in order.
 */
export function fingerprints(findings: readonly Finding[]): string[] {
  const times = new Map<string, number>();
  return findings.map(({ kind, locale, form, path, rule, spot, message }) => {
    // A finding without a place is known by what it says.
    const about = [
      kind,
      locale,
      form,
      path,
      rule,
      spot?.file,
      spot?.keys.filter((key) => typeof key === 'string'),
      spot ? '' : message,
    ];
    const hash = createHash('sha256').update(JSON.stringify(about)).digest('hex').slice(0, 24);
    const time = (times.get(hash) ?? 0) + 1;
    times.set(hash, time);
    return time === 1 ? hash : `${hash}-${time}`;
  });
}
