import { overview } from '../../texts/overview.js';
import { isInflection } from '../../texts/purpose.js';
import type { Kind } from '../subject/kind.js';

export const missingTranslation: Kind = {
  kind: 'missing-translation',
  severity: 'error',
  about:
    'The texts of a house lack one in a language, so services in that language show another text than all others.',
  remedy: 'Translate it; `fill` makes drafts, `export` sends it to translators.',
  example: '"..email": { "label": "email address" }   // in en alone; rules: []',
  *find({ subject, texts, table }) {
    const { original, locales, isHouse } = subject;
    if (!isHouse) return;
    for (const { texts: written, ...address } of overview(table)) {
      const entry = written.get(original);
      if (!entry || isInflection(address)) continue;
      for (const locale of locales) {
        if ([...written.keys()].some((one) => texts.serves(one, locale))) continue;
        yield {
          kind: 'missing-translation',
          locale,
          ...(address.path === undefined ? {} : { path: address.path }),
          message: `"${entry.text}" has no translation in ${locale}. Write one.`,
          spot: { ...entry.origin, at: 'value' },
        };
      }
    }
  },
};
