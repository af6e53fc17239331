import type { Origin } from '../../origin.js';
import type { Ladder } from '../../texts/climber.js';
import type { Context } from '../subject/context.js';
import type { Locale } from '../../locale/tag.js';
import type { Kind } from '../subject/kind.js';

const keyOf = (value: unknown): string =>
  typeof value === 'string' ? value : JSON.stringify(value);

interface Choice {
  readonly value: string;
  readonly form: string;
  readonly path: string;
  readonly rule: string;
  readonly origin: Origin;
  readonly ladder: Ladder;
}

/** The values of lists that have a name in some language. */
const namedChoices = ({ subject, texts }: Context): readonly Choice[] =>
  subject.forms.flatMap((form) =>
    form.fields.flatMap(({ path, pattern, uses }) =>
      uses.flatMap(({ params, rule, origin }) =>
        (Array.isArray(params.choices) ? (params.choices as unknown[]).map(keyOf) : []).flatMap(
          (value): Choice[] => {
            const ladder = texts.choiceLadder(form.id, pattern, value);
            return ladder.length === 0
              ? []
              : [{ value, path, rule, origin, ladder, form: form.id }];
          },
        ),
      ),
    ),
  );

export const missingChoice: Kind = {
  kind: 'missing-choice',
  severity: 'warning',
  about:
    'A value of a list has a name in one language and none in another; sentences show the bare value there.',
  remedy: 'Add the name under `choices` of the field.',
  example: '"choices": { "ha": "H-alpha" }       // and none in another language',
  *find(context) {
    const { subject, texts } = context;
    const { locales, allLocales: languages } = subject;
    // Whether a name is missing here hangs on all languages, also where one alone is checked.
    const all = [...new Set([...languages, ...locales])];
    for (const { value, form, path, rule, origin, ladder } of context.once(namedChoices)) {
      const isNamed = (locale: Locale): boolean => {
        const climber = texts.climber(locale);
        return climber.isOwn(climber.climb(ladder));
      };
      const named = all.filter(isNamed);
      if (named.length === 0) continue;
      for (const locale of locales.filter((one) => !named.includes(one))) {
        const message = `"${value}" of ${path} has no name in ${locale}, but has one in ${named.join(', ')}. Add it under "choices".`;
        yield {
          kind: 'missing-choice',
          locale,
          form,
          path,
          rule,
          message,
          spot: { ...origin, at: 'value' },
        };
      }
    }
  },
};
