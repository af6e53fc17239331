import { chainOf, sameLanguage, type ChainRules } from '../locale/chain.js';
import { isPseudo } from '../locale/pseudo.js';
import type { Locale } from '../locale/tag.js';
import type { Pattern } from '../path/path.js';
import { PatternTrie } from '../path/trie.js';
import type { Catalog, FieldTexts, Label, ProblemTexts } from './catalog.js';
import type { Entry } from './entry.js';
import { pseudoCatalog } from './pseudo.js';

/** The ordered places of one locale where a message is looked for. */
export const RUNGS = ['field-of-form', 'field', 'message-of-form', 'message', 'starter'] as const;
export type Rung = (typeof RUNGS)[number];

/** A message that was found, and where. */
export interface Found {
  readonly entry: Entry;
  readonly locale: Locale;
  readonly rung: Rung;
  /** The key that it stands under: the use's `as`, or its rule. */
  readonly key: string;
  /** The pattern of the field entry, on the rungs of fields. */
  readonly path?: string;
}

/** One rung that was looked at; `broken` where a text stands there that does not parse. */
export interface Step {
  readonly locale: Locale;
  readonly rung: Rung;
  readonly found?: Found;
  readonly broken?: Entry;
}

/** What is asked for: a rule's keys, the special one first, at a place of a form. */
export interface Question {
  readonly form: string;
  readonly path: Pattern;
  readonly keys: readonly string[];
}

/** The texts of one locale that hold for one form, or for all. */
class Scope {
  private readonly catalogs: Catalog[] = [];
  // Each is put together when somebody first looks there: of many locales little is asked.
  private allMessages: ReadonlyMap<string, Entry> | undefined;
  private allProblems: ReadonlyMap<string, ProblemTexts> | undefined;
  private keys: ReadonlySet<string> | undefined;
  private tried: PatternTrie<FieldTexts[]> | undefined;
  private last: { readonly path: Pattern; readonly covering: readonly FieldTexts[][] } | undefined;

  add(catalog: Catalog): void {
    this.catalogs.push(catalog);
    this.last = undefined;
  }

  get messages(): ReadonlyMap<string, Entry> {
    if (this.allMessages) return this.allMessages;
    const [only, ...others] = this.catalogs;
    if (only && others.length === 0) return (this.allMessages = only.messages);
    return (this.allMessages = new Map(this.catalogs.flatMap(({ messages }) => [...messages])));
  }

  get problems(): ReadonlyMap<string, ProblemTexts> {
    if (this.allProblems) return this.allProblems;
    const all = new Map<string, ProblemTexts>();
    for (const { problems } of this.catalogs) for (const [id, texts] of problems) all.set(id, { ...all.get(id), ...texts });
    return (this.allProblems = all);
  }

  /** Every key that some field entry has a message under; most rules have none, and then no path need be looked up. */
  get fieldKeys(): ReadonlySet<string> {
    if (this.keys) return this.keys;
    const keys = new Set<string>();
    for (const { fields } of this.catalogs) for (const { messages } of fields) for (const key of messages.keys()) keys.add(key);
    return (this.keys = keys);
  }

  private get fields(): PatternTrie<FieldTexts[]> {
    if (this.tried) return this.tried;
    const trie = new PatternTrie<FieldTexts[]>();
    // What was read last stands first, so that of two equal keys the later holds, as within one file.
    for (const { fields } of this.catalogs) for (const field of fields) trie.at(field.pattern, () => []).unshift(field);
    return (this.tried = trie);
  }

  /** The first of what `pick` gives for the entries whose patterns cover the path, most literal first. */
  pick<T>(path: Pattern, pick: (field: FieldTexts) => T | undefined): T | undefined {
    if (this.catalogs.length === 0) return undefined;
    // The rules of a field are mostly asked for one after the other.
    if (this.last?.path !== path) this.last = { path, covering: this.fields.matches(path) };
    for (const fields of this.last.covering) {
      for (const field of fields) {
        const picked = pick(field);
        if (picked !== undefined) return picked;
      }
    }
    return undefined;
  }
}

function scopeIn(scopes: Map<string, Scope>, form: string): Scope {
  let scope = scopes.get(form);
  if (!scope) scopes.set(form, (scope = new Scope()));
  return scope;
}

/** All scopes of one locale. */
class LocaleTexts {
  readonly general = new Scope();
  readonly forms = new Map<string, Scope>();
  private readonly titles = new Map<string, Scope>();
  private started: Scope | undefined;

  constructor(
    private readonly starterCatalog: () => Catalog | undefined,
    private readonly titlesOf: (form: string) => Catalog | undefined,
  ) {}

