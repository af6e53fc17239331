import { getOrMake } from '../base/get-or-make.js';
import {
  chainOf,
  chainOfLanguage,
  chainWithin,
  sameLanguage,
  type ChainRules,
} from '../locale/chain.js';
import type { Locale } from '../locale/tag.js';
import { keyOf, Memo } from '../base/memo.js';
import { isCoveredBy, meet } from '../path/cover.js';
import {
  ANY_DEPTH,
  ANY_ELEMENT,
  isPath,
  isSharedRoot,
  opened,
  parsePattern,
  printPath,
  type Pattern,
} from '../path/path.js';
import { PatternTrie } from '../path/trie.js';
import { Climber, maySay, rungIn, WITH_DRAFTS, WITHOUT_DRAFTS, type Ladder } from './climber.js';
import type { Entry } from './entry.js';
import type { Question, TextLookup } from './lookup.js';
import { formsNamed } from './form-set.js';
import type {
  Address,
  FieldEntry,
  FrameName,
  Layer,
  Purpose,
  Scope,
  ScopeTextKind,
  WordGroup,
} from './purpose.js';
import type { Table } from './table.js';

/** The ordered places of one locale where a message is looked for. */
export const RUNGS = [
  'field-of-form',
  'field',
  'message-of-form',
  'message',
  'house',
  'starter',
] as const;
export type Rung = (typeof RUNGS)[number];

/** The rung that a message stands on. */
export function rungOf({ layer, form, field }: Purpose): Rung {
  if (layer === 'starter' || layer === 'house') return layer;
  if (field) return form === undefined ? 'field' : 'field-of-form';
  return form === undefined ? 'message' : 'message-of-form';
}

/** One rung that was looked at; `broken` where a text stands there that does not parse. */
export interface Step {
  readonly locale: Locale;
  readonly rung: Rung;
  readonly found?: Entry;
  readonly broken?: Entry;
  /** A draft that is passed over. */
  readonly draft?: Entry;
}

/** The fields of one scope, found by path. */
class FieldFinder {
  private readonly trie = new PatternTrie<FieldEntry>();
  private entered = 0;
  private last: { readonly path: Pattern; readonly covering: readonly FieldEntry[] } | undefined;

  constructor(private readonly scope: Scope) {}

  /** The fields whose patterns cover a path, most literal first. */
  covering(path: Pattern): readonly FieldEntry[] {
    const { fields } = this.scope;
    if (this.entered < fields.size) {
      // Files that were read since may name more.
      for (const field of [...fields.values()].slice(this.entered))
        this.trie.at(field.pattern, () => field);
      this.entered = fields.size;
      this.last = undefined;
    }
    // The rules of a field are mostly asked for one after the other.
    if (this.last?.path !== path) this.last = { path, covering: this.trie.matches(path) };
    return this.last.covering;
  }
}

/** A form in which definitions recur. */
export interface Graph {
  /**
   * Where a path passes definitions, as patterns below them: the outermost first.
   * @param names without those of which one of several may stand at the place itself
   */
  aliases(path: Pattern, names?: boolean): readonly Pattern[];
  /** The pattern that the form declares for a path, of the body or of a parameter. */
  general(path: Pattern): Pattern | undefined;
}

interface Inside {
  /** How many fields the scope had. */
  readonly size: number;
  readonly places: ReadonlyMap<string, readonly FieldEntry[]>;
}

/** By scope: what is entered holds for every reading that has the scope. */
const finders = new WeakMap<Scope, FieldFinder>();

/**
 * Which text is used: the ladder of every question, and the locales in which it is climbed. This
 * decides it, and nothing else.
 */
export class Texts implements TextLookup {
  private readonly chains = new Map<Locale, readonly Locale[]>();
  private readonly serving = new Memo<boolean>();
  private readonly climbers = new Map<Locale, Climber>();
  private readonly inside = new Map<Scope, Map<string, Inside>>();
  private readonly problems = new Memo<ReturnType<Texts['problem']>>();

  /** Whether drafts are said: what is looked at of a text's state. */
  readonly mask: number;

  /**
   * @param drafts whether texts that nobody has looked at are used too
   * @param graphs of forms in which definitions recur, by the forms' ids
   */
  constructor(
    readonly table: Table,
    private readonly rules: ChainRules,
    drafts = true,
    private readonly graphs: (form: string) => Graph | undefined = () => undefined,
  ) {
    this.mask = drafts ? WITH_DRAFTS : WITHOUT_DRAFTS;
  }

