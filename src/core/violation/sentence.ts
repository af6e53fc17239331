import { isLongList } from './few-choices.js';
import { wordOf } from '../text/outer.js';
import { sameLanguage } from '../locale/chain.js';
import type { Locale } from '../locale/tag.js';
import { keyOf, Memo, Room } from '../base/memo.js';
import { saidOf, type Format } from '../message/compile.js';
import { printPath, type Path, type Pattern } from '../path/path.js';
import { toFragment } from '../path/pointer.js';
import type { FormIndex } from '../rules/form-index.js';
import { withStandIns } from '../rules/unnamed.js';
import { ABOUT_MEMBERS } from '../rules/about-members.js';
import { membersNamed } from '../rules/either.js';
import { codeOf, keysOf, type RequestPart, type RuleUse } from '../rules/form.js';
import type { Phrase } from '../texts/phrase.js';
import type { Question, TextLookup } from '../texts/lookup.js';
import { prepareArguments, type Prepared, type Setting } from './arguments.js';
import { PathReader, type Located } from './path-class.js';
import type { Violation } from '../rules/violation.js';
import { cleaned, MASK } from '../text/value.js';
import { unresolved, type Warn } from './warning.js';
import { Words } from './words.js';

/** A violation in words. */
export interface Sentence {
  readonly text: string;
  readonly case: SentenceCase;
  /**
   * The text beside the input, where the label stands already; present where the caller asks for it
   * and there is one.
   */
  readonly inline?: string;
  /** The places that it names besides its own: members of which some have to be given. */
  readonly members?: readonly Path[];
  /** The JSON that a part of a shape wrote for it; kept since many violations repeat. */
  written?: { readonly by: object; readonly text: string } | undefined;
}

/** Shared by all violations of one rule at one path in one locale. */
export interface SentenceCase {
  /** Where it stands, as it may be shown. */
  readonly path: Path;
  readonly in: RequestPart;
  /** Both as one, to compare by. */
  readonly where: string;
  /**
   * Where it stands for a client: a JSON Pointer as a URI fragment, or the name of a parameter or
   * header.
   */
  readonly pointer: string;
  readonly code: string;
  /** The message; absent where nobody wrote one that can be said. */
  readonly found: Phrase | undefined;
  /** The text that is said: the message, or the one that stands in for it. */
  readonly spoken: Phrase | undefined;
  /** The use that was broken, where the form declares it. */
  readonly use: RuleUse | undefined;
  /** Whether nothing stands there: that is what is wrong. */
  readonly lacks: boolean;
  /** To sort by: the place in the document, then the rule's place among the field's. */
  readonly rank: readonly number[];
}

/**
 * Shared by all violations of one rule at one class of paths in one locale: everything that is slow
 * to compute.
 */
interface Plan
  extends Saying, Pick<SentenceCase, 'in' | 'code' | 'found' | 'spoken' | 'use' | 'lacks'> {
  /** The rule's place among those of the field. */
  readonly nth: number;
  /** How many texts of the ladder were passed over. */
  readonly rung: number;
}

/** How a message is said. */
interface Saying extends Pick<Prepared, 'placed' | 'late'> {
  readonly format: Format;
  /** The arguments, still without values. */
  readonly blank: Readonly<Record<string, unknown>>;
  /** Whether nothing but parameters can make a difference. */
  readonly sameForAll: boolean;
}

/** Of a long list these name the value that is nearest to what was sent. */
const CHOICES = ['choices', 'choices_listed', 'choices_literal'];

const NOTHING_SAID: Saying = {
  placed: [],
  late: [],
  blank: {},
  format: () => '',
  sameForAll: true,
};

/** A plan at one path: little is left to do. */
interface Instance extends SentenceCase {
  readonly plan: Plan;
  readonly whole: Path;
  readonly args: Record<string, unknown>;
  /** The last sentence, and whether it has the parameters that the form declares. */
  sentence: Sentence | undefined;
  isDeclared: boolean | undefined;
  /** The last sentence with the text beside the input, where both were asked for. */
  both?: Sentence;
}

