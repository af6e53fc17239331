import { isOnlyProblem } from '../../body/broken-problem.js';
import type { Remark } from '../../finding.js';
import type { Locale } from '../../locale/tag.js';
import type { Origin } from '../../origin.js';
import { ANY_ELEMENT, printPath, type Pattern } from '../../path/path.js';
import type { Form } from '../../rules/form.js';
import { NOWHERE, type Ladder } from '../../texts/climber.js';
import type { Context } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';

type Places = Map<string, { pattern: Pattern; origin: Origin }>;

/** The fields that messages name: those with rules, and the elements around them. */
function named(form: Form, problems: ReadonlyMap<string, number>): Places {
  const found: Places = new Map();
  const add = (pattern: Pattern, origin: Origin): void => {
    const path = printPath(pattern);
    if (!found.has(path)) found.set(path, { pattern, origin });
  };
  for (const { pattern, origin, uses } of form.fields) {
    if (uses.every((use) => isOnlyProblem(use, form, problems))) continue;
    for (const [at, segment] of pattern.entries()) {
      if (segment === ANY_ELEMENT && at < pattern.length - 1) add(pattern.slice(0, at + 1), origin);
    }
    add(pattern, origin);
  }
  // Elements that hold what a definition lists are around fields too.
  const joined = new Set((form.joins ?? []).map(({ pattern }) => pattern));
  for (const { pattern, origin } of joined.size > 0 ? form.fields : [])
    if (joined.has(pattern) && pattern.at(-1) === ANY_ELEMENT) add(pattern, origin);
  return found;
}

const labelLadders = (
  context: Context,
): { form: string; path: string; origin: Origin; ladder: Ladder }[] =>
  context.subject.forms.flatMap((form) =>
    [...named(form, context.subject.problems)].map(([path, { pattern, origin }]) => ({
      form: form.id,
      path,
      origin,
      ladder: context.labelLadder(form.id, path, pattern),
    })),
  );

/** The number of fields above which a language without any label has one finding for all. */
const MOST_ALONE = 10;

function noneYet(
  locale: Locale,
  lacking: readonly { readonly path: string }[],
  { catalogs, subject }: Context,
): Pick<Remark, 'message' | 'spot'> {
  const fields = new Set(lacking.map(({ path }) => path)).size;
  const message = `No field has a label in ${locale} yet, and ${fields} need one. "zeitwort fill --locale ${locale}" drafts them out of those of ${subject.original}.`;
  const file = catalogs.find(
    (catalog) => catalog.locale === locale && catalog.form === undefined,
  )?.file;
  return {
    message,
    spot:
      file === undefined
        ? { file: subject.settings, keys: ['locales'], at: 'key' }
        : { file, keys: [], at: 'value' },
  };
}

export const missingLabel: Kind = {
  kind: 'missing-label',
  severity: 'error',
  about: "A field with rules, or an element around it, has no label in a locale's own language.",
  remedy: 'Add a label for its path under `fields`.',
  example: 'title: { required: true }           # no label under "fields"',
  *find(context) {
    const { subject, texts } = context;
    const all = context.once(labelLadders);
    const wanted = all.filter(({ ladder }) => !context.isPlainlyWritten(ladder));
    for (const locale of subject.locales) {
      // What is drafted for the original is the field's name in words, as clients read it without.
      const drafted = locale === subject.original ? subject.drafts : undefined;
      const climber = (drafted ?? texts).climber(locale);
      const lacking = wanted.filter(({ ladder }) => !climber.isOwn(climber.climb(ladder)));
      const hasOwn = all.some(({ ladder }) => {
        const end = climber.climb(ladder);
        return climber.isOwn(end) && climber.purpose(ladder, end)?.layer !== 'starter';
      });
      if (!hasOwn && lacking.length > MOST_ALONE && locale !== subject.original) {
        yield { kind: 'missing-label', locale, ...noneYet(locale, lacking, context) };
        continue;
      }
      for (const { form, path, origin, ladder } of lacking) {
        const end = climber.climb(ladder);
        const got = end !== NOWHERE ? 'a word of another language' : "the path's last word";
        yield {
          kind: 'missing-label',
          locale,
          form,
          path,
          message: `${path || 'The body'} has no label in ${locale}; sentences name it by ${got}. Add one under "fields".`,
          spot: { ...origin, at: 'key' },
        };
      }
    }
  },
};
