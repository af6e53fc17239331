import { numberOf, wordOf } from '../text/outer.js';
import { directionOf, hasCapitals, type Locale } from '../locale/tag.js';
import { saidOf, type Format } from '../message/compile.js';
import { formattersOf } from '../message/formatters.js';
import { isPath, type Path, type Pattern } from '../path/path.js';
import {
  enclosingElements,
  isPlaceNumber,
  lastWord,
  placesOn,
  spokenFrom,
  type Place,
} from '../path/places.js';
import { isolated } from '../text/direction.js';
import { capitalised, MASK, valueText } from '../text/value.js';
import { fewOf } from './few-choices.js';
import type { FrameName, WordGroup } from '../texts/purpose.js';
import type { FormIndex } from '../rules/form-index.js';
import type { RequestPart } from '../rules/form.js';
import type { Phrase } from '../texts/phrase.js';
import type { TextLookup } from '../texts/lookup.js';

/** The language side of a sentence: who asked, and in which locale it is written. */
export interface Speech {
  readonly locale: Locale;
  readonly sentence: Locale;
  readonly zone: string;
  /** The longest echoed value, in graphemes. */
  readonly shorten: number;
}

/** The text of a word: the same at all paths of a class, or a function of the path. */
export type Wording = string | ((path: Path) => string);

/** A wording at one path. */
export const said = (wording: Wording, path: Path): string =>
  typeof wording === 'string' ? wording : wording(path);

/** Applies a function to a wording, once where it is the same at all paths. */
const then = (wording: Wording, work: (text: string) => string): Wording =>
  typeof wording === 'string' ? work(wording) : (path) => work(wording(path));

/** A wording that stands apart from a sentence of the other direction. */
const apart = (wording: Wording, { sentence }: Speech): Wording =>
  then(wording, (text) => isolated(text, directionOf(sentence)));

/** Returns the label of an array or its element, with the element's number. */
function beforeNumber(wording: Wording, at: number, { sentence }: Speech): Wording {
  const { bare } = formattersOf(sentence);
  return (path) => `${said(wording, path)} ${bare(numberOf(path[at]) + 1)}`;
}

/** A truth, as a key for `select`. */
export const yesOrNo = (is: boolean): string => (is ? 'yes' : 'no');

/** Several wordings as one. */
function together(wordings: readonly Wording[], join: (texts: string[]) => string): Wording {
  const fixed = wordings.filter((one) => typeof one === 'string');
  return fixed.length === wordings.length
    ? join(fixed)
    : (path) => join(wordings.map((one) => said(one, path)));
}

/** The inflection that one is derived from. */
const underived = (form: string): string => (form === 'start' || form === 'quoted' ? 'base' : form);

const NOTHING_SPOKEN: ReadonlySet<string> = new Set();

/** A literal is shown as it has to be sent, so it is shortened only where nobody would read it. */
const LONGEST_LITERAL = 200;

/**
 * How a list of values is joined: with "or", or with nothing but the mark between its entries;
 * `bare`: with "or", values without a name as they are, since a backend's own lists are words
 * mostly.
 */
export type Joint = 'or' | 'marks' | 'bare';

/** Returns the argument of a place at a path. */
export type PlaceWord = (path: Path) => string | number;

/**
 * The words for fields and places in one form: what the arguments of a message about a field say.
 * They are worked out for a class of paths (see `TextLookup.classOf`), as far as they do not hang
 * on places and keys.
 */
export class Words {
  constructor(
    private readonly texts: TextLookup,
    private readonly form: FormIndex,
  ) {}

  private format(entry: Phrase, speech: Speech): Format {
    return entry.format({ zone: speech.zone }, speech.sentence);
  }

  /** The arrays and maps on a path that a text may name. */
  private placesFor(text: Phrase | undefined, pattern: Pattern, part: RequestPart): Place[] {
    const from = spokenFrom(text?.about, pattern);
    const declared = this.form.declared(pattern, part)?.slice(from);
    return placesOn(pattern.slice(from), declared).map((one) => ({ ...one, at: one.at + from }));
  }

