import type { AnswerOptions } from '../body/answer.js';
import { PROBLEM_ARGUMENTS, TELLS_WHETHER } from '../body/problems.js';
import { PLURAL_RULES } from '../locale/plural-rules.js';
import { directionOf, type Locale } from '../locale/tag.js';
import { fillMessage } from '../message/fill.js';
import { formattersOf } from '../message/formatters.js';
import { EXACT, STANDARD } from '../message/number-options.js';
import type { Message, MessageNode } from '../message/tree.js';
import { ANY_DEPTH, ANY_ELEMENT, ANY_KEY, printPath, type Path, type Pattern } from '../path/path.js';
import { placesOn } from '../path/places.js';
import { FormIndex } from '../rules/form-index.js';
import { codeOf, keysOf, type Field, type Form, type RuleUse } from '../rules/form.js';
import type { Entry } from '../texts/entry.js';
import type { Texts } from '../texts/ladder.js';
import { prepareArguments, type Setting } from '../violation/arguments.js';
import { declaredBy } from '../violation/sentence.js';
import { Words } from '../violation/words.js';

/** A sentence without ICU: a text with simple places, or its cases by what a request tells. */
export type PlainSentence =
  | string
  | { readonly plural: string; readonly cases: Readonly<Record<string, PlainSentence>> }
  | { readonly select: string; readonly cases: Readonly<Record<string, PlainSentence>> };

/** How a language writes numbers. */
export interface PlainNumbers {
  /** From 0 to 9. */
  readonly digits: string;
  readonly group: string;
  readonly decimal: string;
  readonly minus: string;
  /** How many digits stand in the last group, and in those before it. */
  readonly sizes: readonly [number, number];
}

type ByField<T> = Readonly<Record<string, Readonly<Record<string, T>>>>;

/** All sentences of one language, worked out as far as they can be before a request. */
export interface SentencePack {
  /** The format's version. */
  readonly sentences: 1;
  readonly locale: string;
  readonly direction: 'ltr' | 'rtl';
  readonly numbers: PlainNumbers;
  /** Conditions of the plural categories in the words of UTS 35; what none holds for is `other`. */
  readonly plurals: Readonly<Record<string, string>>;
  /** What stands around the name of a place. */
  readonly place: readonly [string, string];
  /** By form, by field, by the rule's code. */
  readonly forms: Readonly<Record<string, ByField<PlainSentence>>>;
  /** The same for beside the inputs. */
  readonly inlines: Readonly<Record<string, ByField<PlainSentence>>>;
  readonly problems: Readonly<
    Record<string, { readonly status: number; readonly title: PlainSentence; readonly detail?: PlainSentence }>
  >;
}

/** How places are written: what stands around a name, and how the text itself is written so that nothing in it looks like one. */
export interface PlaceTemplate {
  readonly open: string;
  readonly close: string;
  readonly escape?: (text: string) => string;
}

/**
 * Reads how places are to be written, such as `{NAME}`, `<NAME>` or `%(NAME)s`.
 * @throws {RangeError} when NAME does not stand in it once
 */
export function placeTemplate(template: string): PlaceTemplate {
  const [open = '', close, ...more] = template.split('NAME');
  if (close === undefined || more.length > 0 || open === '')
    throw new RangeError('a template has NAME in it once, behind some sign, such as <NAME>');
  // What comes behind a per cent sign is a place in all notations that have it; the sign itself is doubled.
  return open.startsWith('%') ? { open, close, escape: (text) => text.replaceAll('%', '%%') } : { open, close };
}

/** What could not be said without ICU, and why. */
export interface Unsimple {
  readonly form: string;
  readonly path: string;
  readonly code: string;
  readonly why: string;
}

export interface SentenceSource {
  readonly forms: readonly Form[];
  readonly texts: Texts;
  readonly options: AnswerOptions;
}

/** Where a field is found in a pack: `query:dryRun` for what is not of the body. */
export const fieldKey = (pattern: Pattern, place: Field['in']): string =>
  place === 'body' ? printPath(pattern) : `${place}:${printPath(pattern)}`;

/** Arguments that hang on what a request holds, whatever the rules declare. */
const ASKED = new Set(['value', 'actual', 'first', 'second']);
const ABOUT_VALUES = /^(?:value|name|text)_quoted$/;

class NotSimple extends Error {
  override name = 'NotSimple';
}

/** Places stand in for a number each, so that they are found again in what was said. */
const BASES = [731, 846] as const;
const [KEY_OPEN, KEY_CLOSE] = ['\uE000', '\uE001'];

export class SentencePacker {
  readonly unsimple: Unsimple[] = [];
  /** How many sentences there are, and how many of them need no case. */
  readonly count = { all: 0, simple: 0 };

  constructor(
    private readonly source: SentenceSource,
    private readonly locale: Locale,
    private readonly template: PlaceTemplate,
  ) {}

