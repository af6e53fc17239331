import { getOrMake } from '../base/get-or-make.js';
import { typeUri, type AnswerOptions } from '../body/answer.js';
import { PROBLEM_ARGUMENTS } from '../body/problem-arguments.js';
import { ERROR_STATUSES } from '../body/status-phrases.js';
import { TELLS_WHETHER } from '../body/problems.js';
import { sameLanguage } from '../locale/chain.js';
import { directionOf, type Locale } from '../locale/tag.js';
import { fillMessage } from '../message/fill.js';
import { saidOf } from '../message/compile.js';
import { walk, type Message, type MessageNode } from '../message/tree.js';
import { ANY_KEY, printPath, type Pattern } from '../path/path.js';
import { FormIndex } from '../rules/form-index.js';
import { samplePathIn } from '../rules/sample-path.js';
import { codeOf, keysOf, type Field, type Form, type RuleUse } from '../rules/form.js';
import { UNNAMED, withStandIns } from '../rules/unnamed.js';
import type { Entry } from '../texts/entry.js';
import type { Texts } from '../texts/ladder.js';
import { prepareArguments, type Setting } from '../violation/arguments.js';
import { sampleViolation } from '../violation/samples.js';
import { declaredBy, Sentences } from '../violation/sentence.js';
import { said, type Speech, Words } from '../violation/words.js';
import {
  listsOf,
  numbersOf,
  type ByField,
  type PlainField,
  type PlainInline,
  type PlainLanguage,
  type PlainProblem,
  type PlainSentence,
  type PlainSettings,
  type SentencePack,
} from './plain.js';
import { fieldPlaces, type FieldPlaces } from './places.js';
import { fieldKey, isSame, problemKey, type Unsimple } from './left-out.js';
import { BASES, markedPath, openPositions, unmarked } from './marks.js';
import { narrowerPatterns } from './written-at.js';
import { NotSimple, type SentenceWriter } from './writers.js';
import { keyed } from '../base/keyed.js';

export interface SentenceSource {
  readonly forms: readonly Form[];
  readonly texts: Texts;
  readonly options: AnswerOptions;
  readonly settings: PlainSettings;
}

/** Arguments that hang on what a request holds, whatever the rules declare. */
const ASKED = new Set(['value', 'actual', 'first', 'second']);
const ABOUT_VALUES = /^(?:value|name|text)_quoted$/;

const unquoted = (name: string): string => name.replace(/_quoted$/, '');

type ByCode = Record<string, PlainSentence>;

/** Stands for the code of a rule. */
const CODE = '\uE002';

export class SentencePacker {
  readonly unsimple: Unsimple[] = [];
  /** How many sentences there are, and how many of them need no case. */
  readonly count = { all: 0, simple: 0 };
  private readonly own: PlainLanguage;
  /** The others that sentences are in. */
  private readonly languages = new Map<Locale, PlainLanguage>();

  constructor(
    private readonly source: SentenceSource,
    private readonly locale: Locale,
    private readonly writer: SentenceWriter,
  ) {
    this.own = this.language(locale);
  }

  /** Whose numbers and dates a text has: the pack's own where that speaks the same language. */
  private writtenIn({ locale }: Entry): Locale {
    return sameLanguage(locale, this.locale) ? this.locale : locale;
  }

  private filled(entry: Entry, setting: Setting, base: number): Message {
    const { pattern, part: part, form, use } = setting;
    const names = entry.signature.names;
    const { early, placed, late } = prepareArguments(names, setting, entry);
    const path = markedPath(pattern, base);
    const positions = openPositions(form, pattern, part);
    // The name of a member of something secret is hidden whatever it is, so it is no slot.
    const own = new Set(
      [...positions].flatMap(([at, name]) =>
        pattern[at] === ANY_KEY && form.isSecretAt(pattern.slice(0, at), part) ? [] : [name],
      ),
    );
    const known = new Map<string, unknown>(Object.entries(early));
    for (const [name, word] of placed) if (!own.has(name)) known.set(name, word(path));
    const params = use ? declaredBy(use) : {};
    const violation = { path: printPath(path), rule: setting.rule, params };
    for (const [name, work] of late) {
      if (ASKED.has(name) || ABOUT_VALUES.test(name) || own.has(unquoted(name))) continue;
      const value = work(violation, params, path);
      if (value !== undefined) known.set(name, value);
    }
    const filled = fillMessage(
      entry.tree,
      this.writtenIn(entry),
      (name) => known.get(name),
      this.source.options.zone,
    );
    const back = (message: Message): Message =>
      message.flatMap((node): readonly MessageNode[] => {
        if (node.kind === 'text')
          return unmarked(node.text, pattern, positions, base, this.writtenIn(entry));
        if (!('cases' in node)) return [node];
        return [
          { ...node, cases: node.cases.map((one) => ({ ...one, message: back(one.message) })) },
        ];
      });
    return back(filled);
  }