  /**
   * Returns `targets_number`, `extras_key`, … for each array and map on a path. A client sends
   * keys, so they are shown as values are.
   * @param text that names them
   */
  places(
    text: Phrase | undefined,
    pattern: Pattern,
    part: RequestPart,
    { shorten: limit }: Speech,
  ): Map<string, PlaceWord> {
    const words = new Map<string, PlaceWord>();
    for (const { argument, at, kind } of this.placesFor(text, pattern, part)) {
      // What a client calls a member of something secret is secret too.
      const hidden = kind === 'key' && this.form.isSecretAt(pattern.slice(0, at), part);
      words.set(
        argument,
        kind === 'number'
          ? (path) => numberOf(path[at]) + 1
          : hidden
            ? () => MASK
            : (path) => valueText(wordOf(path[at]), limit),
      );
    }
    return words;
  }

  private labelAt(pattern: Pattern, speech: Speech): Phrase | undefined {
    return this.texts.label(this.form.form.id, pattern, speech.locale, speech.sentence);
  }

  /** Whether a text asks for nothing but places on its path. */
  private isSayable(entry: Phrase, pattern: Pattern, part: RequestPart, speech: Speech): boolean {
    const { names } = entry.signature;
    if (names.size === 0) return true;
    const places = this.places(entry, pattern, part, speech);
    return [...names].every((name) => places.has(name));
  }

  /** A text that may ask for the places on its path. */
  private wordingOf(entry: Phrase, pattern: Pattern, part: RequestPart, speech: Speech): Wording {
    const format = this.format(entry, speech);
    const { names } = entry.signature;
    const places = [...this.places(entry, pattern, part, speech)].filter(([name]) =>
      names.has(name),
    );
    if (places.length === 0) return format({});
    return (path) => format(Object.fromEntries(places.map(([name, word]) => [name, word(path)])));
  }

  /**
   * Joins parts as the sentence's language does; without a frame of the language, by its separator
   * of lists.
   */
  private framed(
    name: FrameName,
    parts: Readonly<Record<string, Wording>>,
    speech: Speech,
  ): Wording {
    return together(Object.values(parts), this.frame(name, Object.keys(parts), speech));
  }

  /**
   * How it is joined, looked up once: texts in the order of the names that the frame has for them.
   */
  private frame(
    name: FrameName,
    names: readonly string[],
    speech: Speech,
  ): (texts: string[]) => string {
    const { sentence } = speech;
    const join = this.joiner(name, speech);
    return (texts) =>
      join(Object.fromEntries(names.map((one, at) => [one, texts[at]]))) ??
      (name === 'quoted'
        ? `“${isolated(texts.join(''), directionOf(sentence))}”`
        : formattersOf(sentence).trail(texts));
  }

  /** How a language joins something, looked up once; nothing where it does not say. */
  joiner(
    name: FrameName,
    { locale, sentence, zone }: Speech,
  ): (parts: Readonly<Record<string, unknown>>) => string | undefined {
    const frame = this.texts.frame(this.form.form.id, name, locale, sentence);
    const format = frame?.format({ zone }, sentence);
    return (parts) => {
      const result = format && saidOf(format, parts);
      return result?.lacking === undefined ? result?.text : undefined;
    };
  }

  /** A text in the marks of the language. */
  quoted(text: Wording, speech: Speech): Wording {
    return this.framed('quoted', { text }, speech);
  }

  /** Formats values as a client has to send them: texts in quotes, all others as JSON. */
  literals(speech: Speech): (value: unknown) => string {
    const quote = this.frame('quoted', ['text'], speech);
    const longest = Math.max(speech.shorten, LONGEST_LITERAL);
    return (value) => {
      const text = valueText(value, longest);
      return typeof value === 'string' ? quote([text]) : text;
    };
  }

  /** Whether a label has an inflection of its own: a key, `yes` or `no`. */
  hasForm(pattern: Pattern, form: string, speech: Speech): string {
    const entry = this.labelAt(pattern, speech)?.inflections.get(form);
    return yesOrNo(entry !== undefined && !entry.error);
  }

  /** A word without inflections of its own, as a text asks for one. */
  inflected(text: string, form: string, speech: Speech): Wording {
    return form === 'gender' ? 'other' : this.derived(apart(text, speech), form, speech);
  }

  /** The inflections that every word has: at the start of a sentence, and in quotes. */
  private derived(word: Wording, form: string, speech: Speech): Wording {
    return form === 'start'
      ? this.start(word, speech)
      : form === 'quoted'
        ? this.quoted(word, speech)
        : word;
  }

