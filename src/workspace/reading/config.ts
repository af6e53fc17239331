import * as z from 'zod';
import { LocaleError, parseLocale, type Locale } from '../../core/locale/tag.js';
import { distance } from 'fastest-levenshtein';
import { MOST_SAID, MOST_TOLD } from '../../core/body/answer.js';
import { PROBLEM_STATUSES } from '../../core/body/problems.js';
import { ERROR_STATUSES } from '../../core/body/status-phrases.js';
import type { Shape } from '../../core/body/shapes/shape.js';
import { SHAPES } from '../../core/body/shapes/shapes.js';
import { checkTemplate, TemplateError } from '../../core/body/shapes/check-template.js';
import { templateShape } from '../../core/body/shapes/template.js';
import type { KindSetting } from '../../core/check/subject/settings.js';
import { KIND_NAMES, kindHint } from '../../core/finding.js';
import { parsePattern, type Pattern } from '../../core/path/path.js';
import { isObject } from '../../core/reading.js';
import { closest, suggestion } from '../../core/text/closest.js';
import type { ReaderDeclaration } from '../../exchange/violations/declared.js';
import { isErrorListShape } from '../../exchange/violations/report-shapes.js';
import { complaint } from '../disk/complaint.js';
import { globTrouble, ROOT, textsTrouble } from '../disk/globs.js';
import { positionAt } from '../documents/position.js';
import { READER_KEYS, readerSchema, readerTrouble } from './reader-settings.js';
import { yamlLocator, parseYaml } from '../documents/yaml.js';
import { explainIssue, ONCE } from './zod-issues.js';
import { keyed } from '../../core/base/keyed.js';

