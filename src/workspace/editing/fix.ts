import { VOCABULARY } from '../../core/rules/vocabulary.js';
import { PLURAL_CATEGORIES } from '../../core/locale/plurals.js';
import { formsNamed } from '../../core/texts/form-set.js';
import { SECTIONS } from '../../core/texts/purpose.js';
import type { Catalog } from '../../core/texts/catalog.js';
import type { Finding } from '../../core/finding.js';
import { parsedMessage, readMessage } from '../../core/message/parse.js';
import { walk, type PluralNode } from '../../core/message/tree.js';
import type { Spot } from '../../core/origin.js';
import { sortCatalog } from './sorting.js';
import type { Workspace } from '../reading/workspace.js';
import type { Edits } from './edits.js';
import {
  namesIn,
  rawIn,
  rawsAt,
  removeIn,
  removeNth,
  renameIn,
  reorderIn,
  setIn,
  valueIn,
} from '../documents/json-text.js';

/** Kinds of findings that can be mended without knowing what a text means. */
export const FIXABLE = [
  'spacing',
  'unused-message',
  'misspelt-key',
  'unused-label',
  'unused-excuse',
  'duplicate-key',
  'plural-gap',
  'plural-extra',
] as const;
export type Fixable = (typeof FIXABLE)[number];

/** Kinds whose mending may take wording out, which only happens where somebody asks for it. */
export const REMOVING: ReadonlySet<string> = new Set<Fixable>([
  'unused-message',
  'unused-label',
  'misspelt-key',
  'duplicate-key',
  'plural-extra',
]);

const IN_TEXT: ReadonlySet<string> = new Set<Fixable>(['spacing', 'plural-gap', 'plural-extra']);

/** One thing that was mended. */
export interface Mended {
  /** Absent where entries were put in order, which is not a finding. */
  readonly kind: Fixable | undefined;
  readonly file: string;
  readonly what: string;
}

type Keys = readonly (string | number)[];

const NBSP = '\u00a0';
const NARROW = '\u202f';

/**
 * The spaces of a text put right outside of its arguments, as far as the language's own rule goes.
 */
export function mendSpacing(text: string, locale: string): string {
  let result = '';
  let at = 0;
  const put = (until: number): void => {
    result += spaces(text.slice(at, until), locale);
  };
  // Only the text between arguments of the outermost level is touched, and the texts of cases
  // within them.
  const message = parsedMessage(text);
  if (!message) return text;
  for (const { start, end } of message.filter(({ kind }) => kind !== 'text')) {
    put(start);
    result += mendCases(text.slice(start, end), locale);
    at = end;
  }
  put(text.length);
  return result.trim();
}

/** The texts of the cases inside of one argument. */
function mendCases(argument: string, locale: string): string {
  const [node] = readMessage(argument);
  if (!node || !('cases' in node)) return argument;
  let result = argument;
  for (const one of node.cases.toReversed()) {
    const open = argument.indexOf('{', one.start + one.selector.length) + 1;
    const close = matching(argument, open);
    const inner = argument.slice(open, close);
    // Blanks at the ends of a case join it with what is around, so they stay.
    const [, before = '', middle = '', after = ''] = /^(\s*)([\s\S]*?)(\s*)$/.exec(inner) ?? [];
    if (middle === '' || inner.includes("'")) continue;
    result =
      result.slice(0, open) +
      before.slice(0, 1) +
      mendSpacing(middle, locale) +
      after.slice(0, 1) +
      result.slice(close);
  }
  return result;
}

function matching(text: string, from: number): number {
  let depth = 0;
  for (let at = from; at < text.length; at++) {
    if (text[at] === '{') depth++;
    else if (text[at] === '}' && depth-- === 0) return at;
  }
  return text.length;
}

