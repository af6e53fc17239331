import { directionOf, type Locale } from '../locale/tag.js';
import type { Format } from '../message/compile.js';
import { formattersOf } from '../message/formatters.js';
import { ANY_ELEMENT, isPath, type Path, type Pattern, type PatternSegment } from '../path/path.js';
import { enclosingElements, isPlaceNumber, lastWord, placesOn } from '../path/places.js';
import { isolated } from '../text/direction.js';
import { capitalised, MASK, valueText } from '../text/value.js';
import type { FormIndex } from '../rules/form-index.js';
import type { FieldPlace } from '../rules/form.js';
import type { Entry } from '../texts/entry.js';
import type { Texts } from '../texts/ladder.js';

/** The language side of a sentence: who asked, and in which locale it is written. */
export interface Speech {
  readonly locale: Locale;
  readonly sentence: Locale;
  readonly zone: string;
  /** The longest echoed value, in graphemes. */
  readonly limit: number;
}

/** What a word says: the same at all paths of a class, or by the places and keys of the one at hand. */
export type Wording = string | ((path: Path) => string);

/** A wording at one path. */
export const said = (wording: Wording, path: Path): string => (typeof wording === 'string' ? wording : wording(path));

/** What is done to a wording, once where it is the same everywhere. */
const then = (wording: Wording, work: (text: string) => string): Wording =>
  typeof wording === 'string' ? work(wording) : (path) => work(wording(path));

/** Several wordings as one. */
function together(wordings: readonly Wording[], join: (texts: string[]) => string): Wording {
  const fixed = wordings.filter((one) => typeof one === 'string');
  return fixed.length === wordings.length ? join(fixed) : (path) => join(wordings.map((one) => said(one, path)));
}

const NOTHING_SPOKEN: ReadonlySet<string> = new Set();

/** What an argument of a place says at a path. */
export type PlaceWord = (path: Path) => string | number;

/**
 * The words for fields and places in one form: what the arguments of a message about a field say. They are worked out for a
 * class of paths (see `Texts.classOf`), as far as they do not hang on places and keys.
 */
export class Words {
  constructor(
    private readonly texts: Texts,
    private readonly form: FormIndex,
  ) {}

  private format(entry: Entry, speech: Speech): Format {
    return entry.format({ zone: speech.zone });
  }

  /** `targets_number`, `extras_key`, … for each array and map on a path. */
  places(pattern: Pattern, place: FieldPlace): Map<string, PlaceWord> {
    const words = new Map<string, PlaceWord>();
    for (const { argument, at, kind } of placesOn(pattern, this.form.declared(pattern, place))) {
      // What a client calls a member of something secret is secret too.
      const hidden = kind === 'key' && this.form.isSecretAt(pattern.slice(0, at), place);
      words.set(argument, kind === 'number' ? (path) => Number(path[at]) + 1 : hidden ? () => MASK : (path) => String(path[at]));
    }
    return words;
  }

  private labelAt(pattern: Pattern, speech: Speech): Entry | undefined {
    return this.texts.label(this.form.form.id, pattern, speech.locale, speech.sentence);
  }

  /** A text that may ask for the places on its path. */
  private wordingOf(entry: Entry, pattern: Pattern, place: FieldPlace, speech: Speech): Wording {
    const format = this.format(entry, speech);
    const { names } = entry.signature;
    if (names.size === 0) return format({});
    const places = [...this.places(pattern, place)].filter(([name]) => names.has(name));
    if (places.length === 0) return format({});
    const [only] = places;
    if (only && places.length === 1) {
      // By far the most: "target {targets_number}".
      const [name, word] = only;
      return (path) => format({ [name]: word(path) });
    }
    return (path) => {
      const args: Record<string, string | number> = {};
      for (const [name, word] of places) args[name] = word(path);
      return format(args);
    };
  }

  /**
   * A label in a grammatical form. A form that the label lacks falls back to the label itself; `start` is derived from it;
   * `gender` is a key, `other` where nobody says it.
   */
  label(
    pattern: Pattern,
    place: FieldPlace,
    form: string,
    speech: Speech,
    spoken: ReadonlySet<string> = NOTHING_SPOKEN,
  ): Wording {
    const label = this.labelAt(pattern, speech);
    if (form === 'gender') return label?.details.gender ?? 'other';
    const entry = label && (label.forms.get(form) ?? label);
    const usable = entry?.error ? label : entry;
    const wording = usable
      ? this.numbered(usable, this.wordingOf(usable, pattern, place, speech), pattern, place, speech, spoken)
      : this.unlabelled(pattern, place, speech);
    return form === 'start' && !label?.forms.has('start') ? this.start(wording, speech) : wording;
  }