  /** The sentence of a message at the fields of a pattern. */
  private sentence(entry: Entry, setting: Setting): PlainSentence {
    const [first, second] = BASES.map((base) =>
      this.writer.sentence(this.filled(entry, setting, base)),
    );
    // Were a label to choose words by the number of its element, the two would differ.
    if (JSON.stringify(first) !== JSON.stringify(second))
      throw new NotSimple('a label in it hangs on the number of its element');
    return this.spoken(first ?? '', this.writtenIn(entry));
  }

  /**
   * Returns a sentence, with its language where values of a request are written in another way
   * there.
   */
  private spoken(sentence: PlainSentence, locale: Locale): PlainSentence {
    if (locale === this.locale) return sentence;
    const language = getOrMake(this.languages, locale, () => this.language(locale));
    return JSON.stringify(language) === JSON.stringify(this.own) ? sentence : { locale, sentence };
  }

  private language(locale: Locale): PlainLanguage {
    const quoted = this.quoted(locale);
    return {
      direction: directionOf(locale),
      numbers: numbersOf(locale),
      lists: listsOf(locale),
      quoted,
      ...this.writer.language(locale),
    };
  }

  private keep(
    into: Record<string, PlainSentence>,
    code: string,
    about: Omit<Unsimple, 'why'>,
    make: () => PlainSentence,
  ): void {
    // Of several uses under one code the first is what it says.
    if (Object.hasOwn(into, code)) return;
    const made = this.simple(about, make);
    if (made === undefined) return;
    into[code] = made;
    this.counted(made);
  }

  /** Returns a sentence; undefined, and noted, where it cannot be written. */
  private simple(
    about: Omit<Unsimple, 'why'>,
    make: () => PlainSentence,
  ): PlainSentence | undefined {
    try {
      return make();
    } catch (error) {
      if (!(error instanceof NotSimple)) throw error;
      const left = { ...about, why: error.message };
      if (!this.unsimple.some((one) => isSame(one, left))) this.unsimple.push(left);
      return undefined;
    }
  }

  private counted(made: PlainSentence): void {
    this.count.all += 1;
    const bare = typeof made === 'object' && 'sentence' in made ? made.sentence : made;
    if (typeof bare === 'string') this.count.simple += 1;
  }

  /**
   * Whether a message asks for something that only a violation has, besides the places on its path.
   */
  private asksViolation(entry: Entry, setting: Setting): boolean {
    const places = new Set(openPositions(setting.form, setting.pattern, setting.part).values());
    let asks = false;
    walk(this.filled(entry, setting, BASES[0]), (node) => {
      if ('name' in node && !places.has(unquoted(node.name))) asks = true;
    });
    return asks;
  }

  private use(
    form: FormIndex,
    [words, sentences]: readonly [Words, Sentences],
    pattern: Pattern,
    field: Field,
    use: RuleUse,
    into: [ByCode, Record<string, PlainInline>],
  ): void {
    const { texts } = this.source;
    const code = codeOf(use);
    const question = { form: form.form.id, path: pattern, keys: keysOf(use) };
    // What a violation lacks is known when it comes: then the next text is said.
    const groups = withStandIns(question.keys).map((keys) =>
      texts.messages({ ...question, keys }, this.locale),
    );
    const [own = []] = groups;
    const about = { form: form.form.id, place: { pattern, in: field.in }, code };
    const sample = sampleViolation(field, use, samplePathIn(form.form, pattern, field.in));
    // A text that asks for something that no request has is never said: the next one is.
    const isSaid = (entry: Entry): boolean => {
      const { names } = entry.signature;
      const args = sentences.argumentsFor(sample, names, this.locale, entry);
      return saidOf(entry.format(this.source.options, this.locale), args).lacking === undefined;
    };
    const settingOf = (entry: Entry): Setting => {
      const speech = { ...this.speech, sentence: this.writtenIn(entry) };
      return { form, pattern, part: field.in, rule: use.rule, use, words, speech };
    };
    if (Object.hasOwn(into[0], code)) return;
    const whole: PlainSentence[] = [];
    const inlines: (PlainSentence | null)[] = [];
    for (const entry of groups.flat().filter(isSaid)) {
      const made: Record<string, PlainSentence> = keyed();
      const setting = settingOf(entry);
      this.keep(made, 'whole', about, () => this.sentence(entry, setting));
      if (made.whole === undefined) continue;
      const beside = own.includes(entry) ? texts.inline(entry) : undefined;
      if (beside && isSaid(beside))
        this.keep(made, 'inline', about, () => this.sentence(beside, settingOf(beside)));
      whole.push(made.whole);
      inlines.push(made.inline ?? null);
      if (!this.asksViolation(entry, setting)) break;
    }
    const [only] = whole;
    if (only === undefined) return;
    into[0][code] = whole.length === 1 ? only : whole;
    const [beside] = inlines;
    if (whole.length > 1 ? inlines.some((one) => one !== null) : beside)
      into[1][code] = whole.length > 1 ? inlines : (beside ?? '');
  }