export interface SentenceOptions {
  /** The IANA zone in which instants are written. */
  readonly zone: string;
  /** The longest echoed value, in graphemes. */
  readonly shorten: number;
  /** Called with texts that could not be said. */
  readonly warn?: Warn | undefined;
  /** The memory shared with other forms; one of its own where absent. */
  readonly room?: Room | undefined;
}

type Params = Readonly<Record<string, unknown>>;

const NO_PARAMS: Params = {};

/** Returns the parameters of every violation of a use; a sample only illustrates a parameter. */
export const declaredBy = ({ external, params, constants = NO_PARAMS }: RuleUse): Params =>
  external ? constants : params;

/** The form's parameters, the violation's own above them. */
function mergedParams({ params: given }: Violation, use: RuleUse | undefined): Params {
  if (!use) return given ?? NO_PARAMS;
  const declared = declaredBy(use);
  if (!given) return declared;
  // Mostly a violation has all parameters that the form declares.
  for (const name in declared) if (!Object.hasOwn(given, name)) return { ...declared, ...given };
  return given;
}

/**
 * The member that an object should not have: it is what is wrong, so it is what the answer points
 * at.
 */
function memberOf({ rule, params }: Violation): string | undefined {
  return ABOUT_MEMBERS.has(rule) && typeof params?.name === 'string' ? params.name : undefined;
}

/** The kind of text: the whole sentence, or the text beside the input. */
type Kind = 'message' | 'inline';

/** About what these take, in bytes: their paths, arguments and functions. */
const INSTANCE = 1500;
const PLAN = 3000;

/**
 * Returns the key of a plan beside its path and locale. Nearly all plans depend on the rule alone,
 * whose name begins with a letter; keys of `keyOf` begin with a digit or a dash.
 */
function keyOfPlan(
  kind: Kind,
  { rule, as, label, in: part = 'body' }: Violation,
  rung: number,
): string {
  const isUsual =
    as === undefined &&
    !label &&
    rung === 0 &&
    kind === 'message' &&
    part === 'body' &&
    rule.charCodeAt(0) > 0x39;
  return isUsual ? rule : keyOf(rule, as, part, rung, kind, label);
}

/**
 * Puts the violations of one form into words. What can be decided once for a class of paths, rule
 * and locale is decided once; what was said of a path lately is remembered.
 */
export class Sentences {
  private readonly words: Words;
  private readonly reader: PathReader<Plan>;
  private readonly instances = new Map<Locale, Memo<Map<string, Instance>>>();
  /** The memory for paths and rules, which clients and callers choose. */
  private readonly room: Room;
  private version = -1;

  constructor(
    private readonly texts: TextLookup,
    readonly form: FormIndex,
    private readonly options: SentenceOptions,
  ) {
    this.words = new Words(texts, form);
    this.room = options.room ?? new Room();
    this.reader = new PathReader<Plan>(form, texts, this.room);
  }

  /**
   * @param asksInline whether the text beside the input is included
   * @throws {PathSyntaxError} when the violation's path is invalid
   */
  say(violation: Violation, locale: Locale, asksInline = false): Sentence {
    const whole = this.sayAs('message', violation, locale, 0);
    if (!asksInline) return whole;
    const instance = whole.case as Instance;
    const { text: inline } = this.sayAs('inline', violation, locale, instance.plan.rung);
    if (inline === '') return whole;
    const { both } = instance;
    if (both && both.text === whole.text && both.inline === inline) return both;
    return (instance.both = { ...whole, inline, written: undefined });
  }

