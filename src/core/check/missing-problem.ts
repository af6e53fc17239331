import { structureOf } from '../catalog/alike.js';
import type { Remark } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import { missingByLocale } from './by-locale.js';
import type { Context, Subject } from './context.js';
import type { Kind } from './kind.js';
import { closest } from '../text/closest.js';

function* missingIn(locale: Locale, { texts, problems, settings }: Subject): Generator<Remark> {
  for (const problem of problems) {
    const found = texts.problem(problem, '', locale);
    for (const part of ['title', 'detail'] as const) {
      const entry = found[part];
      if (entry && texts.serves(entry.locale, locale)) continue;
      const got = entry ? "another language's text" : part === 'title' ? 'only its name' : 'none';
      yield {
        kind: 'missing-problem',
        locale,
        message: `The problem "${problem}" has no ${part} in ${locale}; clients get ${got}. Add one under "problems".`,
        spot: { file: settings, keys: ['problems', problem], at: 'key' },
      };
    }
  }
}

/** Whether all texts of problems that are looked for in a locale stand in its own files. */
const hasAll = (locale: Locale, context: Context): boolean =>
  context.subject.problems.every((problem) => {
    const { title, detail } = context.subject.texts.problem(problem, '', locale);
    return context.isOwn(title, locale) && context.isOwn(detail, locale);
  });

export const missingProblem: Kind = {
  kind: 'missing-problem',
  severity: 'error',
  about: "A problem of the whole request has no title or no detail in a locale's own language.",
  remedy: 'Add the text named under `problems`.',
  example: 'problems: { telescope-closed: { status: 409 } }  # no title',
  find: (context) =>
    missingByLocale(
      context,
      (locale) => hasAll(locale, context),
      (locale) => missingIn(locale, context.subject),
    ),
};

export const unknownProblem: Kind = {
  kind: 'unknown-problem',
  severity: 'error',
  about: 'A catalog has texts for a problem that there is none of, often a misspelt name.',
  remedy: 'Correct the name, or declare the problem with its status in zeitwort.yaml.',
  example: '"problems": { "not-fuond": { "title": "…" } }',
  *find({ subject }) {
    for (const catalog of subject.catalogs) {
      for (const problem of structureOf(catalog).problems.keys()) {
        if (subject.problems.includes(problem)) continue;
        const near = closest(problem, subject.problems);
        const remark: Remark = {
          kind: 'unknown-problem',
          locale: catalog.locale,
          message: `There is no problem "${problem}": ${near ? `did you mean "${near}"?` : 'declare it under "problems" in zeitwort.yaml.'}`,
          spot: { file: catalog.file, keys: ['problems', problem], at: 'key' },
        };
        yield remark;
      }
    }
  },
};
