import type { Remark } from '../finding.js';
import type { Kind } from './kind.js';
import { closest } from '../text/closest.js';

export const missingProblem: Kind = {
  kind: 'missing-problem',
  severity: 'error',
  about: "A problem of the whole request has no title or no detail in a locale's own language.",
  remedy: 'Add the text named under `problems`.',
  example: 'problems: { telescope-closed: { status: 409 } }  # no title',
  *find({ subject }) {
    for (const locale of subject.locales) {
      for (const problem of subject.problems) {
        const texts = subject.texts.problem(problem, '', locale);
        for (const part of ['title', 'detail'] as const) {
          const entry = texts[part];
          if (entry && subject.texts.serves(entry.locale, locale)) continue;
          const got = entry ? "another language's text" : part === 'title' ? 'only its name' : 'none';
          const remark: Remark = {
            kind: 'missing-problem',
            locale,
            message: `The problem "${problem}" has no ${part} in ${locale}; clients get ${got}. Add one under "problems".`,
            spot: { file: subject.settings, keys: ['problems', problem], at: 'key' },
          };
          yield remark;
        }
      }
    }
  },
};

export const unknownProblem: Kind = {
  kind: 'unknown-problem',
  severity: 'error',
  about: 'A catalog has texts for a problem that there is none of, often a misspelt name.',
  remedy: 'Correct the name, or declare the problem with its status in zeitwort.yaml.',
  example: '"problems": { "not-fuond": { "title": "…" } }',
  *find({ subject }) {
    for (const catalog of subject.catalogs) {
      for (const [problem, { title, detail }] of catalog.problems) {
        if (subject.problems.includes(problem)) continue;
        const origin = (title ?? detail)?.origin;
        const near = closest(problem, subject.problems);
        const remark: Remark = {
          kind: 'unknown-problem',
          locale: catalog.locale,
          message: `There is no problem "${problem}": ${near ? `did you mean "${near}"?` : 'declare it under "problems" in zeitwort.yaml.'}`,
          spot: { file: catalog.file, keys: origin?.keys.slice(0, 2) ?? ['problems', problem], at: 'key' },
        };
        yield remark;
      }
    }
  },
};