  private get speech(): Speech {
    const { zone, shorten } = this.source.options;
    return { locale: this.locale, sentence: this.locale, zone, shorten };
  }

  /**
   * A text in the marks of the language. Its place is no sentence's, so it is always written alike.
   */
  private quoted(sentence: Locale): string {
    const words = new Words(
      this.source.texts,
      new FormIndex({ id: '', partial: false, fields: [], origin: { file: '', keys: [] } }),
    );
    return said(words.quoted(CODE, { ...this.speech, sentence }), []).replace(CODE, () => '{text}');
  }

  /** Returns the sentence of a field for a rule without one: the text of `unnamed`. */
  private otherwise(
    form: FormIndex,
    words: Words,
    pattern: Pattern,
    part: Field['in'],
  ): PlainSentence | undefined {
    const question = { form: form.form.id, path: pattern, keys: [UNNAMED] };
    for (const entry of this.source.texts.messages(question, this.locale)) {
      const speech = { ...this.speech, sentence: this.writtenIn(entry) };
      const setting = { form, pattern, part, rule: UNNAMED, use: undefined, words, speech };
      const about = { form: form.form.id, place: { pattern, in: part }, code: UNNAMED };
      const made = this.simple(about, () => this.sentence(entry, setting));
      if (made !== undefined) return made;
    }
    return undefined;
  }

  private field(index: FormIndex, words: Words, pattern: Pattern, { in: part }: Field): PlainField {
    const otherwise = this.otherwise(index, words, pattern, part);
    const path = markedPath(pattern, BASES[0]);
    const hidden = path.length - index.shownPath(path, part).length;
    return {
      positions: [...openPositions(index, pattern, part).values()],
      ...(index.isSecretAt(pattern, part) ? { secret: true as const } : {}),
      ...(hidden > 0 ? { hidden } : {}),
      ...(otherwise === undefined ? {} : { otherwise }),
    };
  }

  /** Lists the keys of a field in the pack, each with the pattern that is spoken of. */
  private spokenPlaces(
    form: Form,
    { exact, anywhere }: FieldPlaces,
    part: Field['in'],
  ): (readonly [key: string, pattern: Pattern])[] {
    const keyOf = (pattern: Pattern): string => fieldKey(pattern, part);
    return [
      ...exact.flatMap((place) =>
        [place, ...narrowerPatterns(this.source.texts, form.id, place)].map(
          (pattern) => [keyOf(pattern), pattern] as const,
        ),
      ),
      ...anywhere.map(([key, pattern]) => [keyOf(key), pattern] as const),
    ];
  }

  private form(
    form: Form,
  ): [ByField<PlainSentence>, ByField<PlainInline>, Record<string, PlainField>] {
    const index = new FormIndex(form);
    const words = new Words(this.source.texts, index);
    const sentences = new Sentences(this.source.texts, index, this.source.options);
    const whole: Record<string, ByCode> = keyed();
    const inlines: Record<string, Record<string, PlainInline>> = keyed();
    const fields: Record<string, PlainField> = keyed();
    const placesOf = fieldPlaces(form);
    for (const field of form.fields)
      for (const [key, pattern] of this.spokenPlaces(form, placesOf(field), field.in)) {
        const own: [ByCode, Record<string, PlainInline>] = [{}, {}];
        // What is declared for a place itself goes before what its definition says there.
        const isOwn = pattern === field.pattern;
        for (const use of field.uses)
          if (isOwn || !Object.hasOwn(whole[key] ?? {}, codeOf(use)))
            this.use(index, [words, sentences], pattern, field, use, own);
        fields[key] ??= this.field(index, words, pattern, field);
        if (Object.keys(own[0]).length > 0) whole[key] = { ...whole[key], ...own[0] };
        if (Object.keys(own[1]).length > 0) inlines[key] = { ...inlines[key], ...own[1] };
      }
    return [whole, inlines, fields];
  }