  /** A path with a number of its own at each open place. */
  private markedPath(pattern: Pattern, base: number): Path {
    return pattern.map((segment, at) => {
      if (segment === ANY_ELEMENT) return base + at - 1;
      if (segment === ANY_KEY) return `${KEY_OPEN}${at}${KEY_CLOSE}`;
      if (segment === ANY_DEPTH) throw new NotSimple('it stands at any depth');
      return segment as string | number;
    });
  }

  /** Puts the arguments back where marks stand. */
  private unmarked(
    text: string,
    pattern: Pattern,
    names: ReadonlyMap<number, string>,
    base: number,
    locale: Locale,
  ): MessageNode[] {
    const { bare } = formattersOf(locale);
    const marks = new Map<string, string>();
    for (const [at, name] of names) marks.set(pattern[at] === ANY_KEY ? `${KEY_OPEN}${at}${KEY_CLOSE}` : bare(base + at), name);
    if (marks.size === 0) return [{ kind: 'text', text, start: 0, end: 0 }];
    const parts = text.split(new RegExp(`(${[...marks.keys()].join('|')})`, 'u'));
    return parts.flatMap((part): MessageNode[] => {
      const name = marks.get(part);
      if (name !== undefined) return [{ kind: 'argument', name, start: 0, end: 0 }];
      return part === '' ? [] : [{ kind: 'text', text: part, start: 0, end: 0 }];
    });
  }

  private filled(entry: Entry, setting: Setting, base: number): Message {
    const { pattern, place, form, use } = setting;
    const names = entry.signature.names;
    const { early, placed, late } = prepareArguments(names, setting);
    const path = this.markedPath(pattern, base);
    const declared = placesOn(pattern, form.declared(pattern, place));
    const places = new Map(
      declared.filter(({ at }) => typeof pattern[at] === 'symbol').map(({ at, argument }) => [at, argument]),
    );
    const own = new Set(places.values());
    const known = new Map<string, unknown>(Object.entries(early));
    for (const [name, word] of placed) if (!own.has(name)) known.set(name, word(path));
    const params = use ? declaredBy(use) : {};
    const violation = { path: printPath(path), rule: setting.rule, params };
    for (const [name, work] of late) {
      if (ASKED.has(name) || ABOUT_VALUES.test(name)) continue;
      const value = work(violation, params, path);
      if (value !== undefined) known.set(name, value);
    }
    const filled = fillMessage(entry.tree, entry.locale, (name) => known.get(name), this.source.options.zone);
    const back = (message: Message): Message =>
      message.flatMap((node): readonly MessageNode[] => {
        if (node.kind === 'text') return this.unmarked(node.text, pattern, places, base, entry.locale);
        if (!('cases' in node)) return [node];
        return [{ ...node, cases: node.cases.map((one) => ({ ...one, message: back(one.message) })) }];
      });
    return back(filled);
  }

  /** The sentence of a message at the fields of a pattern. */
  private sentence(entry: Entry, setting: Setting): PlainSentence {
    const [first, second] = BASES.map((base) => this.plain(this.filled(entry, setting, base)));
    // Were a label to choose words by the number of its element, the two would differ.
    if (JSON.stringify(first) !== JSON.stringify(second)) throw new NotSimple('a label in it hangs on the number of its element');
    return first ?? '';
  }

  private plain(message: Message, before = '', hash?: string): PlainSentence {
    const at = message.findIndex((node) => 'cases' in node);
    const text = message.slice(0, at < 0 ? undefined : at).reduce((said, node) => said + this.written(node, hash), before);
    const node = message[at];
    if (!node || !('cases' in node)) return text;
    if (node.kind === 'selectordinal') throw new NotSimple(`{${node.name}} is told as an ordinal`);
    if (node.kind === 'plural' && node.offset !== 0) throw new NotSimple(`the plural of {${node.name}} has an offset`);
    const rest = message.slice(at + 1);
    const cases = node.cases.map(({ selector, message: inner }) => [
      selector,
      this.plain([...inner, ...rest], text, node.kind === 'plural' ? node.name : hash),
    ]);
    return {
      [node.kind]: node.name,
      cases: Object.fromEntries(cases) as Record<string, PlainSentence>,
    } as unknown as PlainSentence;
  }

  private written(node: MessageNode, hash: string | undefined): string {
    const { open, close, escape } = this.template;
    switch (node.kind) {
      case 'text':
        if (!escape && open !== '' && node.text.includes(open) && (close === '' || node.text.includes(close)))
          throw new NotSimple(`"${open}" stands in the text itself; choose another way to write places`);
        return escape?.(node.text) ?? node.text;
      case 'argument':
        return open + node.name + close;
      case 'hash':
        return open + (hash ?? '') + close;
      case 'number':
        if (node.style === STANDARD || node.style === EXACT) return open + node.name + close;
        throw new NotSimple(`{${node.name}} is written in a style of its own`);
      default:
        throw new NotSimple(`{${node.name}} is a date or a time that only the request tells`);
    }
  }