function spaces(text: string, locale: string): string {
  const single = text.replace(/[\t\r\n]+/g, ' ').replace(/ {2,}/g, ' ');
  if (!locale.startsWith('fr')) return single.replace(/ ([,.;:!?])(?=\s|$)/g, '$1');
  if (locale !== 'fr' && locale !== 'fr-FR') return single;
  return single
    .replace(/([^\s\u00a0\u202f«]) ?([;!?])(?=[\s\u00a0\u202f]|$)/gu, `$1${NARROW}$2`)
    .replace(/([^\s\u00a0\u202f«]) ?([:»])(?=[\s\u00a0\u202f]|$)/gu, `$1${NBSP}$2`)
    .replace(/« ?(?=[^\s\u00a0\u202f])/gu, `«${NBSP}`);
}

/**
 * A message whose plurals have just the categories of the locale; what is added says what `other`
 * says, as a draft.
 */
export function mendPlurals(text: string, locale: string, gaps: boolean): string {
  const message = parsedMessage(text);
  if (!message) return text;
  let result = text;
  const nodes: PluralNode[] = [];
  walk(message, (node) => {
    if (node.kind === 'plural' || node.kind === 'selectordinal') nodes.push(node);
  });
  // From the back, so that offsets of what is still to come hold.
  for (const node of nodes.sort((one, other) => other.start - one.start)) {
    const type = node.kind === 'plural' ? 'cardinal' : 'ordinal';
    const known: readonly string[] = new Intl.PluralRules(locale, { type }).resolvedOptions()
      .pluralCategories;
    result = gaps ? addCases(result, node, known) : dropCases(result, node, known);
  }
  return result;
}

function bodyOf(text: string, start: number, selector: string): { open: number; close: number } {
  const open = text.indexOf('{', start + selector.length) + 1;
  return { open, close: matching(text, open) };
}

function addCases(text: string, node: PluralNode, known: readonly string[]): string {
  const there = new Set(node.cases.map(({ selector }) => selector));
  const other = node.cases.find(({ selector }) => selector === 'other');
  if (!other) return text;
  const { open, close } = bodyOf(text, other.start, 'other');
  const missing = PLURAL_CATEGORIES.filter(
    (category) => known.includes(category) && !there.has(category),
  );
  let result = text;
  for (const category of missing.toReversed()) {
    // In the order in which CLDR names them, before the first that comes later.
    const after = node.cases.find(
      ({ selector, exactly }) =>
        exactly === undefined &&
        PLURAL_CATEGORIES.indexOf(selector) > PLURAL_CATEGORIES.indexOf(category),
    );
    const at = (after ?? other).start;
    result = `${result.slice(0, at)}${category} {${text.slice(open, close)}} ${result.slice(at)}`;
  }
  return result;
}

function dropCases(text: string, node: PluralNode, known: readonly string[]): string {
  let result = text;
  for (const { selector, exactly, start } of node.cases.toReversed()) {
    if (exactly !== undefined || selector === 'other' || known.includes(selector)) continue;
    const { close } = bodyOf(result, start, selector);
    const after = /^\s*/.exec(result.slice(close + 1))?.[0].length ?? 0;
    result = result.slice(0, start) + result.slice(close + 1 + after);
  }
  return result;
}

/** The name that a key should have had, as the sentence of a finding says it. */
const nameMeant = (message: string): string | undefined =>
  (/Did you mean "?(.*?)"?\?$/.exec(message) ?? /, and "(.*?)" of /.exec(message))?.[1];

/**
 * Texts come before their keys, and renames before removals: after a rename, a place with the old
 * key leads nowhere. Of keys inside of each other the inner one comes first.
 */
const turnOf = ({ kind, message }: Finding): number =>
  IN_TEXT.has(kind) ? 0 : nameMeant(message) !== undefined ? 1 : 2;
const depthOf = ({ spot }: Finding): number => spot?.keys.length ?? 0;

/** Mends findings in the files of a workspace. */
export class Fixer {
  readonly mended: Mended[] = [];
  /** Where keys stood that were renamed. */
  private readonly renamed: Spot[] = [];