  /**
   * A label in one of its inflections. One that the label lacks falls back to the label itself;
   * `start` is derived from it, `quoted` is it in quotes; `gender` is a key, `other` where nobody
   * says it.
   */
  label(
    pattern: Pattern,
    part: RequestPart,
    form: string,
    speech: Speech,
    spoken: ReadonlySet<string> = NOTHING_SPOKEN,
  ): Wording {
    // The root of what is not the body is not a field: each language says what it is called.
    if (pattern.length === 0 && part !== 'body') {
      const word = this.word('part', part, underived(form), {}, speech) ?? part;
      return this.inflected(word, form, speech);
    }
    const label = this.labelAt(pattern, speech);
    if (form === 'gender') return label?.details.gender ?? 'other';
    if (form === 'quoted')
      return this.quoted(this.label(pattern, part, 'base', speech, spoken), speech);
    const entry = label && (label.inflections.get(form) ?? label);
    // A label that asks for a place which its field has not would show its braces.
    const usable = [entry, label].find(
      (one) => one && !one.error && this.isSayable(one, pattern, part, speech),
    );
    const wording = usable
      ? this.numbered(
          usable,
          this.wordingOf(usable, pattern, part, speech),
          pattern,
          part,
          speech,
          spoken,
        )
      : this.unlabelled(pattern, part, speech);
    return form === 'start' && !label?.inflections.has('start')
      ? this.start(wording, speech)
      : wording;
  }

  /**
   * Returns the subject of a sentence: the label in an inflection; inside an element, with its
   * place.
   */
  subject(
    pattern: Pattern,
    part: RequestPart,
    form: string,
    speech: Speech,
    spoken: ReadonlySet<string> = NOTHING_SPOKEN,
  ): Wording {
    const around = this.trail(pattern, part, speech, spoken);
    if (around === '' || form === 'gender') return this.label(pattern, part, form, speech, spoken);
    const label = this.label(pattern, part, underived(form), speech, spoken);
    return this.derived(this.framed('field', { place: around, label }, speech), form, speech);
  }

  /**
   * A value of a parameter by its word, in one of its inflections that the word may have; nothing
   * where it has none.
   */
  word(
    group: WordGroup,
    name: string,
    form: string,
    args: Readonly<Record<string, unknown>>,
    speech: Speech,
  ): string | undefined {
    const word = this.texts.word(this.form.form.id, group, name, speech.locale, speech.sentence);
    const entry = word?.inflections.get(form) ?? word;
    const result = entry && saidOf(this.format(entry, speech), args);
    return result?.lacking === undefined ? result?.text : undefined;
  }

  /**
   * An element's label with its number behind it, where neither it nor the message says the number:
   * else it would be lost.
   */
  private numbered(
    label: Phrase,
    wording: Wording,
    pattern: Pattern,
    part: RequestPart,
    speech: Speech,
    spoken: ReadonlySet<string>,
  ): Wording {
    const last = pattern.length - 1;
    // A label for one literal place means that one.
    if (!isPlaceNumber(pattern[last]) || typeof (label.about ?? pattern).at(-1) === 'number')
      return wording;
    const own = this.placesFor(label, pattern, part).find(({ at }) => at === last)?.argument ?? '';
    if (label.signature.names.has(own) || spoken.has(own)) return wording;
    return beforeNumber(wording, last, speech);
  }

  /**
   * Returns a name for an element without a label: its array's label and the number ("targets 3");
   * for a field, the last word of its path.
   */
  private unlabelled(pattern: Pattern, part: RequestPart, speech: Speech): Wording {
    const { length } = pattern;
    const around = pattern.slice(0, -1);
    if (length > 1 && isPlaceNumber(pattern.at(-1)) && this.labelAt(around, speech))
      return beforeNumber(this.label(around, part, 'base', speech), length - 1, speech);
    // Texts may name a single member of a map: it is a client's word all the same.
    const declared = this.form.declared(pattern, part) ?? pattern;
    const word = (path: Path): string => {
      const named = declared.map((one, at) => (typeof one === 'string' ? one : path[at]));
      return lastWord(
        this.form.shownPath(named as Path, part),
        declared,
        (text) => valueText(text, speech.shorten),
        formattersOf(speech.sentence).bare,
      );
    };
    // A name is called by itself, whatever is around it.
    const isName = typeof declared.at(-1) === 'string' && !this.form.isSecretAt(pattern, part);
    return isName || isPath(declared) ? word(declared as Path) : word;
  }