  /** Which rules of a form are problems of the whole request, by field and code. */
  private becomes(form: Form): Record<string, Record<string, PlainProblem>> {
    const index = new FormIndex(form);
    const words = new Words(this.source.texts, index);
    const found: Record<string, Record<string, PlainProblem>> = keyed();
    const placesOf = fieldPlaces(form);
    const all = form.fields.flatMap((field) => {
      const { in: part, uses } = field;
      const { exact, anywhere } = placesOf(field);
      const places = [...exact.map((pattern) => [pattern, pattern] as const), ...anywhere];
      return places.flatMap(([key, pattern]) => uses.map((use) => ({ key, pattern, part, use })));
    });
    for (const { key, pattern, part, use } of all) {
      const { problem, rule } = use;
      if (problem === undefined || !this.source.options.statuses.has(problem)) continue;
      const path = fieldKey(key, part);
      const code = codeOf(use);
      const spoken: Record<string, PlainSentence> = keyed();
      const texts = this.source.texts.problem(form.id, problem, this.locale);
      for (const [name, entry] of Object.entries(texts)) {
        if (!entry || entry.signature.names.size === 0) continue;
        const speech = { ...this.speech, sentence: this.writtenIn(entry) };
        const setting = { form: index, pattern, part, rule, use, words, speech };
        const place = { pattern: key, in: part };
        const about = { form: form.id, place, code: problemKey(problem, name) };
        this.keep(spoken, name, about, () => this.sentence(entry, setting));
      }
      (found[path] ??= keyed())[code] ??= { problem, ...spoken };
    }
    return found;
  }

  private problems(): SentencePack['problems'] {
    const { texts, options } = this.source;
    const written: Record<string, SentencePack['problems'][string]> = keyed();
    for (const [id, status] of options.statuses) {
      const { title, detail } = texts.problem('', id, this.locale);
      const said: Record<string, PlainSentence> = keyed();
      const hasOwn = Object.hasOwn(PROBLEM_ARGUMENTS, id);
      for (const [part, entry] of Object.entries({ title, detail }))
        if (entry)
          this.keep(said, part, { form: '', code: problemKey(id, part) }, () =>
            // An argument that says whether something is known is `no` for problems that never know
            // it.
            this.spoken(
              this.writer.sentence(
                fillMessage(
                  entry.tree,
                  this.writtenIn(entry),
                  (name) => (!hasOwn && Object.hasOwn(TELLS_WHETHER, name) ? 'no' : undefined),
                  options.zone,
                ),
              ),
              this.writtenIn(entry),
            ),
          );
      // Without a text that can be said it has the one that HTTP has for it.
      const phrase = ERROR_STATUSES.get(status) ?? id;
      written[id] = {
        type: typeUri(id, options),
        status,
        phrase,
        title: said.title ?? phrase,
        ...(said.detail === undefined ? {} : { detail: said.detail }),
      };
    }
    return written;
  }

  /** Returns the names of secret fields, by form. */
  private secrets(): Record<string, readonly string[]> {
    const found: Record<string, readonly string[]> = keyed();
    for (const form of this.source.forms) {
      const { secretNames } = new FormIndex(form);
      if (secretNames.size > 0) found[form.id] = [...secretNames];
    }
    return found;
  }

  pack(): SentencePack {
    const forms: Record<string, ByField<PlainSentence>> = keyed();
    const inlines: Record<string, ByField<PlainInline>> = keyed();
    const fields: Record<string, Record<string, PlainField>> = keyed();
    for (const form of this.source.forms)
      [forms[form.id], inlines[form.id], fields[form.id]] = this.form(form);
    const problems = this.problems();
    const secrets = this.secrets();
    const { locale, writer, own, languages } = this;
    return {
      sentences: 1,
      locale,
      ...own,
      ...writer.about,
      ...(own.icu === undefined ? {} : { zone: this.source.options.zone }),
      longest: this.source.options.shorten,
      ...(languages.size === 0 ? {} : { locales: Object.fromEntries(languages) }),
      fields,
      ...(Object.keys(secrets).length === 0 ? {} : { secrets }),
      forms,
      inlines,
      becomes: Object.fromEntries(
        this.source.forms
          .map((form) => [form.id, this.becomes(form)] as const)
          .filter(([, fields]) => Object.keys(fields).length > 0),
      ),
      settings: this.source.settings,
      problems,
    };
  }
}