  constructor(
    private readonly workspace: Workspace,
    private readonly edits: Edits,
    /** Whether wording may be taken out. */
    private readonly removes = false,
  ) {}

  private text(file: string, keys: Keys, change: (text: string) => string): boolean {
    const before = this.edits.text(file) ?? '';
    const found = valueIn(before, keys);
    if (found?.type !== 'string' || typeof found.value !== 'string') return false;
    const after = change(found.value);
    if (after === found.value) return false;
    this.edits.put(file, setIn(before, keys, after));
    return true;
  }

  private remove(spot: Spot): boolean {
    const before = this.edits.text(spot.file) ?? '';
    const after = removeIn(before, spot.keys);
    this.edits.put(spot.file, after);
    return after !== before;
  }

  /**
   * A key that is misspelt gets the name that it should have had, and keeps all that stands below
   * it; where that name is taken, somebody has to look at the two. What is misspelt for nothing
   * goes, unless it stood below a key that was renamed: it was unused by the old name only.
   */
  private unused({
    kind,
    spot,
    message,
    form,
  }: Finding & { readonly spot: Spot }): string | undefined {
    const { file, keys } = spot;
    const name = String(keys.at(-1));
    const near = nameMeant(message);
    if (near !== undefined) {
      if (namesIn(this.edits.text(file) ?? '', keys.slice(0, -1)).includes(near)) return undefined;
      this.edits.change(file, (text) => renameIn(text, keys, near));
      this.renamed.push(spot);
      return `"${name}" is now "${near}"`;
    }
    const isBelow = (one: Spot): boolean =>
      one.file === file && one.keys.every((key, at) => key === keys[at]);
    if (!this.removes || this.renamed.some(isBelow)) return undefined;
    if (kind === 'unused-message' && this.mayBeBackends(name, form)) return undefined;
    const text = this.wordingAt(file, keys);
    return this.remove(spot) ? `took out "${name}"${text}` : undefined;
  }

  /** Returns the text at a key, the first of duplicates, to print it before it is removed. */
  private wordingAt(file: string, keys: Keys): string {
    const [raw = ''] = rawsAt(this.edits.text(file) ?? '', keys);
    return `: ${raw.replace(/\s+/g, ' ')}`;
  }

  /**
   * Whether a message may be for a rule that only the backend knows: no sheet lists the further
   * rules of a schema's form.
   */
  private mayBeBackends(key: string, form: string | undefined): boolean {
    const { book, schemas } = this.workspace;
    const forms = form === undefined ? [...schemas.keys()] : formsNamed(form);
    return !VOCABULARY.has(key) && forms.some((id) => book.isOpen(id));
  }

  /** Fixes one finding; returns a description, or nothing where it was not fixed. */
  private mend(finding: Finding): string | undefined {
    const { kind, spot, locale } = finding;
    if (!spot || locale === undefined) return undefined;
    const name = String(spot.keys.filter((key) => key !== 'text').at(-1));
    switch (kind) {
      case 'spacing':
        return this.text(spot.file, spot.keys, (text) => mendSpacing(text, locale))
          ? `spaces of "${name}"`
          : undefined;
      case 'plural-gap':
        return this.text(spot.file, spot.keys, (text) => mendPlurals(text, locale, true))
          ? `drafts of plural cases in "${name}"`
          : undefined;
      case 'plural-extra':
        return this.removes &&
          this.text(spot.file, spot.keys, (text) => mendPlurals(text, locale, false))
          ? `took out unused plural cases of "${name}"`
          : undefined;
      case 'unused-message':
      case 'unused-label':
      case 'misspelt-key':
        // A whole file of an unknown form is nothing to mend by machine. Of a key and a rule that
        // nearly agree the key is renamed: a text's key can be another without anybody noticing, a
        // rule's name is a code that clients know.
        return spot.keys.length < 2 ? undefined : this.unused({ ...finding, spot });
      case 'unused-excuse': {
        const reason = this.wordingAt(spot.file, spot.keys);
        return this.remove(spot)
          ? `took out an excuse of "${String(spot.keys.at(-3))}"${reason}`
          : undefined;
      }
      case 'duplicate-key':
        return this.duplicate(spot, name);
      default:
        return undefined;
    }
  }