  /** An element's label with its number behind it, where neither it nor the message says the number: else it would be lost. */
  private numbered(
    label: Entry,
    wording: Wording,
    pattern: Pattern,
    place: FieldPlace,
    speech: Speech,
    spoken: ReadonlySet<string>,
  ): Wording {
    const last = pattern.length - 1;
    // A label for one literal place means that one.
    if (pattern[last] !== ANY_ELEMENT) return wording;
    const own = placesOn(pattern, this.form.declared(pattern, place)).find(({ at }) => at === last)?.argument ?? '';
    if (label.signature.names.has(own) || spoken.has(own)) return wording;
    const { bare } = formattersOf(speech.sentence);
    return (path) => `${said(wording, path)} ${bare(Number(path[last]) + 1)}`;
  }

  /** What an element is called by its array's own label where it has none: "targets 3"; a field by its path's last word. */
  private unlabelled(pattern: Pattern, place: FieldPlace, speech: Speech): Wording {
    const { length } = pattern;
    const around = pattern.slice(0, -1);
    if (length > 1 && isPlaceNumber(pattern.at(-1)) && this.labelAt(around, speech)) {
      const { bare } = formattersOf(speech.sentence);
      const array = this.label(around, place, 'base', speech);
      return (path) => `${said(array, path)} ${bare(Number(path[length - 1]) + 1)}`;
    }
    const word = (path: Path): string => lastWord(this.form.shownPath(path.slice(0, length), place));
    // A name is called by itself, whatever is around it.
    if (typeof pattern.at(-1) === 'string' && !this.form.isSecretAt(pattern, place)) return lastWord(pattern.slice(-1) as Path);
    return isPath(pattern) ? word(pattern) : word;
  }

  /** The elements around a value in words, from the outside: "target 3, exposure 1"; empty where there are none. */
  trail(pattern: Pattern, place: FieldPlace, speech: Speech, spoken: ReadonlySet<string> = NOTHING_SPOKEN): Wording {
    const elements = enclosingElements(pattern).map((element) => this.label(element, place, 'base', speech, spoken));
    return elements.length < 2 ? (elements[0] ?? '') : together(elements, (texts) => formattersOf(speech.sentence).trail(texts));
  }

  /** A word as it stands at the start of a sentence. */
  start(wording: Wording, speech: Speech): Wording {
    return then(wording, (text) => capitalised(text, speech.sentence));
  }

  /** The label of another field that a rule names, with its `[*]` taken from the field in hand. */
  counterpart(reference: Pattern, pattern: Pattern, place: FieldPlace, form: string, speech: Speech): Wording {
    const filled = (path: Pattern): PatternSegment[] =>
      reference.map((segment, at) => (typeof segment === 'symbol' ? (path[at] ?? 0) : segment));
    const wording = this.label(this.texts.classOf(filled(pattern), this.form.literals), place, form, speech);
    return typeof wording === 'string' ? wording : (path) => wording(filled(path) as Path);
  }

  /** Enumerated values by their names. */
  choices(values: readonly unknown[], pattern: Pattern, place: FieldPlace, speech: Speech): Wording {
    const direction = directionOf(speech.sentence);
    const names = values.map((value) => {
      const key = typeof value === 'string' ? value : JSON.stringify(value);
      const entry = this.texts.choice(this.form.form.id, pattern, key, speech.locale, speech.sentence);
      const name = entry ? this.wordingOf(entry, pattern, place, speech) : valueText(value, speech.limit);
      return then(name, (text) => isolated(text, direction));
    });
    return together(names, (texts) => formattersOf(speech.sentence).list(texts, 'disjunction'));
  }

  /** The sentence where nobody wrote one. */
  neutral(pattern: Pattern, place: FieldPlace, code: string, speech: Speech): Wording {
    const around = this.trail(pattern, place, speech);
    const label = this.label(pattern, place, around === '' ? 'start' : 'base', speech);
    const formatters = formattersOf(speech.sentence);
    return (path) => {
      const words = [said(this.start(around, speech), path), said(label, path)].filter((word) => word !== '');
      return words.length === 0 ? code : `${formatters.trail(words)}: ${code}`;
    };
  }
}
