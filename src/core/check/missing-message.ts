import { isCovered, type CoverageRow } from './coverage.js';
import type { Kind } from './kind.js';

export const missingMessage: Kind = {
  kind: 'missing-message',
  severity: 'error',
  about: "A rule has no text in a locale's own language; clients get another language's, or only the bare name of the rule.",
  remedy: 'Add a message under one of the keys named, for the field or for all fields.',
  example: 'title: { external: { plain-words: {} } }        # no message "plain-words"',
  *find(_, matrix) {
    const whole = new Set<CoverageRow['locales']>();
    for (const { row, locales } of matrix) {
      // Rows that are alike share one map.
      if (whole.has(locales)) continue;
      if ([...locales.values()].every(isCovered)) {
        whole.add(locales);
        continue;
      }
      for (const [locale, coverage] of locales) {
        if (isCovered(coverage)) continue;
        const got = coverage === 'fallback' ? "another language's text" : 'only the name of the rule';
        const keys = row.keys.map((key) => `"${key}"`).join(' or ');
        yield {
          kind: 'missing-message',
          locale,
          form: row.form.id,
          path: row.field.path,
          rule: row.code,
          message: `${keys} of ${row.field.path || 'the body'} has no text in ${locale}; clients get ${got}. Add a message.`,
          spot: { ...row.use.origin, at: 'key' },
        };
      }
    }
  },
};
