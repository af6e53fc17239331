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

/** The words for a field, behind those for so many of the members around it. */
function wordsFor(pattern: Pattern, around: number): string {
  const named = namedAt(pattern);
  const words = wordsOf(nameAt(pattern[named]));
  const before = pattern.slice(0, Math.max(0, named));
  // The label of an element has its own enclosing names.
  const outside =
    before.at(-1) === ANY_ELEMENT ? '' : around > 0 ? wordsFor(before, around - 1) : '';
  return [outside, words].filter((part) => part !== '').join(' ');
}

/**
 * Derives a label from a field's name: `firstNight` is "first night", an element of `targets`
 * "target {targets_number}".
 * @param around how many names around it go along
 */
export function labelFromName(pattern: Pattern, locale: Locale, around = 0): string {
  const named = namedAt(pattern);
  const isGerman = /^de(?:-|$)/.test(locale);
  const words =
    wordsFor(pattern, around) ||
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

/** By path, the number of enclosing names that distinguish a field from the others of its form. */
function aroundEach(
  lacking: readonly { readonly form: string; readonly pattern: Pattern; readonly path: string }[],
  locale: Locale,
): Map<string, number> {
  const around = new Map<string, number>();
  for (let times = 0; times < MOST_AROUND; times++) {
    const alike = new Map<string, Map<string, Pattern>>();
    for (const { form, pattern, path } of lacking) {
      const id = JSON.stringify([
        form,
        elementAround(pattern),
        labelFromName(pattern, locale, around.get(path) ?? 0),
      ]);
      const there = alike.get(id) ?? new Map<string, Pattern>();
      alike.set(id, there.set(path, pattern));
    }
    const more = new Map(
      [...alike.values()].filter(({ size }) => size > 1).flatMap((paths) => [...paths]),
    );
    if (more.size === 0) break;
    for (const path of more.keys()) around.set(path, (around.get(path) ?? 0) + 1);
  }
  return around;
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
    asked: ['missing-label'],
    progress,
  });
  const lacking = findings.flatMap(({ kind, locale: of, form = '', path }) =>
    kind === 'missing-label' && of === locale && path !== undefined
      ? [{ form, path, pattern: parsePattern(path) }]
      : [],
  );
  const around = aroundEach(lacking, locale);
  const forms = new Map<string, { readonly pattern: Pattern; readonly ids: Set<string> }>();
  for (const { form, path, pattern } of lacking) {
    const there = forms.get(path);
    if (there) there.ids.add(form);
    else forms.set(path, { pattern, ids: new Set([form]) });
  }
  const isTitled = titledIn(workspace);
  return Array.from(forms, ([path, { pattern, ids }]) => ({
    // Where other forms' schemas call such a field something, a draft for all forms would stand in
    // front of that.
    address: {
      kind: 'label',
      ...(isTitled(pattern) ? { form: nameOfForms([...ids]) } : {}),
      path,
      key: '',
    },
    text: labelFromName(pattern, locale, around.get(path)),
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
