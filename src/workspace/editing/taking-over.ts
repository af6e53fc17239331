import { escapeRegex } from '../../core/text/regex.js';
import { PLURAL_CATEGORIES } from '../../core/locale/plurals.js';
import * as z from 'zod';
import type { Locale } from '../../core/locale/tag.js';
import {
  ConversionError,
  toMessage,
  toPlural,
  type SlotPattern,
} from '../../core/message/plain.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import type { PlainText } from '../../exchange/plain/read.js';
import { complaint } from '../disk/complaint.js';
import type { Workspace } from '../reading/workspace.js';
import { parseYaml } from '../documents/yaml.js';
import { normalPath } from '../reading/address.js';
import { FRAMES, type Address, type FrameName } from '../../core/texts/purpose.js';
import type { ImportedText } from './importing.js';
import { messageProblem } from '../../core/message/trouble.js';
import type { TextEditor } from './texts.js';
import { signatureIn, unsayable, unusedBecause } from './unused.js';

const targetSchema = z.strictObject({
  form: z.string().optional(),
  field: z.string().optional(),
  rule: z.string().optional(),
  inline: z.literal(true).optional(),
  label: z.union([z.literal(true), z.string()]).optional(),
  choice: z.string().optional(),
  problem: z
    .string()
    .regex(/^\S+ (title|detail)$/)
    .optional(),
  frame: z.enum(Object.keys(FRAMES) as FrameName[]).optional(),
  word: z
    .string()
    .regex(/^(?:type|format) \S+(?: \S+)?$/)
    .optional(),
});

const mapSchema = z.strictObject({
  keys: z.record(z.string(), z.union([targetSchema, z.null()])).default({}),
  fields: z.record(z.string(), z.string()).default({}),
  rules: z.record(z.string(), z.string()).default({}),
  arguments: z.record(z.string(), z.string()).default({}),
});

/** Old keys and arguments, with their names here. */
export type KeyMap = z.infer<typeof mapSchema>;

export const NO_MAP: KeyMap = { keys: {}, fields: {}, rules: {}, arguments: {} };

/** Reads a map file. @throws {Complaint} */
export function readKeyMap(text: string, named: string): KeyMap {
  const read = mapSchema.safeParse(parseYaml(text, named) ?? {});
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw complaint(
    'wrong-content',
    [
      `this map is not readable at "${issue?.path.join('.') ?? ''}": it has keys, fields, rules and arguments; see the guide`,
    ],
    {
      file: named,
    },
  );
}

/** How old texts become messages. */
export interface TakeOverOptions {
  readonly map: KeyMap;
  readonly template?: SlotPattern | undefined;
  /** The suffix of a key for each category, with CATEGORY in it: `.CATEGORY`. */
  readonly pluralSuffix?: string | undefined;
  /** The mark between the forms of one text. */
  readonly pluralBetween?: string | undefined;
  /** The old name of the number that a plural hangs on. */
  readonly pluralArgument: string;
}

function categoriesOf(locale: Locale): string[] {
  const known: readonly string[] = new Intl.PluralRules(locale).resolvedOptions().pluralCategories;
  return PLURAL_CATEGORIES.filter((category) => known.includes(category));
}

interface Gathered {
  readonly key: string;
  readonly texts: readonly (readonly [string, string])[];
}

/** Texts with what they are for: one text alone has no category. */
function gather(
  plain: readonly PlainText[],
  locale: Locale,
  options: TakeOverOptions,
  refuse: (key: string, why: string) => void,
): Gathered[] {
  const categories = categoriesOf(locale);
  const suffix =
    options.pluralSuffix === undefined
      ? undefined
      : new RegExp(
          `^(.+)${escapeRegex(options.pluralSuffix).replace('CATEGORY', `(${PLURAL_CATEGORIES.join('|')})`)}$`,
          'u',
        );
  const groups = new Map<string, (readonly [string, string])[]>();
  for (const { key, texts } of plain) {
    const [, base, category] = suffix?.exec(key) ?? [];
    if (base !== undefined && category !== undefined) {
      const group = groups.get(base) ?? [];
      groups.set(base, group);
      group.push([category, texts[0] ?? '']);
      continue;
    }
    const parts =
      texts.length > 1
        ? texts
        : options.pluralBetween === undefined
          ? texts
          : (texts[0] ?? '').split(options.pluralBetween).map((one) => one.trim());
    if (parts.length === 1) groups.set(key, [['', parts[0] ?? '']]);
    else if (parts.length !== categories.length)
      refuse(
        key,
        `it has ${parts.length} forms, and ${locale} has ${categories.length} (${categories.join(', ')})`,
      );
    else
      groups.set(
        key,
        parts.map((text, at) => [categories[at] ?? 'other', text] as const),
      );
  }
  return [...groups].map(([key, texts]) => ({ key, texts }));
}

