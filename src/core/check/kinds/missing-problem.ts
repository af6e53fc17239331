import { closest, suggestion } from '../../text/closest.js';
import type { Context } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';

export const missingProblem: Kind = {
  kind: 'missing-problem',
  severity: 'error',
  about: "A problem of the whole request has no title or no detail in a locale's own language.",
  remedy: 'Add the text named under `problems`.',
  example: 'problems: { telescope-closed: { status: 409 } }  # no title',
  *find({ subject, texts }) {
    for (const locale of subject.locales) {
      for (const problem of subject.problems.keys()) {
        const found = texts.problem('', problem, locale);
        for (const part of ['title', 'detail'] as const) {
          const entry = found[part];
          if (entry && texts.serves(entry.locale, locale)) continue;
          const got = entry
            ? "another language's text"
            : part === 'title'
              ? 'only its name'
              : 'none';
          yield {
            kind: 'missing-problem',
            locale,
            message: `The problem "${problem}" has no ${part} in ${locale}; clients get ${got}. Add one under "problems".`,
            spot: { file: subject.settings, keys: ['problems', problem], at: 'key' },
          };
        }
      }
    }
  },
};

/** The problems that rules name. */
const problemsOfRules = ({ subject: { forms } }: Context) =>
  forms.flatMap((form) =>
    form.fields.flatMap(({ path, uses }) =>
      uses.flatMap(({ problem, rule, as = rule, origin }) =>
        problem === undefined ? [] : [{ form: form.id, path, rule: as, problem, origin }],
      ),
    ),
  );

export const unknownProblem: Kind = {
  kind: 'unknown-problem',
  severity: 'error',
  about: 'A catalog or a rule names a problem that does not exist; often it is misspelt.',
  remedy: 'Correct the name, or declare the problem with its status in zeitwort.yaml.',
  example: '"problems": { "not-fuond": { "title": "…" } }',
  *find(context) {
    const { problems } = context.subject;
    for (const { form, path, rule, problem, origin } of context.once(problemsOfRules)) {
      if (problems.has(problem)) continue;
      yield {
        kind: 'unknown-problem',
        form,
        path,
        rule,
        message: `There is no problem "${problem}"${suggestion(problem, problems.keys())}; declare it under "problems" in zeitwort.yaml.`,
        spot: { ...origin, at: 'value' },
      };
    }
  },
  look: ({ subject }, report) => ({
    catalog: ({ problems, locale, file }) => {
      for (const problem of problems) {
        if (subject.problems.has(problem)) continue;
        const near = closest(problem, subject.problems.keys());
        report({
          locale,
          message: `There is no problem "${problem}": ${near ? `did you mean "${near}"?` : 'declare it under "problems" in zeitwort.yaml.'}`,
          spot: { file, keys: ['problems', problem], at: 'key' },
        });
      }
    },
  }),
};