  /**
   * The later of two holds, so the earlier goes: in one object, or in two files where the finding
   * names the later.
   */
  private duplicate(spot: Spot, name: string): string | undefined {
    if (spot.nth !== undefined) {
      const before = this.edits.text(spot.file) ?? '';
      const raws = rawsAt(before, spot.keys);
      if (!this.removes && raws[0] !== raws.at(-1)) return undefined;
      const wording = this.wordingAt(spot.file, spot.keys);
      this.edits.put(spot.file, removeNth(before, spot.keys, 0));
      return this.edits.text(spot.file) === before
        ? undefined
        : `took out the first "${name}", which the second replaces${wording}`;
    }
    const { catalogs } = this.workspace.table;
    const at = catalogs.findIndex(({ file }) => file === spot.file);
    const here = catalogs[at];
    const earlier = catalogs
      .slice(0, at)
      .find(
        (one) =>
          one.locale === here?.locale &&
          one.form === here.form &&
          valueIn(this.edits.text(one.file) ?? '', spot.keys),
      );
    if (!earlier) return undefined;
    const [one, other] = [earlier.file, spot.file].map((file) =>
      rawIn(this.edits.text(file) ?? '', spot.keys),
    );
    if (!this.removes && one !== other) return undefined;
    const wording = this.wordingAt(earlier.file, spot.keys);
    this.edits.change(earlier.file, (text) => removeIn(text, spot.keys));
    return `took "${name}" out of ${earlier.file}, which ${spot.file} replaces${wording}`;
  }

  /** Mends all findings of some kinds. */
  findings(findings: readonly Finding[], kinds: ReadonlySet<string>): void {
    const ordered = findings.toSorted(
      (one, other) => turnOf(one) - turnOf(other) || depthOf(other) - depthOf(one),
    );
    for (const finding of ordered) {
      const kind = FIXABLE.find((one) => one === finding.kind);
      if (kind === undefined || !kinds.has(kind)) continue;
      const what = this.mend(finding);
      if (what !== undefined) this.mended.push({ kind, file: finding.spot?.file ?? '', what });
    }
  }

  /**
   * Puts the entries of all catalogs in the order of their names.
   * @returns what stays as it is, since comments stand between its entries
   */
  orderByNames(): string[] {
    return this.workspace.table.catalogs
      .filter(({ shared }) => !shared)
      .flatMap(({ file }) => {
        const before = this.edits.text(file) ?? '';
        const { text, left } = sortCatalog(before);
        if (text !== before) {
          this.edits.put(file, text);
          this.mended.push({ kind: undefined, file, what: 'entries in the order of their names' });
        }
        return left.map((section) => `${this.workspace.shown(file)}: ${section}`);
      });
  }

  /** Puts the entries of translations in the order that the original has them in. */
  order(): void {
    const { original } = this.workspace.config;
    const model = (form: string | undefined): Catalog | undefined => {
      const own = this.workspace.table.catalogsOf(original).filter((one) => one.form === form);
      return own.length === 1 ? own[0] : undefined;
    };
    for (const catalog of this.workspace.table.catalogs) {
      const first = catalog.locale === original ? undefined : model(catalog.form);
      if (!first) continue;
      const source = this.edits.text(first.file) ?? '';
      const before = this.edits.text(catalog.file) ?? '';
      const after = SECTIONS.reduce(
        (text, section) => reorderIn(text, section, namesIn(source, section)),
        before,
      );
      if (after === before) continue;
      this.edits.put(catalog.file, after);
      this.mended.push({
        kind: undefined,
        file: catalog.file,
        what: `entries in the order of ${first.file}`,
      });
    }
  }
}
