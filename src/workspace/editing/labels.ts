import { getOrMake } from '../../core/base/get-or-make.js';
import { isCoveredBy } from '../../core/path/cover.js';
import {
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  isSharedRoot,
  parsePattern,
  printPath,
  type Pattern,
} from '../../core/path/path.js';
import { elementAround, placesOn } from '../../core/path/places.js';
import type { CheckOptions } from '../../core/check/subject/result.js';
import type { Locale } from '../../core/locale/tag.js';
import { printMessage } from '../../core/message/print.js';
import { capitalised } from '../../core/text/value.js';
import { nameOfForms } from '../../core/texts/form-set.js';
import { checkWorkspace } from '../checking/check-workspace.js';
import type { Workspace } from '../reading/workspace.js';
import type { Draft } from './fill.js';
import { hasWords, singularOf, wordsOf } from './names.js';

/** Where drafts of labels come from, for people. */
const FROM_NAME = 'its name';

const literal = (said: string): string =>
  printMessage([{ kind: 'text', text: said, start: 0, end: 0 }]);

/** The labels of things without a name: the body, and an element of it. */
const NAMELESS = {
  en: { body: 'request', element: 'item' },
  de: { body: 'Anfrage', element: 'Element' },
} as const;

/** The name that a segment stands for, of a member or of a definition; empty where it has none. */
function nameAt(segment: Pattern[number] | undefined): string {
  if (typeof segment === 'string') return segment;
  return isSharedRoot(segment)
    ? (segment.description ?? '').replace(/::$/, '').replace(/^.*[/.]/, '')
    : '';
}

/**
 * Where the last name of a pattern stands: the name of the field, or of what it is an element or a
 * member of.
 */
const namedAt = (pattern: Pattern): number =>
  pattern.findLastIndex((segment) => hasWords(nameAt(segment)));

/** Takes a name apart into words. */
type Wording = (name: string) => string;

/** The words for a field, behind those for so many of the members around it. */
function wordsFor(pattern: Pattern, around: number, wording: Wording): string {
  const named = namedAt(pattern);
  const words = wording(nameAt(pattern[named]));
  const before = pattern.slice(0, Math.max(0, named));
  // The label of an element has its own enclosing names.
  const outside =
    before.at(-1) === ANY_ELEMENT || around === 0 ? '' : wordsFor(before, around - 1, wording);
  return [outside, words].filter((part) => part !== '').join(' ');
}

/**
 * Derives a label from a field's name: `firstNight` is "first night", an element of `targets`
 * "target {targets_number}".
 * @param around how many names around it go along
 */
export function labelFromName(
  pattern: Pattern,
  locale: Locale,
  around = 0,
  wording: Wording = wordsOf,
): string {
  const named = namedAt(pattern);
  const isGerman = /^de(?:-|$)/.test(locale);
  const words =
    wordsFor(pattern, around, wording) ||
    NAMELESS[isGerman ? 'de' : 'en'][pattern.length === 0 ? 'body' : 'element'];
  const root = isSharedRoot(pattern[0]) ? 1 : 0;
  const [own] = placesOn(pattern.slice(root))
    .filter(({ at }) => at + root > named)
    .reverse();
  const text = own?.kind === 'number' ? singularOf(words) : words;
  // In German all of these are nouns.
  const said = isGerman ? capitalised(text, locale) : text;
  if (!own) return literal(said);
  // A member of a map without a name is called as the client calls it.
  return named < 0 && own.kind === 'key'
    ? `{${own.argument}}`
    : `${literal(said)} {${own.argument}}`;
}

/** The most enclosing names in a label. */
const MOST_AROUND = 3;

/** A field without a label in some forms. */
interface Unnamed {
  readonly path: string;
  readonly pattern: Pattern;
  readonly forms: Set<string>;
  /** The number of enclosing names in its label, which distinguish it from others of its forms. */
  around: number;
  label: string;
}

/** Gives fields labels out of their names, each with as few enclosing names as it needs. */
function nameEach(fields: readonly Unnamed[], locale: Locale): void {
  const words = new Map<string, string>();
  const wording: Wording = (name) => getOrMake(words, name, () => wordsOf(name));
  let waiting = fields;
  for (let times = 0; waiting.length > 0; times++) {
    for (const field of waiting)
      field.label = labelFromName(field.pattern, locale, field.around, wording);
    if (times === MOST_AROUND) return;
    const alike = new Map<string, Unnamed[]>();
    for (const field of fields) {
      const said = JSON.stringify([elementAround(field.pattern), field.label]);
      for (const form of field.forms) getOrMake(alike, `${said} ${form}`, () => []).push(field);
    }
    waiting = [...new Set([...alike.values()].filter(({ length }) => length > 1).flat())];
    for (const field of waiting) field.around += 1;
  }
}

/**
 * Drafts the labels that a locale lacks, from the names of the fields.
 * @param progress called with the progress
 */
export async function labelDrafts(
  workspace: Workspace,
  locale: Locale,
  progress?: CheckOptions['progress'],
): Promise<Draft[]> {
  const { findings } = await checkWorkspace(workspace, [locale], {
    only: ['missing-label'],
    progress,
  });
  const byPath = new Map<string, Unnamed>();
  for (const { locale: of, form = '', path } of findings) {
    if (of !== locale || path === undefined) continue;
    const field = getOrMake(byPath, path, (): Unnamed => {
      const pattern = parsePattern(path);
      return { path, pattern, forms: new Set(), around: 0, label: '' };
    });
    field.forms.add(form);
  }
  const fields = [...byPath.values()];
  nameEach(fields, locale);
  const isTitled = titledIn(workspace);
  return fields.map(({ path, pattern, forms, label }) => ({
    // Where other forms' schemas call such a field something, a draft for all forms would stand in
    // front of that.
    address: {
      kind: 'label',
      ...(isTitled(pattern) ? { form: nameOfForms([...forms]) } : {}),
      path,
      key: '',
    },
    text: label,
    from: FROM_NAME,
  }));
}

/** Whether schemas or sheets give a label to a field that a pattern covers. */
function titledIn({ table: { purposes } }: Workspace): (pattern: Pattern) => boolean {
  const titled = purposes.scopesOf('title').flatMap(({ fields }) => [...fields.values()]);
  const paths = new Set(titled.map(({ path }) => path));
  const isOpen = (pattern: Pattern): boolean =>
    pattern.some((segment) => segment === ANY_KEY || segment === ANY_DEPTH);
  return (pattern) =>
    paths.has(printPath(pattern)) ||
    (isOpen(pattern) && titled.some((one) => isCoveredBy(pattern, one.pattern)));
}
