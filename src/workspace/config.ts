import * as z from 'zod';
import { LocaleError, parseLocale, type Locale } from '../core/locale/tag.js';
import { ERROR_STATUSES, PROBLEM_STATUSES } from '../core/body/problems.js';
import { complaint } from './complaint.js';
import { positionAt } from './position.js';
import { yamlLocator, parseYaml } from './yaml.js';
import { explainIssue } from './zod-issues.js';

export const CONFIG_FILE = 'zeitwort.yaml';

const tag = z.string().transform((text, context): Locale => {
  try {
    return parseLocale(text);
  } catch (error) {
    context.addIssue({ code: 'custom', message: error instanceof LocaleError ? error.message : String(error) });
    return z.NEVER;
  }
});

const zone = z.string().refine(
  (name) => {
    // The first formatter of a process costs as much as all the rest of a start.
    if (name === 'UTC') return true;
    try {
      return Boolean(new Intl.DateTimeFormat('en', { timeZone: name }));
    } catch {
      return false;
    }
  },
  { error: 'this is no time zone; write one such as UTC or Europe/Warsaw' },
);

const inside = z.string().refine((glob) => !/^([/\\]|[A-Za-z]:)/.test(glob) && !glob.split(/[/\\]/).includes('..'), {
  error: 'this leads out of the workspace; name files below zeitwort.yaml',
});

const globs = z.union([z.array(inside), inside.transform((one) => [one])]);

const status = z
  .number()
  .refine((code) => ERROR_STATUSES.has(code), { error: 'this is no registered HTTP error status; write one such as 409 or 422' });

const bodySchema = z.strictObject({
  shape: z.enum(['problem']).default('problem'),
  each: z.enum(['all', 'first']).default('all'),
  typeBase: z.url({ error: 'this is no URI; write one such as https://errors.harrowfell.example/' }).optional(),
});

const valuesSchema = z.strictObject({ limit: z.int().min(1, { error: 'a limit is 1 at least' }).default(40) });

/** The workspace file, by design checked whole: an unknown key in it is refused. */
export const configSchema = z.strictObject({
  $schema: z.string().optional(),
  original: tag.default(parseLocale('en')),
  languages: z.array(tag).optional(),
  texts: globs.default(['messages/*.json']),
  rules: globs.default(['rules/*.yaml']),
  then: z.record(z.string(), z.array(tag)).default({}),
  starter: z.boolean().default(true),
  zone: zone.default('UTC'),
  body: bodySchema.prefault({}),
  problems: z
    .record(
      z.string().regex(/^[a-z][a-z0-9-]*$/, { error: 'a problem has an id such as telescope-closed' }),
      z.strictObject({ status }),
    )
    .default({}),
  values: valuesSchema.prefault({}),
  tables: z.record(z.string(), inside).default({}),
});

const KEYS: Record<string, readonly string[]> = {
  '': Object.keys(configSchema.shape),
  body: Object.keys(bodySchema.shape),
  values: Object.keys(valuesSchema.shape),
};

/** What `zeitwort.yaml` says, defaults filled in. */
export interface Config {
  readonly original: Locale;
  /** The original among them. */
  readonly languages: readonly Locale[];
  readonly texts: readonly string[];
  readonly rules: readonly string[];
  readonly then: ReadonlyMap<Locale, readonly Locale[]>;
  readonly starter: boolean;
  readonly zone: string;
  readonly body: { readonly each: 'all' | 'first'; readonly typeBase?: string | undefined };
  /** Status by problem, the known ones and the workspace's own. */
  readonly statuses: ReadonlyMap<string, number>;
  readonly values: { readonly limit: number };
  /** Files of lookup tables, by the name that rules call them. */
  readonly tables: Readonly<Record<string, string>>;
}

/**
 * Reads and checks the workspace file.
 * @throws {Complaint} with line, column and the nearest known name
 */
export function readConfig(text: string, file: string): Config {
  const value = parseYaml(text, file);
  const result = configSchema.safeParse(value);
  if (!result.success) {
    const { keys, at, sentence } = explainIssue(
      result.error,
      value,
      'the workspace file',
      (where) => KEYS[where.join('.')] ?? [],
    );
    const offset = yamlLocator(text)({ file, keys, at });
    throw complaint('wrong-content', [sentence], { file, ...positionAt(text, offset) });
  }
  const { original, languages = [original], then, problems, ...rest } = result.data;
  return {
    ...rest,
    original,
    languages: languages.includes(original) ? languages : [original, ...languages],
    then: new Map(
      Object.entries(then).map(([name, chain]) => {
        try {
          return [parseLocale(name), chain];
        } catch (error) {
          const offset = yamlLocator(text)({ file, keys: ['then', name], at: 'key' });
          throw complaint('wrong-tag', [error instanceof Error ? error.message : String(error)], {
            file,
            ...positionAt(text, offset),
          });
        }
      }),
    ),
    statuses: new Map([...PROBLEM_STATUSES, ...Object.entries(problems).map(([id, one]): [string, number] => [id, one.status])]),
  };
}
