import type { Coverage } from '../subject/coverage.js';
import type { Kind } from '../subject/kind.js';

/**
 * Rules whose text stands only on a lower rung; reported on request, since most workspaces intend
 * it.
 */
const only =
  (wanted: Coverage, says: (locale: string) => string): NonNullable<Kind['look']> =>
  (_, report) => ({
    cell: {
      wants: (_row, coverage) => coverage === wanted,
      see: ({ row, locale }) => {
        report({
          locale,
          form: row.form.id,
          path: row.field.path,
          rule: row.code,
          message: `"${row.code}" of ${row.field.path || 'the body'} ${says(locale)}.`,
          spot: { ...row.use.origin, at: 'key' },
        });
      },
    },
  });

export const onlyStarter: Kind = {
  kind: 'only-starter',
  severity: 'info',
  quiet: true,
  about:
    'A rule has only the sentence that ships with Zeitwort, which knows nothing of the field but its label.',
  remedy: 'Write a message of your own where the field deserves one; `set` does it.',
  example: "title: { required: true }           # no message of the workspace's own",
  look: only(
    'starter',
    (locale) =>
      `has only the starter's text in ${locale}. Write one of your own if it should say more`,
  ),
};

export const behindOriginal: Kind = {
  kind: 'behind-original',
  severity: 'info',
  quiet: true,
  about:
    "A language has only the sentence that ships with Zeitwort where the original has a text of the workspace's own.",
  remedy: 'Translate the message; `fill` makes drafts, `export` sends it to translators.',
  example: '"title": { "messages": { "required": "Please name it." } }   // in the original alone',
  look: (context, report) => {
    const { original } = context.subject;
    const climber = context.texts.climber(original);
    const ladders = new Map(context.rows.map((row, at) => [row, context.ladders[at] ?? []]));
    return {
      cell: {
        wants: (_, coverage) => coverage === 'starter',
        see: ({ row, locale }) => {
          const ladder = ladders.get(row) ?? [];
          const purpose = climber.purpose(ladder, climber.climb(ladder));
          if (locale === original || purpose?.layer !== 'written') return;
          report({
            locale,
            form: row.form.id,
            path: row.field.path,
            rule: row.code,
            message: `"${row.code}" of ${row.field.path || 'the body'} has a text of its own in ${original} and only the starter's in ${locale}. Translate it.`,
            spot: { ...row.use.origin, at: 'key' },
          });
        },
      },
    };
  },
};

export const onlyFallback: Kind = {
  kind: 'only-fallback',
  severity: 'info',
  quiet: true,
  about:
    "A rule has only another language's text; `missing-message` is the error of it, this the list for planning.",
  remedy: 'Translate the message; `fill` makes drafts.',
  example: 'title: { required: true }           # in a language without a text',
  look: only(
    'fallback',
    (locale) => `falls back on another language in ${locale}. Translate its message`,
  ),
};
