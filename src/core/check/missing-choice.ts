import type { Locale } from '../locale/tag.js';
import type { Kind } from './kind.js';

const keyOf = (value: unknown): string => (typeof value === 'string' ? value : JSON.stringify(value));

export const missingChoice: Kind = {
  kind: 'missing-choice',
  severity: 'warning',
  about: 'A value of a list has a name in one language and none in another; sentences show the bare value there.',
  remedy: 'Add the name under `choices` of the field.',
  example: '"choices": { "ha": "H-alpha" }       // and none in another language',
  *find({ subject, texts }) {
    const { forms, locales, languages } = subject;
    // Whether a name is missing here hangs on all languages, also where one alone is checked.
    const all = [...new Set([...languages, ...locales])];
    for (const form of forms) {
      for (const { path, pattern, uses } of form.fields) {
        for (const { params, rule, origin } of uses) {
          for (const value of Array.isArray(params.choices) ? (params.choices as unknown[]).map(keyOf) : []) {
            const ladder = texts.choiceLadder(form.id, pattern, value);
            const isNamed = (locale: Locale): boolean => {
              const climber = texts.climber(locale);
              return climber.isOwn(climber.climb(ladder));
            };
            const named = ladder.length === 0 ? [] : all.filter(isNamed);
            if (named.length === 0) continue;
            for (const locale of locales.filter((one) => !named.includes(one))) {
              const message = `"${value}" of ${path} has no name in ${locale}, but has one in ${named.join(', ')}. Add it under "choices".`;
              yield { kind: 'missing-choice', locale, form: form.id, path, rule, message, spot: { ...origin, at: 'value' } };
            }
          }
        }
      }
    }
  },
};
