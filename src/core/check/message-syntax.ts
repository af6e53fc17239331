import { entriesOf } from '../catalog/catalog.js';
import type { Kind } from './kind.js';

export const messageSyntax: Kind = {
  kind: 'message-syntax',
  severity: 'error',
  about: 'A text breaks the message syntax; it counts as absent, and the next rung is asked.',
  remedy: 'Mend what the sentence names; the offset points at it.',
  *find({ subject }) {
    for (const catalog of subject.catalogs) {
      for (const { error, origin, locale } of entriesOf(catalog)) {
        if (!error) continue;
        yield {
          kind: 'message-syntax',
          locale,
          ...(catalog.form === undefined ? {} : { form: catalog.form }),
          message: `${error.problem}: ${error.remedy}.`,
          spot: { ...origin, at: 'value', offset: error.offset },
        };
      }
    }
  },
};