  /** The locales in which a text is looked for, the one asked for first. */
  chain(locale: Locale): readonly Locale[] {
    return getOrMake(this.chains, locale, () => chainOf(locale, this.rules));
  }

  /**
   * Whether a text found in `other` serves `locale` as its own: the same language, in the same
   * script.
   */
  serves(other: Locale, locale: Locale): boolean {
    if (other === locale) return true;
    return this.serving.getOrMake(`${other} ${locale}`, () => sameLanguage(other, locale));
  }

  /** See `TextLookup`. */
  classOf(path: Pattern, named: ReadonlySet<string | number>): Pattern {
    const { literals } = this.table.purposes;
    return opened(path, (segment) => literals.has(segment) || named.has(segment));
  }

  get version(): number {
    return this.table.purposes.version;
  }

  private scope(layer: Layer, form: string | undefined): Scope | undefined {
    return this.table.purposes.known(layer, form);
  }

  /** The fields of a scope whose patterns cover a path, most literal first. */
  covering(scope: Scope | undefined, path: Pattern): readonly FieldEntry[] {
    if (!scope || scope.fields.size === 0) return [];
    const finder = getOrMake(finders, scope, () => new FieldFinder(scope));
    return finder.covering(path);
  }

  /**
   * Returns the entries that cover a place of a form: those of the place itself, then those of
   * definitions that stand there.
   */
  private coveringAt(
    scope: Scope | undefined,
    path: Pattern,
    aliases: readonly Pattern[],
  ): readonly FieldEntry[] {
    const own = this.covering(scope, path);
    if (aliases.length === 0 || !scope || scope.fields.size === 0) return own;
    return [...new Set([...own, ...aliases.flatMap((alias) => this.covering(scope, alias))])];
  }

  /** Returns the written scopes: of the form, of sets of forms that it is in, of all forms. */
  private written(form: string): (Scope | undefined)[] {
    return [...this.table.purposes.writtenFor(form), this.scope('written', undefined)];
  }

  /** Returns the scopes below all written ones: the house, the starter. */
  private shipped(): (Scope | undefined)[] {
    return [this.scope('house', undefined), this.scope('starter', undefined)];
  }

  /** From the top: what is written, the titles of the form's schema, the house, the starter. */
  private scopes(form: string): (Scope | undefined)[] {
    return [...this.written(form), this.scope('title', form), ...this.shipped()];
  }

  /** The fields of a scope that have some of a pattern's paths, and not all. */
  touching(scope: Scope | undefined, pattern: Pattern): readonly FieldEntry[] {
    if (!scope || isPath(pattern)) return [];
    return this.mayTouch(scope, pattern).filter(
      (field) => meet(pattern, field.pattern) !== undefined && !isCoveredBy(field.pattern, pattern),
    );
  }

  private mayTouch({ fields, placed, shallow }: Scope, pattern: Pattern): readonly FieldEntry[] {
    // A path with `..` has none of those of a path without, or all of them.
    if (pattern.includes(ANY_DEPTH)) return [...fields.values()];
    // What is narrower than one that leaves only places open has to name a place.
    const isOpenKey = (segment: Pattern[number]): boolean =>
      typeof segment === 'symbol' && segment !== ANY_ELEMENT && !isSharedRoot(segment);
    return pattern.some(isOpenKey) ? shallow : placed;
  }

  /**
   * Returns the narrower patterns in texts: those that name a place or key that the pattern leaves
   * open, and for one below a definition the places where the definition stands.
   * @param matters whether texts at such a place matter
   */
  narrower(
    form: string,
    pattern: Pattern,
    matters: (field: FieldEntry) => boolean = () => true,
  ): Pattern[] {
    const found = new Map<string, Pattern>();
    for (const scope of this.scopes(form)) {
      for (const field of this.touching(scope, pattern)) {
        const shared = meet(pattern, field.pattern);
        if (shared) found.set(printPath(shared), shared);
      }
      // A place inside of a definition that recurs is one of those that the definition's field
      // stands for.
      if (scope && isSharedRoot(pattern[0]))
        for (const field of this.insideOf(form, scope).get(printPath(pattern)) ?? [])
          if (matters(field)) found.set(field.path, field.pattern);
    }
    return [...found.values()];
  }