  /** @param rung how many texts of the ladder are passed over, since they cannot be said */
  private sayAs(kind: Kind, violation: Violation, locale: Locale, rung: number): Sentence {
    const instance = this.instance(kind, violation, locale, rung);
    const { args, plan, whole, sentence } = instance;
    const { late, format, use } = plan;
    let isSame = sentence !== undefined;
    // Without parameters of its own, and where the message does not speak of the value, every
    // violation reads the same.
    if (
      late.length > 0 &&
      !(isSame && plan.sameForAll && violation.params === undefined && instance.isDeclared)
    ) {
      const params = mergedParams(violation, use);
      instance.isDeclared = use !== undefined && params === declaredBy(use);
      // They are written over those of the violation before; where they are the same, so is the
      // sentence.
      for (const [name, work] of late) {
        const value = work(violation, params, whole);
        if (isSame && args[name] !== value) isSame = false;
        args[name] = value;
      }
    }
    if (isSame && sentence) return sentence;
    const { text, lacking } = saidOf(format, args);
    const { spoken } = plan;
    if (lacking === undefined || !spoken) {
      const named = membersNamed(violation.rule, mergedParams(violation, use));
      const members = named.map((one) => [...instance.path, ...one]);
      return (instance.sentence =
        members.length === 0 ? { text, case: instance } : { text, case: instance, members });
    }
    // Nothing unresolved is ever sent: a more general text may say less, and says it.
    instance.sentence = undefined;
    const { code: rule, path } = instance;
    this.options.warn?.(
      unresolved({ argument: lacking, file: spoken.file, rule, path: printPath(path) }),
    );
    // Another message's text would not say what the whole sentence says.
    if (kind === 'inline') return { text: '', case: instance };
    return this.sayAs(kind, violation, locale, rung + 1);
  }

  /**
   * Returns the values of arguments in a text about a violation.
   * @param text the text; the violation's message where absent
   */
  argumentsFor(
    violation: Violation,
    names: Iterable<string>,
    locale: Locale,
    text?: Phrase,
  ): Record<string, unknown> {
    const { path, class: paths } = this.read(violation);
    const plan = this.plan('message', violation, { path, class: paths }, locale);
    const { use, in: part, spoken } = plan;
    const said = text ?? spoken;
    const setting = this.setting(
      violation,
      paths.pattern,
      part,
      use,
      said?.locale ?? locale,
      locale,
    );
    const { early: args, placed, late } = prepareArguments(names, setting, said);
    const params = mergedParams(violation, use);
    for (const [name, word] of placed) args[name] = word(path);
    for (const [name, work] of late) args[name] = work(violation, params, path);
    return args;
  }

  private setting(
    violation: Violation,
    pattern: Pattern,
    part: RequestPart,
    use: RuleUse | undefined,
    sentence: Locale,
    locale: Locale,
  ): Setting {
    const written = sameLanguage(sentence, locale) ? locale : sentence;
    const speech = { locale, sentence: written, ...this.options };
    return {
      form: this.form,
      pattern,
      part: part,
      rule: violation.rule,
      use,
      words: this.words,
      speech,
      label: violation.label && cleaned(violation.label),
    };
  }

  private read(violation: Violation): Located<Plan> {
    return this.reader.read(violation.path, violation.in ?? 'body');
  }

  private instance(kind: Kind, violation: Violation, locale: Locale, rung: number): Instance {
    const { version } = this.texts;
    if (version !== this.version) {
      // A language that was read since may name more paths, and then classes are others.
      this.instances.clear();
      this.reader.forget();
      this.version = version;
    }
    let byPath = this.instances.get(locale);
    if (!byPath) this.instances.set(locale, (byPath = new Memo<Map<string, Instance>>(this.room)));
    const byRule =
      byPath.get(violation.path) ?? byPath.set(violation.path, new Map<string, Instance>());
    const key = keyOfPlan(kind, violation, rung);
    // A client may make up any number of members, so these are not remembered.
    const isOpen = memberOf(violation) !== undefined;
    const known = isOpen ? undefined : byRule.get(key);
    if (known) return known;
    const made = this.makeInstance(kind, violation, locale, rung);
    // What was read on the way may name more paths: then it is decided again.
    if (this.texts.version !== version) return this.instance(kind, violation, locale, rung);
    if (!isOpen && this.room.take(key, INSTANCE)) byRule.set(key, made);
    return made;
  }

