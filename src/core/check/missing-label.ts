import type { Remark } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import type { Origin } from '../origin.js';
import { ANY_ELEMENT, printPath, type Pattern } from '../path/path.js';
import type { Form } from '../rules/form.js';
import { missingByLocale } from './by-locale.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';

type Places = Map<string, { pattern: Pattern; origin: Origin }>;

/** The fields that messages name: those with rules, and the elements around them. */
function named(form: Form): Places {
  const found: Places = new Map();
  const add = (pattern: Pattern, origin: Origin): void => {
    const path = printPath(pattern);
    if (!found.has(path)) found.set(path, { pattern, origin });
  };
  for (const { pattern, origin, uses } of form.fields) {
    if (uses.length === 0) continue;
    for (const [at, segment] of pattern.entries()) {
      if (segment === ANY_ELEMENT && at < pattern.length - 1) add(pattern.slice(0, at + 1), origin);
    }
    add(pattern, origin);
  }
  return found;
}

function* missingIn(locale: Locale, { subject }: Context, forms: readonly (readonly [Form, Places])[]): Generator<Remark> {
  for (const [form, places] of forms) {
    for (const [path, { pattern, origin }] of places) {
      const label = subject.texts.label(form.id, pattern, locale);
      if (label && subject.texts.serves(label.base.locale, locale)) continue;
      const got = label ? 'a word of another language' : "the path's last word";
      yield {
        kind: 'missing-label',
        locale,
        form: form.id,
        path,
        message: `${path || 'The body'} has no label in ${locale}; sentences name it by ${got}. Add one under "fields".`,
        spot: { ...origin, at: 'key' },
      };
    }
  }
}

/** Whether all labels that are looked for in a locale stand in its own files. */
const hasAll = (locale: Locale, context: Context, forms: readonly (readonly [Form, Places])[]): boolean =>
  forms.every(([form, places]) =>
    [...places.values()].every(({ pattern }) =>
      context.isOwn(context.subject.texts.label(form.id, pattern, locale)?.base, locale),
    ),
  );

export const missingLabel: Kind = {
  kind: 'missing-label',
  severity: 'error',
  about: "A field with rules, or an element around it, has no label in a locale's own language.",
  remedy: 'Add a label for its path under `fields`.',
  example: 'title: { required: true }           # no label under "fields"',
  find: (context) => {
    const forms = context.subject.forms.map((form) => [form, named(form)] as const);
    return missingByLocale(
      context,
      (locale) => hasAll(locale, context, forms),
      (locale) => missingIn(locale, context, forms),
    );
  },
};