  /**
   * The fields of a scope that stand inside of definitions, by the patterns below these that they
   * are places of.
   */
  private insideOf(form: string, scope: Scope): ReadonlyMap<string, readonly FieldEntry[]> {
    const byForm = getOrMake(this.inside, scope, () => new Map());
    const known = byForm.get(form);
    const { size } = scope.fields;
    if (known?.size === size) return known.places;
    const places = new Map<string, FieldEntry[]>();
    const graph = this.graphs(form);
    for (const field of graph ? scope.fields.values() : [])
      for (const alias of graph?.aliases(field.pattern) ?? []) {
        const general = printPath(graph?.general(alias) ?? alias);
        getOrMake(places, general, () => []).push(field);
      }
    byForm.set(form, { size, places });
    return places;
  }

  /**
   * The ladder of a message, as far as files are read; the columns that it is climbed in must be.
   */
  messageLadder({ form, path, keys }: Question, kind: 'message' | 'inline' = 'message'): Ladder {
    const ladder: Purpose[] = [];
    const aliases = this.graphs(form)?.aliases(path) ?? [];
    // What anybody nearer says of all fields goes before what others say of this one.
    for (const scopes of [this.written(form), ...this.shipped().map((scope) => [scope])]) {
      for (const scope of scopes) {
        const fields = this.coveringAt(scope, path, aliases);
        for (const key of fields.length > 0 ? keys : []) {
          for (const field of fields) {
            const purpose = field.known(kind, key);
            if (purpose) ladder.push(purpose);
          }
        }
      }
      for (const scope of scopes) {
        for (const key of keys) {
          const purpose = scope?.known(kind, key);
          if (purpose) ladder.push(purpose);
        }
      }
    }
    return ladder;
  }

  /**
   * The ladder of a text of a field that is not a message: of its label, or of the name of a value.
   */
  private fieldLadder(form: string, path: Pattern, kind: 'label' | 'choice', key: string): Ladder {
    const ladder: Purpose[] = [];
    const aliases = this.graphs(form)?.aliases(path, kind === 'label') ?? [];
    for (const scope of this.scopes(form)) {
      for (const field of this.coveringAt(scope, path, aliases)) {
        const purpose = field.known(kind, key);
        if (purpose) ladder.push(purpose);
      }
    }
    return ladder;
  }

  /** The ladder of a field's label. */
  labelLadder(form: string, path: Pattern): Ladder {
    return this.fieldLadder(form, path, 'label', '');
  }

  /** The ladder of the name of a value. */
  choiceLadder(form: string, path: Pattern, value: string): Ladder {
    return this.fieldLadder(form, path, 'choice', value);
  }

  /** The ladder of a text of a problem. */
  problemLadder(form: string, id: string, part: 'title' | 'detail'): Ladder {
    return this.scopeLadder(form, 'problem', `${id} ${part}`);
  }

  /** The ladder of a text of no field. */
  private scopeLadder(form: string, kind: ScopeTextKind, key: string): Ladder {
    return this.scopes(form).flatMap((scope) => scope?.known(kind, key) ?? []);
  }

  /**
   * The ladder behind a text: the purposes that may answer where it stands, it first.
   * @param address of one form, of a set of forms (whose first is asked for), or of none
   */
  ladderOf({ kind, form, path, key }: Address): Ladder {
    const [id = ''] = formsNamed(form ?? '');
    const pattern = parsePattern(path ?? '');
    switch (kind) {
      case 'message':
      case 'inline':
        return this.messageLadder({ form: id, path: pattern, keys: [key] }, kind);
      case 'label':
        return this.labelLadder(id, pattern);
      case 'choice':
        return this.choiceLadder(id, pattern, key);
      default:
        return this.scopeLadder(id, kind, key);
    }
  }

  /** Climbs ladders in one locale, once all files were read. */
  climber(locale: Locale): Climber {
    let climber = this.climbers.get(locale);
    if (!climber) {
      const columns = this.chain(locale).map((asked) => this.table.column(asked));
      climber = new Climber(
        columns,
        columns.map((column) => this.serves(column.locale, locale)),
        this.mask,
      );
      this.climbers.set(locale, climber);
    }
    return climber;
  }

  /** The first text along a chain; no language is read that is not needed. */
  private first(chain: readonly Locale[], ladderNow: () => Ladder): Entry | undefined {
    const { purposes } = this.table;
    let ladder: Ladder = [];
    let version = -1;
    for (const asked of chain) {
      const column = this.table.column(asked);
      // What was just read may have texts for what no other language has.
      if (version !== purposes.version) ladder = ladderNow();
      ({ version } = purposes);
      const purpose = ladder[rungIn(column, ladder, this.mask)];
      if (purpose) return column.cells[purpose.id];
    }
    return undefined;
  }