  /** Names that a schema itself gives to fields: lower than what anyone wrote into a catalog. */
  private titled(form: string): Scope {
    let scope = this.titles.get(form);
    if (!scope) {
      this.titles.set(form, (scope = new Scope()));
      const catalog = this.titlesOf(form);
      if (catalog) scope.add(catalog);
    }
    return scope;
  }

  /** The lowest rung, opened when somebody gets that far down. */
  get starter(): Scope {
    if (!this.started) {
      this.started = new Scope();
      const catalog = this.starterCatalog();
      if (catalog) this.started.add(catalog);
    }
    return this.started;
  }

  /** From the top: what is written for the form, for all forms, the starter. */
  *scopesOf(form: string): Generator<Scope> {
    const own = this.forms.get(form);
    if (own) yield own;
    yield this.general;
    yield this.titled(form);
    yield this.starter;
  }
}

type Hit = Omit<Found, 'locale' | 'rung'>;

/** Written out: a spread is slow, and this is done for every rule in many locales. */
const foundAt = ({ entry, key, path }: Hit, locale: Locale, rung: Rung): Found =>
  path === undefined ? { entry, key, locale, rung } : { entry, key, path, locale, rung };

const ignore = (): void => undefined;

function inMessages(scope: Scope | undefined, question: Question, broken: (entry: Entry) => void): Hit | undefined {
  for (const key of question.keys) {
    const entry = scope?.messages.get(key);
    if (entry?.error) broken(entry);
    else if (entry) return { entry, key };
  }
  return undefined;
}

function inFields(scope: Scope | undefined, question: Question, broken: (entry: Entry) => void): Hit | undefined {
  for (const key of question.keys) {
    if (!scope?.fieldKeys.has(key)) continue;
    const hit = scope.pick(question.path, (field): Hit | undefined => {
      const entry = field.messages.get(key);
      if (entry?.error) broken(entry);
      return entry && !entry.error ? { entry, key, path: field.path } : undefined;
    });
    if (hit) return hit;
  }
  return undefined;
}

/** The one index of all texts: the check, the explanations, the packs and the rendering all ask it. */
export class Texts {
  private readonly locales = new Map<Locale, LocaleTexts>();
  private readonly problems = new Map<Locale, Map<string, Map<string, ProblemTexts>>>();
  private readonly chains = new Map<Locale, readonly Locale[]>();
  private readonly serving = new Map<string, boolean>();

  constructor(
    private readonly catalogs: readonly Catalog[],
    /** Gives the starter catalog of a locale when it is first asked for. */
    private readonly starterOf: (locale: Locale) => Catalog | undefined,
    private readonly rules: ChainRules,
    /** Gives what a form's schema calls its fields, in a locale. */
    private readonly titlesOf: (form: string, locale: Locale) => Catalog | undefined = () => undefined,
  ) {
    for (const catalog of catalogs) {
      const texts = this.textsOf(catalog.locale);
      (catalog.form === undefined ? texts.general : scopeIn(texts.forms, catalog.form)).add(catalog);
    }
  }

  /** A pseudo-locale is made of the original's texts when it is first asked for. */
  private pseudo(locale: Locale): LocaleTexts {
    const { original } = this.rules;
    const made = (catalog: Catalog | undefined): Catalog | undefined => catalog && pseudoCatalog(catalog, locale);
    const texts = new LocaleTexts(
      () => made(this.starterOf(original)),
      (form) => made(this.titlesOf(form, original)),
    );
    for (const catalog of this.catalogs) {
      if (catalog.locale !== original) continue;
      const scope = catalog.form === undefined ? texts.general : scopeIn(texts.forms, catalog.form);
      scope.add(pseudoCatalog(catalog, locale));
    }
    return texts;
  }

  private textsOf(locale: Locale): LocaleTexts {
    let texts = this.locales.get(locale);
    if (!texts && isPseudo(locale)) this.locales.set(locale, (texts = this.pseudo(locale)));
    if (!texts)
      this.locales.set(
        locale,
        (texts = new LocaleTexts(
          () => this.starterOf(locale),
          (form) => this.titlesOf(form, locale),
        )),
      );
    return texts;
  }

  /** The locales in which a text is looked for, the one asked for first. */
  chain(locale: Locale): readonly Locale[] {
    let chain = this.chains.get(locale);
    if (!chain) this.chains.set(locale, (chain = chainOf(locale, this.rules)));
    return chain;
  }

  /** The keys that the starter catalog of a locale has messages under. */
  starterKeys(locale: Locale): readonly string[] {
    return [...this.textsOf(locale).starter.messages.keys()];
  }