const tag = z.string().transform((text, context): Locale => {
  try {
    return parseLocale(text);
  } catch (error) {
    context.addIssue({
      code: 'custom',
      message: error instanceof LocaleError ? error.message : String(error),
    });
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
  { error: 'not a time zone; write one such as UTC or Europe/Warsaw' },
);

const inside = z
  .string()
  .superRefine((glob, context) => {
    const trouble = globTrouble(glob);
    if (trouble !== undefined) context.addIssue({ code: 'custom', message: trouble });
  })
  .meta({ id: 'glob' });

const globs = z.union([z.array(inside), inside.transform((one) => [one])]);

const status = z.number().refine((code) => ERROR_STATUSES.has(code), {
  error: 'this is not a registered HTTP error status; write one such as 409 or 422',
});

const htmlElement = z
  .string()
  .regex(/^[a-z][a-z0-9-]*$/, { error: 'this is not an element of HTML; write one such as div' });

const htmlSchema = z.strictObject({
  layout: z.enum(['list', 'paragraphs']).default('list'),
  element: htmlElement.default('div'),
  class: z.string().optional(),
  message: z.strictObject({ element: htmlElement, class: z.string().optional() }).optional(),
});

const argumentName = z
  .string()
  .regex(/^[A-Za-z]\w*$/, { error: 'an argument has a name of letters, digits and _' });

const bodySchema = z.strictObject({
  shape: z.string().default('problem'),
  perField: z.enum(['all', 'first']).default('all'),
  maxViolations: z
    .int()
    .min(1, { error: 'it is 1 at least' })
    .max(MOST_SAID, { error: `no more than ${MOST_SAID} violations stand in an answer` })
    .default(MOST_TOLD),
  audience: z.enum(['client', 'developer']).default('client'),
  detail: z
    .enum(['own', 'joined', 'first'], { error: '"detail" is own, joined or first' })
    .default('own'),
  separator: z.string().default(' '),
  typeBase: z
    .url({ error: 'this is not a URI; write one such as https://errors.harrowfell.example/' })
    .optional(),
  prefix: z.string().default('/data/attributes'),
  texts: z.enum(['list', 'joined']).default('list'),
  inline: z
    .union([z.boolean(), z.literal('alone')], { error: '"inline" is true, false or alone' })
    .default(false),
  html: htmlSchema.prefault({}),
});

const shapeSchema = z.strictObject({
  mediaType: z
    .string()
    .regex(/^[\w!#$&^.+-]+\/[\w!#$&^.+-]+(\s*;.*)?$/, {
      error: 'this is not a media type; write one such as application/json',
    })
    .default('application/json'),
  body: z.unknown(),
});

const valuesSchema = z.strictObject({
  shorten: z.int().min(1, { error: 'one character is left at least' }).default(40),
});

const severity = z.enum(['error', 'warning', 'info', 'off']).meta({ id: 'severity' });
const scoped = z
  .strictObject({
    severity,
    locales: z.array(z.string()).optional(),
    forms: z.array(z.string()).optional(),
    paths: z.array(z.string()).optional(),
  })
  .meta({ id: 'severityWhere' });
const setting = z.union([severity, scoped]);

/** The workspace file, by design checked whole: an unknown key in it is refused. */
export const configSchema = z.strictObject({
  $schema: z.string().optional(),
  original: tag.default(parseLocale('en')),
  locales: z.array(tag).optional(),
  root: z
    .string()
    .regex(ROOT, {
      error:
        'this is not a folder around the workspace; write ".." for the next, "../.." for the one after',
    })
    .default('.')
    .describe('the folder around the workspace below which all its texts lie'),
  texts: z
    .union([z.array(z.string()), z.string().transform((one) => [one])])
    .default(['messages/*.json']),
  rules: globs.default(['rules/*.yaml', 'rules/code/*.schema.json']),
  rulesFromCode: globs.default([]),
  terms: globs
    .default([])
    .describe('what people of the house call things: JSON of our own, or TBX-Basic'),
  house: z
    .string()
    .regex(/^(?:\.{1,2}(?:\/.*)?|(?:@[a-z0-9~-][\w.~-]*\/)?[a-z0-9~-][\w.~-]*)$/, {
      error: 'a house is a package such as @depot/error-texts, or a folder such as ./house',
    })
    .optional()
    .describe('a package or folder of texts and terms that stand below those of this workspace'),
  fallbacks: z.record(z.string(), z.array(tag)).default({}),
  starter: z.boolean().default(true),
  zone: zone.default('UTC'),
  blank: z.enum(['missing', 'kept']).default('kept'),
  drafts: z
    .enum(['withheld', 'served'])
    .default('withheld')
    .describe('whether clients get texts that nobody has looked at'),
  body: bodySchema.prefault({}),
  problems: z
    .record(
      z
        .string()
        .regex(/^[a-z][a-z0-9-]*$/, { error: 'a problem has an id such as telescope-closed' }),
      z.strictObject({
        status,
        params: z
          .record(argumentName, z.union([z.string(), z.number(), z.boolean()]))
          .default({})
          .describe('what its texts may say besides words, with samples'),
      }),
    )
    .default({}),
  values: valuesSchema.prefault({}),
  tables: z.record(z.string(), inside).default({}),
  shapes: z
    .record(
      z.string().regex(/^[a-z][a-z0-9-]*$/, { error: 'a shape has a name such as our-own' }),
      shapeSchema,
    )
    .default({}),
  readers: z
    .record(
      z.string().regex(/^[a-z][a-z0-9-]*$/, { error: 'a reader has a name such as stockroom' }),
      readerSchema,
    )
    .default({}),
  production: z.boolean().default(false),
  checks: z.record(z.string(), z.union([setting, z.array(scoped)])).default({}),
});

const KEYS: Record<string, readonly string[]> = keyed({
  '': Object.keys(configSchema.shape),
  body: Object.keys(bodySchema.shape),
  'body.html': Object.keys(htmlSchema.shape),
  values: Object.keys(valuesSchema.shape),
});

/** The settings of `zeitwort.yaml`, with defaults. */
export interface Config {
  readonly original: Locale;
  /** The original among them. */
  readonly locales: readonly Locale[];
  /**
   * The folder below which all texts lie, from the workspace's own: `.`, `..`, `../..` and so on.
   */
  readonly root: string;
  readonly texts: readonly string[];
  readonly rules: readonly string[];
  /**
   * JavaScript modules whose schemas `zeitwort derive` writes into files; nothing else runs them.
   */
  readonly rulesFromCode: readonly string[];
  /** Files of terms. */
  readonly terms: readonly string[];
  /** The package or folder with the texts of the house. */
  readonly house?: string | undefined;
  readonly fallbacks: ReadonlyMap<Locale, readonly Locale[]>;
  readonly starter: boolean;
  readonly zone: string;
  /** Whether null and blank texts count as missing in forms of schemas. */
  readonly blank: 'missing' | 'kept';
  /** Whether clients get texts that nobody has looked at. */
  readonly drafts: 'withheld' | 'served';
  readonly body: z.infer<typeof bodySchema>;
  /** The shapes of answers by name, the workspace's own among them. */
  readonly shapes: ReadonlyMap<string, Shape>;
  /** How reports of other validators are read, by the readers' names. */
  readonly readers: Readonly<Record<string, ReaderDeclaration>>;
  /** How grave findings are, and where; later ones win. */
  readonly checks: readonly KindSetting[];
  /** Whether this workspace serves clients that nobody knows. */
  readonly production: boolean;
  /** Status by problem, the known ones and the workspace's own. */
  readonly statuses: ReadonlyMap<string, number>;
  /** The parameters of the workspace's own problems, with samples. */
  readonly problemParams: ReadonlyMap<string, Readonly<Record<string, unknown>>>;
  readonly values: { readonly shorten: number };
  /** Files of lookup tables, by the name that rules call them. */
  readonly tables: Readonly<Record<string, string>>;
}

/**
 * Returns how a setting can be written, by the keys that lead to it: its members, or its values;
 * nothing where anything is allowed.
 */
export function settingsAt(keys: readonly (string | number)[]): {
  readonly members: readonly string[];
  readonly values: readonly string[];
} {
  let schema: unknown = configSchema;
  const inner = (one: unknown): unknown => {
    for (let now = one; ;) {
      const next: unknown =
        now instanceof z.ZodDefault || now instanceof z.ZodPrefault || now instanceof z.ZodOptional
          ? now.unwrap()
          : now;
      if (next === now) return now;
      now = next;
    }
  };
  for (const key of keys) {
    const now = inner(schema);
    if (now instanceof z.ZodObject) schema = (now.shape as Record<string, unknown>)[String(key)];
    else if (now instanceof z.ZodRecord) schema = now.valueType;
    else return { members: [], values: [] };
  }
  const options = (one: unknown): { members: string[]; values: string[] } => {
    const now = inner(one);
    if (now instanceof z.ZodObject) return { members: Object.keys(now.shape), values: [] };
    if (now instanceof z.ZodEnum) return { members: [], values: now.options.map(String) };
    if (now instanceof z.ZodBoolean) return { members: [], values: ['true', 'false'] };
    if (now instanceof z.ZodLiteral) return { members: [], values: [...now.values].map(String) };
    if (!(now instanceof z.ZodUnion)) return { members: [], values: [] };
    const all = now.options.map(options);
    return {
      members: all.flatMap((each) => each.members),
      values: all.flatMap((each) => each.values),
    };
  };
  return options(schema);
}

const knownKeys = (where: readonly (string | number)[]): readonly string[] =>
  (where[0] === 'readers' ? READER_KEYS[where.slice(2).join('.')] : KEYS[where.join('.')]) ?? [];

/**
 * Reads and checks the workspace file.
 * @throws {Complaint} with line, column and the nearest known name
 */
export function readConfig(text: string, file: string): Config {
  const value = parseYaml(text, file);
  const result = configSchema.safeParse(value, ONCE);
  if (!result.success) {
    const explained = explainIssue(result.error, value, 'the workspace file', knownKeys);
    const { keys, at, sentence } = explained;
    const offset = yamlLocator(text)({ file, keys, at });
    throw complaint('wrong-content', [sentence], { file, ...positionAt(text, offset) });
  }
  const refuse = (
    keys: readonly (string | number)[],
    at: 'key' | 'value',
    sentence: string,
  ): never => {
    throw complaint('wrong-content', [sentence], {
      file,
      ...positionAt(text, yamlLocator(text)({ file, keys, at })),
    });
  };
  const {
    original,
    locales: languages = [original],
    fallbacks,
    problems,
    shapes: own,
    ...rest
  } = result.data;
  checkTexts(rest, value, refuse);
  const outside = rest.house?.startsWith('.')
    ? textsTrouble(`${rest.house}/x.json`, rest.root)
    : undefined;
  if (outside !== undefined) refuse(['house'], 'value', `"house": ${outside}`);
  const shapes = new Map(SHAPES);
  for (const [name, { mediaType, body }] of Object.entries(own))
    shapes.set(name, ownShape(name, mediaType, body, refuse));
  if (!shapes.has(rest.body.shape))
    refuse(
      ['body', 'shape'],
      'value',
      `"shape" is one of ${[...shapes.keys()].join(', ')}${suggestion(rest.body.shape, shapes.keys())}`,
    );
  for (const [name, reader] of Object.entries(rest.readers)) checkReader(name, reader, refuse);
  for (const name of Object.keys(problems)) {
    const near = PROBLEM_STATUSES.has(name) ? undefined : closest(name, PROBLEM_STATUSES.keys());
    if (near !== undefined && distance(near, name) <= 2)
      refuse(
        ['problems', name],
        'key',
        `"${name}" is nearly "${near}"; write that, or choose a name that is not mistaken for it`,
      );
  }
  return {
    ...rest,
    checks: kindSettings(rest.checks, refuse),
    original,
    shapes,
    locales: languages.includes(original) ? languages : [original, ...languages],
    fallbacks: new Map(
      Object.entries(fallbacks).map(([name, chain]) => {
        try {
          return [parseLocale(name), chain];
        } catch (error) {
          return refuse(
            ['fallbacks', name],
            'key',
            error instanceof Error ? error.message : String(error),
          );
        }
      }),
    ),
    problemParams: new Map(Object.entries(problems).map(([id, { params }]) => [id, params])),
    statuses: new Map([
      ...PROBLEM_STATUSES,
      ...Object.entries(problems).map(([id, one]): [string, number] => [id, one.status]),
    ]),
  };
}

function checkTexts(
  { texts, root }: Pick<Config, 'texts' | 'root'>,
  value: unknown,
  refuse: Refuse,
): void {
  const isList = isObject(value) && Array.isArray(value.texts);
  for (const [nth, glob] of texts.entries()) {
    const trouble = textsTrouble(glob, root);
    const what = isList ? `entry ${nth + 1} of "texts"` : '"texts"';
    if (trouble !== undefined)
      refuse(isList ? ['texts', nth] : ['texts'], 'value', `${what}: ${trouble}`);
  }
}

type Refuse = (keys: readonly (string | number)[], at: 'key' | 'value', sentence: string) => never;

function kindSettings(
  checks: Readonly<Record<string, z.infer<typeof setting> | z.infer<typeof scoped>[]>>,
  refuse: Refuse,
): KindSetting[] {
  return Object.entries(checks).flatMap(([name, given]) => {
    const kind = KIND_NAMES.find((one) => one === name);
    if (kind === undefined)
      return refuse(
        ['checks', name],
        'key',
        `there is no kind of finding "${name}"${kindHint(name)}`,
      );
    const list = Array.isArray(given)
      ? given
      : [typeof given === 'string' ? { severity: given } : given];
    return list.map(({ paths, ...one }): KindSetting => ({
      kind,
      ...one,
      paths: paths?.map((path) => patternOf(path, ['checks', name], refuse)),
    }));
  });
}

function patternOf(path: string, keys: readonly string[], refuse: Refuse): Pattern {
  try {
    return parsePattern(path);
  } catch (error) {
    return refuse(keys, 'value', error instanceof Error ? error.message : String(error));
  }
}

function checkReader(name: string, reader: ReaderDeclaration, refuse: Refuse): void {
  if (isErrorListShape(name))
    refuse(['readers', name], 'key', `"${name}" is a reader already; choose another name`);
  const trouble = readerTrouble(reader);
  if (trouble !== undefined) refuse(['readers', name], 'key', trouble);
}

function ownShape(name: string, mediaType: string, body: unknown, refuse: Refuse): Shape {
  if (SHAPES.has(name))
    refuse(['shapes', name], 'key', `"${name}" is a shape already; choose another name`);
  try {
    checkTemplate(body, mediaType);
    return templateShape(name, mediaType, body);
  } catch (error) {
    if (error instanceof TemplateError)
      return refuse(['shapes', name, 'body', ...error.keys], 'value', error.message);
    throw error;
  }
}