  /**
   * Climbs the ladder of a message, one step a rung, to the first that has a text (or to the end).
   */
  *steps(question: Question, locale: Locale): Generator<Step> {
    for (const asked of this.chain(locale)) {
      const column = this.table.column(asked);
      const ladder = this.messageLadder(question);
      const rungs = RUNGS.filter((rung) => rung !== 'house' || this.scope('house', undefined));
      for (const rung of rungs) {
        const here = ladder
          .filter((purpose) => rungOf(purpose) === rung)
          .flatMap(({ id }) => column.cells[id] ?? []);
        const found = here.find(({ purpose: { id } }) => maySay(column.state(id), this.mask));
        const passed = here.slice(0, found && here.indexOf(found));
        const broken = passed.find(({ error }) => error);
        const draft = passed.find(({ error }) => !error);
        yield {
          locale: asked,
          rung,
          ...(found ? { found } : {}),
          ...(broken ? { broken } : {}),
          ...(draft ? { draft } : {}),
        };
        if (found) return;
      }
    }
  }

  /** The message for a rule at a place, or nothing where nobody wrote one. */
  message(question: Question, locale: Locale): Entry | undefined {
    return this.first(this.chain(locale), () => this.messageLadder(question));
  }

  /**
   * The messages of the ladder in the language of the first, in their order: where one cannot be
   * said, the next may. Nobody is answered in another language for want of an argument.
   */
  messages(question: Question, locale: Locale): readonly Entry[] {
    const spoken = this.message(question, locale)?.locale;
    return spoken === undefined ? [] : this.all(this.ofLanguage(locale, spoken), question);
  }

  /** All texts of the ladder, those of the languages that are asked later behind. */
  whole(question: Question, locale: Locale): readonly Entry[] {
    return this.all(this.chain(locale), question);
  }

  private all(chain: readonly Locale[], question: Question): readonly Entry[] {
    return chain.flatMap((asked) => {
      const column = this.table.column(asked);
      return this.messageLadder(question).flatMap(({ id }) =>
        maySay(column.state(id), this.mask) ? (column.cells[id] ?? []) : [],
      );
    });
  }

  /**
   * A field's label, with its forms, for a sentence in `sentence`, out of the chain of `locale`.
   */
  label(form: string, path: Pattern, locale: Locale, sentence: Locale = locale): Entry | undefined {
    return this.first(this.within(locale, sentence), () => this.labelLadder(form, path));
  }

  /** The name of an enumerated value. */
  choice(
    form: string,
    path: Pattern,
    value: string,
    locale: Locale,
    sentence: Locale = locale,
  ): Entry | undefined {
    return this.first(this.within(locale, sentence), () => this.choiceLadder(form, path, value));
  }

  /** Returns the word for a value of a parameter, with its forms, as `label` does. */
  word(
    form: string,
    group: WordGroup,
    name: string,
    locale: Locale,
    sentence: Locale,
  ): Entry | undefined {
    return this.first(this.within(locale, sentence), () =>
      this.scopeLadder(form, 'word', `${group} ${name}`),
    );
  }

  /**
   * How a sentence's language joins what is inserted; nothing where it does not say, since another
   * language's way is none.
   */
  frame(form: string, name: FrameName, locale: Locale, sentence: Locale): Entry | undefined {
    return this.first(this.ofLanguage(locale, sentence), () =>
      this.scopeLadder(form, 'frame', name),
    );
  }

  /** The text of a message for beside the input, where it has one. */
  inline({ details: { inline } }: Entry): Entry | undefined {
    return inline && maySay(this.table.column(inline.locale).state(inline.purpose.id), this.mask)
      ? inline
      : undefined;
  }

  private within(locale: Locale, sentence: Locale): readonly Locale[] {
    return chainWithin(this.chain(locale), (one) => this.serves(one, sentence));
  }

  private ofLanguage(locale: Locale, sentence: Locale): readonly Locale[] {
    return chainOfLanguage(this.chain(locale), sentence, (one) => this.serves(one, sentence));
  }

  /** The texts of a problem of the whole request, each from the first place that has it. */
  problem(
    form: string,
    id: string,
    locale: Locale,
  ): { readonly title: Entry | undefined; readonly detail: Entry | undefined } {
    // Every answer asks for them.
    return this.problems.getOrMake(keyOf(locale, id, form), () => {
      const of = (part: 'title' | 'detail'): Entry | undefined =>
        this.first(this.chain(locale), () => this.problemLadder(form, id, part));
      return { title: of('title'), detail: of('detail') };
    });
  }
}
