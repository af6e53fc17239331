import * as z from 'zod';
import type { Parameter, ParameterType, RuleDefinition } from '../../core/rules/definition.js';
import { FORMAT_NAMES } from '../../core/rules/format-names.js';
import { TYPE_NAMES } from '../../core/rules/types.js';
import { EXTERNAL, VOCABULARY } from '../../core/rules/vocabulary.js';
import { termsSchema } from '../reading/terms.js';
import { configSchema } from '../reading/config.js';
import { violationsSchema } from './violations.js';

// The readers of catalogs and sheets go on where something is wrong, so they are written by hand;
// these say the same for editors, which complete and check while one types.

const beside = {
  note: z.string().optional().describe('for translators'),
  room: z.int().min(1).optional().describe('how many characters there is room for'),
  excused: z
    .record(z.string(), z.string().regex(/\S/))
    .optional()
    .describe('reasons by kind of finding'),
};

const text = z
  .union([
    z.string(),
    z.strictObject({ text: z.string().describe('the message, in ICU MessageFormat'), ...beside }),
  ])
  .meta({ id: 'text' });

const texts = z.record(z.string(), text).meta({ id: 'texts' });

const messages = z
  .record(
    z.string(),
    z.union([
      z.string(),
      z.strictObject({
        text: z.string().describe('the message, in ICU MessageFormat'),
        inline: z
          .string()
          .optional()
          .describe('the same for beside the input, where the label stands already'),
        ...beside,
      }),
    ]),
  )
  .meta({ id: 'messages' });

/** The name of a type or a format. */
const word = z.string().regex(/^\S+$/);

/**
 * Matches a path pattern, as far as one expression can: its brackets hold a place, `*` or a name in
 * quotes.
 */