  private makeInstance(kind: Kind, violation: Violation, locale: Locale, rung: number): Instance {
    const located = this.read(violation);
    const plan = this.plan(kind, violation, located, locale, rung);
    const { in: part, code, found, spoken, use, lacks, placed, nth } = plan;
    const { path } = located;
    const around = located.class.isSecret ? this.form.shownPath(path, part) : path;
    const member = memberOf(violation);
    const shown =
      member === undefined ? around : [...around, located.class.isSecret ? MASK : member];
    // With all its names from the beginning: to add them one by one takes long.
    const args = { ...plan.blank };
    for (const [name, word] of placed) args[name] = word(path);
    return {
      plan,
      args,
      whole: path,
      path: shown,
      in: part,
      where: `${part} ${toFragment(shown)}`,
      code,
      found,
      spoken,
      use,
      lacks,
      sentence: undefined,
      isDeclared: undefined,
      pointer: part === 'body' ? toFragment(shown) : shown.join('.'),
      rank: this.form.rank(path, part, nth),
    };
  }

  private plan(
    kind: Kind,
    violation: Violation,
    located: Located<Plan>,
    locale: Locale,
    rung = 0,
  ): Plan {
    const { plans } = located.class;
    let byRule = plans.get(locale);
    if (!byRule) plans.set(locale, (byRule = new Map<string, Plan>()));
    const key = keyOfPlan(kind, violation, rung);
    let plan = byRule.get(key);
    if (!plan) {
      plan = this.makePlan(kind, violation, located.class.pattern, locale, rung);
      if (this.room.take(key, PLAN)) byRule.set(key, plan);
    }
    return plan;
  }

  /**
   * The text on a rung of the ladder. Below it stand the text of the rule without its parameters
   * and the one that is true of every violation: no client can do anything with the name of a rule.
   */
  private spoken(question: Question, locale: Locale, rung: number): Phrase | undefined {
    return withStandIns(question.keys).flatMap((keys) =>
      this.texts.messages({ ...question, keys }, locale),
    )[rung];
  }

  private makePlan(
    kind: Kind,
    violation: Violation,
    pattern: Pattern,
    locale: Locale,
    rung: number,
  ): Plan {
    const part = violation.in ?? 'body';
    const uses = this.form.field(pattern, part)?.uses ?? [];
    const at = uses.findIndex(
      (use) =>
        use.rule === violation.rule && (violation.as === undefined || use.as === violation.as),
    );
    // Where several uses differ only in parameters, the first stands for the rule; the violation's
    // own parameters win.
    const use = uses[at];
    const code = codeOf(violation);
    const lacks = violation.rule === 'required' || violation.rule === 'dependentRequired';
    const question = { form: this.form.form.id, path: pattern, keys: keysOf(violation) };
    const message = this.texts.messages(question, locale)[rung];
    const isInline = kind === 'inline';
    const found = isInline && message ? this.texts.inline(message) : message;
    // Most messages can be said: what stands in for them is not looked up then.
    const spoken = found ?? (isInline ? undefined : this.spoken(question, locale, rung));
    const setting = this.setting(violation, pattern, part, use, spoken?.locale ?? locale, locale);
    const saying = spoken
      ? this.saying(spoken, setting)
      : isInline
        ? NOTHING_SAID
        : this.subjectAlone(setting);
    const { placed, late, blank, format, sameForAll } = saying;
    // Member by member: to spread two objects takes as long as all the rest.
    return {
      in: part,
      code,
      use,
      lacks,
      nth: at < 0 ? uses.length : at,
      rung,
      found,
      spoken,
      placed,
      late,
      blank,
      format,
      sameForAll,
    };
  }

  private saying(found: Phrase, setting: Setting): Saying {
    const { names } = found.signature;
    const { early, placed, late } = prepareArguments(names, setting, found);
    const blank = Object.fromEntries([...placed, ...late].map(([name]) => [name, undefined]));
    const ofValue = [
      'value',
      'actual',
      ...(isLongList(setting.use?.params.choices) ? CHOICES : []),
    ];
    const sameForAll = !ofValue.some((name) => names.has(name));
    const format = found.formatKnowing(early, this.options, setting.speech.sentence);
    return { placed, late, blank, format, sameForAll };
  }

  /** Returns the sentence without any text: the subject, else three dots. */
  private subjectAlone(setting: Setting): Saying {
    const { early, placed, late } = prepareArguments(['subject_start'], setting);
    return {
      placed,
      late,
      blank: early,
      format: ({ subject_start: text }) => wordOf(text) || '…',
      sameForAll: true,
    };
  }
}