  /**
   * The elements around a value in words, from the outside: "target 3, exposure 1"; empty where
   * there are none.
   */
  trail(
    pattern: Pattern,
    part: RequestPart,
    speech: Speech,
    spoken: ReadonlySet<string> = NOTHING_SPOKEN,
  ): Wording {
    const elements = enclosingElements(pattern).map((element) =>
      this.label(element, part, 'base', speech, spoken),
    );
    const [first = '', ...more] = elements;
    return more.reduce((outer, inner) => this.framed('inside', { outer, inner }, speech), first);
  }

  /**
   * A word as it stands at the start of a sentence. One that begins with a key stays as the client
   * sent that.
   */
  start(wording: Wording, { sentence }: Speech): Wording {
    if (!hasCapitals(sentence)) return wording;
    if (typeof wording === 'string') return capitalised(wording, sentence);
    return (path) => {
      const text = wording(path);
      const withoutKeys = wording(path.map((one) => (typeof one === 'string' ? '' : one)));
      return withoutKeys[0] === text[0] ? capitalised(text, sentence) : text;
    };
  }

  /**
   * Another field that a rule names, with its `[*]` taken from the field in hand: the class of its
   * path, and the path.
   */
  private otherAt(
    reference: Pattern,
    pattern: Pattern,
    part: RequestPart,
  ): { readonly class: Pattern; readonly fill: (path: Pattern) => Pattern } {
    const fill = (path: Pattern): Pattern => this.form.filled(reference, path, part);
    return { class: this.texts.classOf(fill(pattern), this.form.literals), fill };
  }

  /**
   * The label of another field that a rule names; with its place where a field outside of the
   * element is called the same way.
   */
  counterpart(
    reference: Pattern,
    pattern: Pattern,
    part: RequestPart,
    form: string,
    speech: Speech,
  ): Wording {
    const other = this.otherAt(reference, pattern, part);
    const { length } = enclosingElements(other.class).at(-1) ?? [];
    const isAmbiguous = length > 0 && this.form.declared(other.class.slice(length), part);
    const wording = this[isAmbiguous ? 'subject' : 'label'](other.class, part, form, speech);
    return typeof wording === 'string' ? wording : (path) => wording(other.fill(path) as Path);
  }

  /** Whether its label has an inflection of its own. */
  counterpartHas(
    reference: Pattern,
    pattern: Pattern,
    part: RequestPart,
    form: string,
    speech: Speech,
  ): string {
    return this.hasForm(this.otherAt(reference, pattern, part).class, form, speech);
  }

  /**
   * Enumerated values by their names; those without one as they have to be sent. Of many some are
   * named, with how many there are.
   */
  choices(
    values: readonly unknown[],
    pattern: Pattern,
    part: RequestPart,
    speech: Speech,
    joint: Joint = 'or',
  ): Wording {
    const literal = this.literals(speech);
    const names = fewOf(values).map((value) => {
      const key = typeof value === 'string' ? value : JSON.stringify(value);
      const entry = this.texts.choice(
        this.form.form.id,
        pattern,
        key,
        speech.locale,
        speech.sentence,
      );
      const plain = joint === 'bare' ? valueText(value, speech.shorten) : literal(value);
      const name =
        entry && this.isSayable(entry, pattern, part, speech)
          ? this.wordingOf(entry, pattern, part, speech)
          : plain;
      return apart(name, speech);
    });
    return together(names, (texts) => this.joined(texts, joint, speech, values.length));
  }

  /** The labels of members of what stands at a place, joined by "or". */
  labels(members: readonly Path[], around: Pattern, part: RequestPart, speech: Speech): Wording {
    const names = members.map((member) =>
      apart(this.label([...around, ...member], part, 'base', speech), speech),
    );
    return together(names, (texts) => this.joined(texts, 'or', speech));
  }

  /** Enumerated values as they have to be sent. */
  literalChoices(values: readonly unknown[], speech: Speech): string {
    return this.joined(fewOf(values).map(this.literals(speech)), 'or', speech, values.length);
  }

  /**
   * Texts as the language joins them.
   * @param count how many there are, where the texts are some of them
   */
  joined(
    texts: readonly string[],
    joint: Joint,
    { sentence }: Speech,
    count = texts.length,
  ): string {
    const formatters = formattersOf(sentence);
    if (count > texts.length) return formatters.trail([...texts, `… (${formatters.bare(count)})`]);
    return joint === 'marks' ? formatters.trail(texts) : formatters.list(texts, 'disjunction');
  }
}