  private told(into: Record<string, PlainSentence>, code: string, about: Omit<Unsimple, 'why'>, make: () => PlainSentence): void {
    // Of several uses under one code the first is what it says.
    if (Object.hasOwn(into, code)) return;
    try {
      into[code] = make();
      this.count.all += 1;
      if (typeof into[code] === 'string') this.count.simple += 1;
    } catch (error) {
      if (!(error instanceof NotSimple)) throw error;
      this.unsimple.push({ ...about, why: error.message });
    }
  }

  private use(form: FormIndex, words: Words, pattern: Pattern, field: Field, use: RuleUse, into: [ByCode, ByCode]): void {
    const { texts, options } = this.source;
    const code = codeOf(use);
    const question = { form: form.form.id, path: pattern, keys: keysOf(use) };
    const found = texts.message(question, this.locale);
    const [inline] = texts.inline(question, this.locale, found?.locale ?? this.locale);
    const about = { form: form.form.id, path: fieldKey(pattern, field.in), code };
    for (const [at, entry] of [found, inline].entries()) {
      if (!entry) continue;
      const speech = { locale: this.locale, sentence: entry.locale, zone: options.zone, limit: options.limit };
      const setting = { form, pattern, place: field.in, rule: use.rule, use, words, speech };
      this.told(into[at === 0 ? 0 : 1], code, about, () => this.sentence(entry, setting));
    }
  }

  private form(form: Form): [ByField<PlainSentence>, ByField<PlainSentence>] {
    const index = new FormIndex(form);
    const words = new Words(this.source.texts, index);
    const [whole, inlines]: Record<string, ByCode>[] = [{}, {}];
    for (const field of form.fields) {
      for (const pattern of [field.pattern, ...this.source.texts.narrower(form.id, field.pattern)]) {
        const own: [ByCode, ByCode] = [{}, {}];
        for (const use of field.uses) this.use(index, words, pattern, field, use, own);
        const key = fieldKey(pattern, field.in);
        if (whole && Object.keys(own[0]).length > 0) whole[key] = { ...whole[key], ...own[0] };
        if (inlines && Object.keys(own[1]).length > 0) inlines[key] = { ...inlines[key], ...own[1] };
      }
    }
    return [whole ?? {}, inlines ?? {}];
  }

  private problems(): SentencePack['problems'] {
    const { texts, options } = this.source;
    const told: Record<string, { status: number; title: PlainSentence; detail?: PlainSentence }> = {};
    for (const [id, status] of options.statuses) {
      const { title, detail } = texts.problem('', id, this.locale);
      const said: Record<string, PlainSentence> = {};
      const hasOwn = Object.hasOwn(PROBLEM_ARGUMENTS, id);
      for (const [part, entry] of Object.entries({ title, detail }))
        if (entry)
          this.told(said, part, { form: '', path: '', code: `${id} ${part}` }, () =>
            // What only tells whether something is known is `no` for problems that never know it.
            this.plain(
              fillMessage(
                entry.tree,
                entry.locale,
                (name) => (!hasOwn && Object.hasOwn(TELLS_WHETHER, name) ? 'no' : undefined),
                options.zone,
              ),
            ),
          );
      told[id] = { status, title: said.title ?? id, ...(said.detail === undefined ? {} : { detail: said.detail }) };
    }
    return told;
  }

  pack(): SentencePack {
    const forms: Record<string, ByField<PlainSentence>> = {};
    const inlines: Record<string, ByField<PlainSentence>> = {};
    for (const form of this.source.forms) [forms[form.id], inlines[form.id]] = this.form(form);
    return {
      ...{ sentences: 1, locale: this.locale, direction: directionOf(this.locale), numbers: numbersOf(this.locale) },
      ...{
        plurals: pluralsOf(this.locale),
        place: [this.template.open, this.template.close],
        forms,
        inlines,
        problems: this.problems(),
      },
    };
  }
}

type ByCode = Record<string, PlainSentence>;

/** How a locale writes numbers with all their digits. */
export function numbersOf(locale: Locale): PlainNumbers {
  const format = new Intl.NumberFormat(locale, EXACT.options);
  const parts = format.formatToParts(-1234567.5);
  const of = (type: string): string => parts.find((part) => part.type === type)?.value ?? '';
  const groups = parts.filter(({ type }) => type === 'integer').map(({ value }) => [...value].length);
  const digit = new Intl.NumberFormat(locale, { useGrouping: false });
  return {
    digits: Array.from({ length: 10 }, (_, n) => digit.format(n)).join(''),
    ...{ group: of('group'), decimal: of('decimal'), minus: of('minusSign') },
    sizes: [groups.at(-1) ?? 3, groups.at(-2) ?? 3],
  };
}

/** The conditions of a language's plural categories. */
export function pluralsOf(locale: Locale): Record<string, string> {
  const [language = ''] = locale.split('-');
  const of = (tag: string): string | undefined => PLURAL_RULES.find(([languages]) => languages.split(' ').includes(tag))?.[1];
  const conditions = of(locale) ?? of(language) ?? '';
  return Object.fromEntries(
    conditions
      .split('; ')
      .filter((one) => one !== '')
      .map((one) => [one.slice(0, one.indexOf(':')), one.slice(one.indexOf(':') + 2)]),
  );
}
