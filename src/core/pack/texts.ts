import { getOrMake } from '../base/get-or-make.js';
import { chainOfLanguage, chainWithin, sameLanguage } from '../locale/chain.js';
import type { Locale } from '../locale/tag.js';
import { opened, type Pattern } from '../path/path.js';
import { PatternTrie } from '../path/trie.js';
import type { Join } from '../rules/form.js';
import type { Phrase } from '../texts/phrase.js';
import type { Question, TextLookup } from '../texts/lookup.js';
import type { FrameName, TextKind, WordGroup } from '../texts/purpose.js';

/** Texts by what they are there for: of several in one language the first is tried first. */
export class Bag {
  private readonly entries = new Map<string, Phrase[]>();

  /** @param about the field that it is of, where it is one field's */
  constructor(readonly about?: Pattern) {}

  add(kind: TextKind, key: string, entry: Phrase): void {
    const id = `${kind} ${key}`;
    getOrMake(this.entries, id, (): Phrase[] => []).push(entry);
  }

  in(locale: Locale, kind: TextKind, key: string): readonly Phrase[] {
    return (this.entries.get(`${kind} ${key}`) ?? []).filter(
      (entry) => entry.locale === locale && !entry.error,
    );
  }
}

interface FormTexts {
  readonly own: Bag;
  readonly fields: PatternTrie<Bag>;
}

const newForm = (): FormTexts => ({ own: new Bag(), fields: new PatternTrie<Bag>() });

/** Finds texts among those that stand in one language. */
type Look = (locale: Locale) => readonly Phrase[];

/**
 * The texts of a pack. Which text is used was decided when it was written (by `texts/ladder.ts`):
 * what is left is to find the field of a path, and its text before those for all fields.
 */
export class PackTexts implements TextLookup {
  readonly version = 0;
  readonly general = new Bag();
  private readonly forms = new Map<string, FormTexts>();
  private readonly literals = new Set<string | number>();

  /** @param locales the pack's own first, then in the order in which they are asked */
  constructor(private readonly locales: Locale[]) {}

  /**
   * Says that there are texts in a language; of several the first is asked first, after the pack's
   * own.
   */
  speaks(locale: Locale): void {
    if (!this.locales.includes(locale)) this.locales.push(locale);
  }

  private form(id: string): FormTexts {
    return getOrMake(this.forms, id, newForm);
  }

  /** Where a form's texts are put, or those of one of its fields. */
  bag(form: string, field?: Pattern): Bag {
    const { own, fields } = this.form(form);
    if (!field) return own;
    for (const segment of field) if (typeof segment !== 'symbol') this.literals.add(segment);
    return fields.at(field, () => new Bag(field));
  }

  /** Says where a definition of a form stands: what is said of it is said of the place too. */
  join(form: string, { pattern, root, isChoice }: Join): void {
    this.form(form).fields.join(pattern, root, isChoice);
  }

  classOf(path: Pattern, named: ReadonlySet<string | number>): Pattern {
    return opened(path, (segment) => this.literals.has(segment) || named.has(segment));
  }

  /**
   * Returns the texts of a field: its own, the most literal field first, then those for all fields.
   */
  private looks({ form, path, keys }: Question): Look[] {
    const { own, fields } = this.form(form);
    const bags = fields.matches(path);
    const looks = (of: readonly Bag[]): Look[] =>
      keys.flatMap((key) =>
        of.map(
          (bag): Look =>
            (locale) =>
              bag.in(locale, 'message', key),
        ),
      );
    return [...looks(bags), ...looks([own]), ...looks([this.general])];
  }

  private found(locales: readonly Locale[], looks: readonly Look[]): Phrase[] {
    return locales.flatMap((locale) => looks.flatMap((look) => look(locale)));
  }

  messages(question: Question): readonly Phrase[] {
    const looks = this.looks(question);
    const [first] = this.found(this.locales, looks);
    return first ? this.found(this.ofLanguage(first.locale), looks) : [];
  }

  inline({ details: { inline } }: Phrase): Phrase | undefined {
    return inline?.error ? undefined : inline;
  }

  private within(sentence: Locale): readonly Locale[] {
    return chainWithin(this.locales, (one) => sameLanguage(one, sentence));
  }

  private ofLanguage(sentence: Locale): readonly Locale[] {
    return chainOfLanguage(this.locales, sentence, (one) => sameLanguage(one, sentence));
  }

  private ofField(
    form: string,
    path: Pattern,
    kind: TextKind,
    key: string,
    sentence: Locale,
  ): Phrase | undefined {
    const bags = [form, ''].flatMap((one) => this.form(one).fields.matches(path, kind === 'label'));
    return this.found(
      this.within(sentence),
      bags.map(
        (bag): Look =>
          (locale) =>
            bag.in(locale, kind, key),
      ),
    )[0];
  }

  label(form: string, path: Pattern, _: Locale, sentence: Locale): Phrase | undefined {
    return this.ofField(form, path, 'label', '', sentence);
  }

  choice(
    form: string,
    path: Pattern,
    value: string,
    _: Locale,
    sentence: Locale,
  ): Phrase | undefined {
    return this.ofField(form, path, 'choice', value, sentence);
  }

  private ofForm(
    locales: readonly Locale[],
    form: string,
    kind: TextKind,
    key: string,
  ): Phrase | undefined {
    return this.found(
      locales,
      [this.form(form).own, this.general].map(
        (bag): Look =>
          (locale) =>
            bag.in(locale, kind, key),
      ),
    )[0];
  }

  word(
    form: string,
    group: WordGroup,
    name: string,
    _: Locale,
    sentence: Locale,
  ): Phrase | undefined {
    return this.ofForm(this.within(sentence), form, 'word', `${group} ${name}`);
  }

  frame(form: string, name: FrameName, _: Locale, sentence: Locale): Phrase | undefined {
    return this.ofForm(this.ofLanguage(sentence), form, 'frame', name);
  }

  problem(form: string, id: string): ReturnType<TextLookup['problem']> {
    const of = (part: string): Phrase | undefined =>
      this.ofForm(this.locales, form, 'problem', `${id} ${part}`);
    return { title: of('title'), detail: of('detail') };
  }
}
