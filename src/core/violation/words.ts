import type { Label } from '../catalog/catalog.js';
import type { Entry } from '../catalog/entry.js';
import type { Texts } from '../catalog/texts.js';
import { directionOf, type Locale } from '../locale/tag.js';
import type { Format } from '../message/compile.js';
import { formattersOf } from '../message/formatters.js';
import { isPath, printPath, type Path, type Pattern } from '../path/path.js';
import { enclosingElements, lastWord, placesOn } from '../path/places.js';
import { isolated } from '../text/direction.js';
import { capitalised, MASK, valueText } from '../text/value.js';
import type { FormIndex } from '../rules/form-index.js';
import type { FieldPlace } from '../rules/form.js';

/** The language side of a sentence: who asked, and in which locale it is written. */
export interface Speech {
  readonly locale: Locale;
  readonly sentence: Locale;
  readonly zone: string;
  /** The longest echoed value, in graphemes. */
  readonly limit: number;
}

/** The words for fields and places in one form: what the arguments of a message about a field say. */
export class Words {
  constructor(
    private readonly texts: Texts,
    private readonly form: FormIndex,
  ) {}

  private format(entry: Entry, speech: Speech): Format {
    return entry.format({ zone: speech.zone });
  }

  /** `targets_number`, `extras_key`, … for each array and map on the path. */
  places(path: Path, place: FieldPlace): Record<string, string | number> {
    const words: Record<string, string | number> = {};
    for (const { argument, at, kind } of placesOn(path, this.form.declared(path, place))) {
      const segment = path[at];
      if (segment === undefined) continue;
      // What a client calls a member of something secret is secret too.
      const hidden = kind === 'key' && this.form.isSecretAt(path.slice(0, at), place);
      words[argument] = kind === 'number' ? Number(segment) + 1 : hidden ? MASK : String(segment);
    }
    return words;
  }

  private labelAt(path: Pattern, speech: Speech): Label | undefined {
    return this.texts.label(this.form.form.id, path, speech.locale, speech.sentence);
  }

  /**
   * A label in a grammatical form. A form that the label lacks falls back to the label itself; `start` is derived from it;
   * `gender` is a key, `other` where nobody says it.
   */
  label(path: Path, place: FieldPlace, form: string, speech: Speech): string {
    const label = this.labelAt(path, speech);
    if (form === 'gender') return label?.gender ?? 'other';
    const entry = label && (label.forms.get(form) ?? label.base);
    const usable = entry?.error ? label?.base : entry;
    const text = usable ? this.format(usable, speech)(this.places(path, place)) : this.unlabelled(path, place, speech);
    return form === 'start' && !label?.forms.has('start') ? this.start(text, speech) : text;
  }

  /** What an element is called by its array's own label where it has none: "targets 3"; a field by its path's last word. */
  private unlabelled(path: Path, place: FieldPlace, speech: Speech): string {
    const last = path.at(-1);
    if (typeof last === 'number' && path.length > 1 && this.labelAt(path.slice(0, -1), speech)) {
      return `${this.label(path.slice(0, -1), place, 'base', speech)} ${formattersOf(speech.sentence).bare(last + 1)}`;
    }
    return lastWord(this.form.shownPath(path, place));
  }

  /** The elements around a value in words, from the outside: "target 3, exposure 1"; empty where there are none. */
  trail(path: Path, place: FieldPlace, speech: Speech): string {
    const elements = enclosingElements(path).map((element) => this.label(element, place, 'base', speech));
    return elements.length < 2 ? (elements[0] ?? '') : formattersOf(speech.sentence).trail(elements);
  }

  /** A word as it stands at the start of a sentence. */
  start(text: string, speech: Speech): string {
    return capitalised(text, speech.sentence);
  }

  /** The path of another field that a rule names, with its `[*]` taken from the field in hand. */
  counterpart(reference: Pattern, path: Path): Path {
    const concrete = reference.map((segment, at) => (typeof segment === 'symbol' ? (path[at] ?? 0) : segment));
    return isPath(concrete) ? concrete : [];
  }

  /** Enumerated values by their names. */
  choices(values: readonly unknown[], path: Path, place: FieldPlace, speech: Speech): string {
    const names = values.map((value) => {
      const key = typeof value === 'string' ? value : JSON.stringify(value);
      const entry = this.texts.choice(this.form.form.id, path, key, speech.locale, speech.sentence);
      const name = entry ? this.format(entry, speech)(this.places(path, place)) : valueText(value, speech.limit);
      return isolated(name, directionOf(speech.sentence));
    });
    return formattersOf(speech.sentence).list(names, 'disjunction');
  }

  /** The sentence where nobody wrote one. */
  neutral(path: Path, place: FieldPlace, code: string, speech: Speech): string {
    return `${this.label(path, place, 'start', speech) || printPath(this.form.shownPath(path, place))}: ${code}`;
  }
}