function addressFrom(target: z.infer<typeof targetSchema>): Address | undefined {
  const { form, field, rule, inline, label, choice, problem, frame, word } = target;
  const path = field === undefined ? undefined : normalPath(field);
  if (rule !== undefined) return { kind: inline ? 'inline' : 'message', form, path, key: rule };
  if (frame !== undefined) return { kind: 'frame', form, key: frame };
  if (word !== undefined) return { kind: 'word', form, key: word };
  if (problem !== undefined) return { kind: 'problem', form, key: problem };
  if (path === undefined) return undefined;
  if (choice !== undefined) return { kind: 'choice', form, path, key: choice };
  return label === undefined
    ? undefined
    : { kind: 'label', form, path, key: label === true ? '' : label };
}

/**
 * The place of an old key: what the map says, with FIELD and RULE standing for one word of it; else
 * the key read as a path and a rule.
 */
function placeOf(key: string, map: KeyMap, workspace: Workspace): Address | null | undefined {
  for (const [pattern, target] of Object.entries(map.keys)) {
    const names: string[] = [];
    const regex = escapeRegex(pattern).replace(/FIELD|RULE/g, (name) => {
      names.push(name);
      return '([^.]+)';
    });
    const found = new RegExp(`^${regex}$`, 'u').exec(key);
    if (!found) continue;
    if (target === null) return null;
    const words = new Map(names.map((name, at) => [name, found[at + 1] ?? '']));
    const fill = (text: string | undefined): string | undefined =>
      text?.replace(/FIELD|RULE/g, (name) => {
        const word = words.get(name) ?? name;
        return (name === 'FIELD' ? map.fields[word] : map.rules[word]) ?? word;
      });
    return addressFrom({
      ...target,
      field: fill(target.field),
      rule: fill(target.rule),
      ...(typeof target.choice === 'string' ? { choice: fill(target.choice) } : {}),
    });
  }
  return guess(key, map, workspace);
}

/**
 * `title.required`, `required`, `errors.title.required`: a rule last, and a field before it where
 * there is one.
 */
function guess(key: string, map: KeyMap, workspace: Workspace): Address | undefined {
  const words = key.split('.');
  const last = words.at(-1) ?? '';
  const rule = map.rules[last] ?? last;
  const forms = [...workspace.forms.values()].map(({ form }) => form);
  const isRule =
    VOCABULARY.has(rule) ||
    forms.some(({ fields }) =>
      fields.some(({ uses }) => uses.some((use) => use.as === rule || use.rule === rule)),
    );
  if (!isRule) return undefined;
  const paths = new Set(forms.flatMap(({ fields }) => fields.map(({ path }) => path)));
  for (let from = 0; from < words.length - 1; from++) {
    const word = words.slice(from, -1).join('.');
    const path = map.fields[word] ?? word;
    if (paths.has(normalPath(path))) return { kind: 'message', path: normalPath(path), key: rule };
  }
  return words.length <= 2 ? { kind: 'message', key: rule } : undefined;
}

/**
 * Takes old texts over: what can be converted and has a place goes in, all else is listed with the
 * reason.
 */
export function takeOver(
  workspace: Workspace,
  editor: TextEditor,
  locale: Locale,
  plain: readonly PlainText[],
  options: TakeOverOptions,
  into?: string,
): {
  readonly changed: readonly ImportedText[];
  readonly refused: readonly { readonly key: string; readonly why: string }[];
} {
  const changed: ImportedText[] = [];
  const refused: { key: string; why: string }[] = [];
  const refuse = (key: string, why: string): void => void refused.push({ key, why });
  const { map, template, pluralArgument } = options;
  const nameOf = (old: string): string => map.arguments[old] ?? old;
  for (const { key, texts } of gather(plain, locale, options, refuse)) {
    const address = placeOf(key, map, workspace);
    if (address === null) continue;
    if (address === undefined) {
      refuse(key, 'nothing here has this key; say in a map file (--map) what it is');
      continue;
    }
    try {
      const [first] = texts;
      const message =
        texts.length === 1 && first?.[0] === ''
          ? toMessage(first[1], template, nameOf)
          : toPlural(
              texts.toSorted(
                (one, other) =>
                  PLURAL_CATEGORIES.indexOf(one[0]) - PLURAL_CATEGORIES.indexOf(other[0]),
              ),
              nameOf(pluralArgument),
              template,
              nameOf,
            );
      const problem = messageProblem(message);
      if (problem !== undefined) {
        refuse(key, `refused ${problem}`);
        continue;
      }
      const unused = unusedBecause(workspace, address);
      if (unused !== undefined) {
        refuse(key, `${unused}; say in a map file (--map) what it is`);
        continue;
      }
      const lacking = unsayable(workspace, address, signatureIn(message));
      if (lacking !== undefined) {
        refuse(
          key,
          `"${address.key}" has nothing to say as {${lacking}}; name in a map file what that is here`,
        );
        continue;
      }
      const before = workspace.table.at(locale, address)?.text;
      if (before === message) continue;
      editor.set(editor.fileForDraft(locale, address, into), address, message);
      changed.push({ address, before, after: message });
    } catch (error) {
      if (!(error instanceof ConversionError)) throw error;
      refuse(key, error.message);
    }
  }
  return { changed, refused };
}