  /** The messages of the starter catalog of a locale. */
  starterMessages(locale: Locale): Iterable<Entry> {
    return this.textsOf(locale).starter.messages.values();
  }

  /** Whether a text found in `other` serves `locale` as its own: the same language, in the same script. */
  serves(other: Locale, locale: Locale): boolean {
    if (other === locale) return true;
    const id = `${other} ${locale}`;
    let serves = this.serving.get(id);
    if (serves === undefined) this.serving.set(id, (serves = sameLanguage(other, locale)));
    return serves;
  }

  private rung(texts: LocaleTexts, rung: Rung, question: Question, broken: (entry: Entry) => void): Hit | undefined {
    switch (rung) {
      case 'field-of-form':
        return inFields(texts.forms.get(question.form), question, broken);
      case 'field':
        return inFields(texts.general, question, broken);
      case 'message-of-form':
        return inMessages(texts.forms.get(question.form), question, broken);
      case 'message':
        return inMessages(texts.general, question, broken);
      case 'starter':
        return inMessages(texts.starter, question, broken);
    }
  }

  /** Climbs down the ladder, one step a rung, to the first that has a text (or to the end). */
  *ladder(question: Question, locale: Locale): Generator<Step> {
    for (const asked of this.chain(locale)) {
      const texts = this.textsOf(asked);
      for (const rung of RUNGS) {
        let broken: Entry | undefined;
        const hit = this.rung(texts, rung, question, (entry) => (broken ??= entry));
        yield { locale: asked, rung, ...(hit ? { found: foundAt(hit, asked, rung) } : {}), ...(broken ? { broken } : {}) };
        if (hit) return;
      }
    }
  }

  /** The message for a rule at a place, or nothing where only the neutral sentence is left. */
  message(question: Question, locale: Locale): Found | undefined {
    // The ladder without its steps: this is asked for every rule in every locale.
    for (const asked of this.chain(locale)) {
      const texts = this.textsOf(asked);
      for (const rung of RUNGS) {
        const hit = this.rung(texts, rung, question, ignore);
        if (hit) return foundAt(hit, asked, rung);
      }
    }
    return undefined;
  }

  /**
   * The chain for words inside of a sentence: first the locales that write the sentence's own language, since a word of
   * another language inside it is worse than a plainer one.
   */
  private chainWithin(locale: Locale, sentence: Locale): readonly Locale[] {
    const chain = this.chain(locale);
    if (chain[0] !== undefined && sameLanguage(chain[0], sentence)) return chain;
    return [...chain.filter((one) => sameLanguage(one, sentence)), ...chain.filter((one) => !sameLanguage(one, sentence))];
  }

  private word<T>(
    form: string,
    path: Pattern,
    chain: readonly Locale[],
    pick: (field: FieldTexts) => T | undefined,
  ): T | undefined {
    for (const asked of chain) {
      for (const scope of this.textsOf(asked).scopesOf(form)) {
        const picked = scope.pick(path, pick);
        if (picked !== undefined) return picked;
      }
    }
    return undefined;
  }

  /** A field's label for a sentence in `sentence`, out of the chain of `locale`. */
  label(form: string, path: Pattern, locale: Locale, sentence: Locale = locale): Label | undefined {
    return this.word(form, path, this.chainWithin(locale, sentence), ({ label }) =>
      label && !label.base.error ? label : undefined,
    );
  }

  /** The name of an enumerated value. */
  choice(form: string, path: Pattern, value: string, locale: Locale, sentence: Locale = locale): Entry | undefined {
    return this.word(form, path, this.chainWithin(locale, sentence), ({ choices }) => {
      const entry = choices.get(value);
      return entry && !entry.error ? entry : undefined;
    });
  }

  /** The texts of a problem of the whole request, each from the first place that has it. */
  problem(id: string, form: string, locale: Locale): ProblemTexts {
    let byForm = this.problems.get(locale);
    if (!byForm) this.problems.set(locale, (byForm = new Map<string, Map<string, ProblemTexts>>()));
    let byId = byForm.get(form);
    if (!byId) byForm.set(form, (byId = new Map<string, ProblemTexts>()));
    let texts = byId.get(id);
    if (!texts)
      byId.set(
        id,
        (texts = { title: this.problemText(id, 'title', form, locale), detail: this.problemText(id, 'detail', form, locale) }),
      );
    return texts;
  }

  private problemText(id: string, part: 'title' | 'detail', form: string, locale: Locale): Entry | undefined {
    for (const asked of this.chain(locale)) {
      for (const scope of this.textsOf(asked).scopesOf(form)) {
        const entry = scope.problems.get(id)?.[part];
        if (entry && !entry.error) return entry;
      }
    }
    return undefined;
  }
}