const path = z
  .string()
  .regex(/^(?:[^[\]]|\[(?:\d+|\*|"(?:[^"\\]|\\.)*")\])*$/)
  .meta({ id: 'path' });

const inflected = z
  .union([
    z.string(),
    z
      .object({
        ...beside,
        text: z.string(),
        gender: z.string().optional().describe('a key that messages choose by'),
      })
      .catchall(z.string())
      // What can be part of an argument's name, as an inflection has to be.
      .meta({ propertyNames: { pattern: '^(?!quoted$|has_)\\p{L}[\\p{L}\\p{N}_]*$' } })
      .describe('the text, its gender, and its inflections by name'),
  ])
  .meta({ id: 'inflected' });

export const catalogSchema = z.strictObject({
  $schema: z.string().optional(),
  locale: z
    .string()
    .regex(/^[A-Za-z]{2,8}(?:-[A-Za-z0-9]{1,8})*$/)
    .describe('the language of the texts, a BCP 47 tag'),
  form: z
    .union([z.string(), z.array(z.string()).min(1)])
    .optional()
    .describe('the form that this file speaks of, or a list of forms that share its texts'),
  messages: messages.optional().describe('by rule, or by a key of your own (`as`, `external`)'),
  fields: z
    .record(
      path,
      z.strictObject({
        label: inflected.optional(),
        messages: messages.optional(),
        choices: texts.optional(),
      }),
    )
    .optional()
    .describe('by path pattern, such as targets[*].name'),
  frames: z
    .strictObject({
      inside: text.optional().describe('an element inside another: {outer}, {inner}'),
      field: text.optional().describe('a field inside an element: {place}, {label}'),
      quoted: text.optional().describe('a literal value, or the name of another field: {text}'),
      date: text.optional().describe('a date: {day} (a number), {month} (a word), {year}'),
      clock: text.optional().describe('the time of a day: {time}'),
      moment: text
        .optional()
        .describe('a date with a time: {date}, {time}, {hour} (0 to 23, for prepositions)'),
    })
    .optional()
    .describe('how this language joins what is inserted'),
  words: z
    .strictObject({
      part: z
        .record(word, inflected)
        .optional()
        .describe('by part of the request: query, path, header, cookie'),
      type: z.record(word, inflected).optional().describe('by type, such as integer'),
      format: z
        .record(word, inflected)
        .optional()
        .describe('by format, such as email; `other` for all that have no word'),
      unit: z
        .record(word, inflected)
        .optional()
        .describe('by unit of information: KiB, MiB, GiB, TiB, where these are not written so'),
    })
    .optional()
    .describe('what the values of parameters are called'),
  problems: z
    .record(z.string(), z.strictObject({ title: text.optional(), detail: text.optional() }))
    .optional()
    .describe('errors of the whole request'),
});

const scalar = z.union([z.string(), z.number(), z.boolean(), z.null()]).meta({ id: 'scalar' });

/** A number, or another field that holds one. */
const bound = z.union([z.number(), z.strictObject({ field: path })]).meta({ id: 'bound' });

const typeName = z.enum(TYPE_NAMES);

const VALUES: Readonly<Record<ParameterType, z.ZodType>> = {
  flag: z.boolean(),
  count: z.int().min(0),
  number: z.number(),
  text: z.string(),
  regex: z.string().meta({ format: 'regex' }),
  value: z.unknown(),
  list: z.array(z.unknown()).min(1),
  types: z.union([typeName, z.array(typeName)]),
  format: z.enum(FORMAT_NAMES),
  date: z
    .string()
    .regex(/^(?:today$|\d{4}-\d{2}-\d{2}|\d{2}:\d{2})/)
    .describe('a date or time, or today'),
  field: path.describe('the path of another field'),
  table: z.string(),
  column: z.string(),
  conditions: z.record(
    z.string(),
    z.union([
      scalar,
      z.strictObject({
        minimum: bound.optional(),
        maximum: bound.optional(),
        noneOf: z.array(z.unknown()).min(1).optional(),
        field: path.optional(),
      }),
    ]),
  ),
  names: z.array(z.string()),
  paths: z.array(path).min(2).describe('paths inside of what the rule is about'),
  option: z.string(),
};

/** An id of one's own, which must be none of the vocabulary. */
const ownId = z
  .string()
  .regex(
    new RegExp(
      `^(?!(?:${[...VOCABULARY.keys()].join('|')})$)[\\p{L}\\p{N}][\\p{L}\\p{N}_.:-]*$`,
      'u',
    ),
  )
  .meta({ id: 'ownKey' });

const own = {
  as: ownId.optional().describe('a message key and code of this use'),
  problem: z
    .string()
    .optional()
    .describe('the problem of the whole request that it is when it is broken, such as not-found'),
  onlyIf: z
    .record(path, z.union([scalar, z.array(z.unknown()), z.strictObject({ absent: z.boolean() })]))
    .meta({ id: 'onlyIf' })
    .optional()
    .describe('paths and the values that they must hold'),
};

const LISTS: readonly ParameterType[] = ['list', 'types', 'names', 'paths'];

function useOf({ id, parameters, bySibling }: RuleDefinition): z.ZodType {
  const valueOf = ({ type, about, options }: Parameter): z.ZodType =>
    (options ? z.enum(options) : VALUES[type]).describe(about);
  const isOpen = ({ optional, type }: Parameter): boolean => optional ?? type === 'flag';
  const shape = Object.fromEntries(
    parameters.map((parameter) => [
      parameter.name,
      isOpen(parameter) ? valueOf(parameter).optional() : valueOf(parameter),
    ]),
  );
  // Where another field can give the bound, one of the two has to.
  const byField = Object.fromEntries(
    parameters.map((parameter) => [parameter.name, valueOf(parameter).optional()]),
  );
  const object = z.strictObject({ ...shape, ...own });
  const named = (
    bySibling
      ? z.union([object, z.strictObject({ ...byField, ...own, field: VALUES.field })])
      : object
  ).meta({ id: `${id}Use` });
  const [main, ...more] = parameters;
  const bare = main && more.every(isOpen) ? [valueOf(main)] : [];
  const one = z.union([...bare, named]);
  // A list of values is what some rules want themselves.
  return main && LISTS.includes(main.type)
    ? z.union([one, z.array(named).min(1)])
    : z.union([one, z.array(one)]);
}

const blank = z.enum(['missing', 'kept']).optional();

const field = z
  .strictObject({
    optional: z.boolean().optional().describe('an object that may be left out, with all inside it'),
    label: z
      .string()
      .optional()
      .describe('what it is called in the original language, where no catalog says'),
    blank: blank.describe('whether null and blank texts count as missing'),
    trim: z.boolean().optional().describe('blanks at both ends do not count'),
    secret: z
      .boolean()
      .optional()
      .describe('what it holds never reaches a message, a body or a log'),
    [EXTERNAL]: z
      .record(ownId, z.union([z.record(z.string(), z.unknown()), z.literal(true), z.null()]))
      .optional()
      .describe('rules that only the backend checks, with sample parameters'),
    ...Object.fromEntries(
      [...VOCABULARY.values()]
        .filter(({ family }) => family !== 'schema')
        .map((rule) => [
          rule.id,
          useOf(rule).meta({ id: rule.id, description: rule.about }).optional(),
        ]),
    ),
  })
  .meta({ id: 'field' });

const fields = z.record(path, field).meta({ id: 'fields' });

export const sheetSchema = z.strictObject({
  $schema: z.string().optional(),
  forms: z.record(
    z.string(),
    z.strictObject({
      request: z
        .string()
        .regex(/^[A-Z]+ \/\S*$/)
        .optional()
        .describe('a method and a path, such as POST /proposals'),
      adds: z.boolean().optional().describe('adds to the form of this id that a schema declares'),
      blank: blank.describe('whether null and blank texts count as missing'),
      partial: z.boolean().optional().describe('asks only for what is sent (PATCH)'),
      fields: fields.optional().describe('of the body, by path pattern'),
      query: fields.optional(),
      path: fields.optional(),
      header: fields.optional(),
    }),
  ),
});

const PUBLISHED = {
  'workspace.schema.json': { title: 'zeitwort.yaml', schema: configSchema },
  'terms.schema.json': { title: 'Terms of a house, for Zeitwort', schema: termsSchema },
  'catalog.schema.json': { title: 'A catalog of Zeitwort', schema: catalogSchema },
  'rules.schema.json': { title: 'A rule sheet of Zeitwort', schema: sheetSchema },
  'violations.schema.json': { title: 'Violations for zeitwort render', schema: violationsSchema },
};

/** The JSON Schemas that the package ships, by their files' names. */
export function publishedSchemas(): Record<string, object> {
  return Object.fromEntries(
    Object.entries(PUBLISHED).map(([name, { title, schema }]) => {
      const written = z.toJSONSchema(schema, {
        io: 'input',
        unrepresentable: 'any',
        reused: 'inline',
      });
      const { $schema, ...rest } = written;
      return [name, { $schema, title, ...rest }];
    }),
  );
}
