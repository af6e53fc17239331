import type { Found, Texts } from '../catalog/texts.js';
import type { Locale } from '../locale/tag.js';
import type { Format } from '../message/compile.js';
import type { Path } from '../path/path.js';
import { toFragment } from '../path/pointer.js';
import type { FormIndex } from '../rules/form-index.js';
import { codeOf, keysOf, type FieldPlace, type RuleUse } from '../rules/form.js';
import { prepareArguments, type Late, type Setting } from './arguments.js';
import type { Violation } from './violation.js';
import { Words } from './words.js';

/** A violation in words. */
export interface Sentence {
  readonly text: string;
  readonly case: SentenceCase;
}

/** What is the same for all violations of one rule at one place in one locale. */
export interface SentenceCase {
  readonly path: Path;
  readonly in: FieldPlace;
  /** Where it stands for a client: a JSON Pointer as a URI fragment, or the name of a parameter or header. */
  readonly pointer: string;
  readonly code: string;
  /** Where the message was found; absent where the neutral sentence stands in. */
  readonly found: Found | undefined;
  /** The use that was broken, where the form declares it. */
  readonly use: RuleUse | undefined;
  /** To sort by: the place in the document, then the rule's place among the field's. */
  readonly rank: readonly number[];
}

interface Plan extends SentenceCase {
  readonly early: Record<string, unknown>;
  readonly late: [string, Late][];
  readonly format: Format;
  /** Whether nothing but parameters can make a difference. */
  readonly sameForAll: boolean;
  sentence?: Sentence;
}

export interface SentenceOptions {
  /** The IANA zone in which instants are written. */
  readonly zone: string;
  /** The longest echoed value, in graphemes. */
  readonly limit: number;
}

const NO_PARAMS = {};

/** The form's parameters, the violation's own above them. */
function mergedParams({ params: given }: Violation, use: RuleUse | undefined): Readonly<Record<string, unknown>> {
  if (!use) return given ?? NO_PARAMS;
  return given ? { ...use.params, ...given } : use.params;
}

/** Clients choose the places in arrays, so what is remembered about paths is bounded. */
const REMEMBERED_PATHS = 4096;

/** Puts the violations of one form into words. What can be decided once for a place, rule and locale is decided once. */
export class Sentences {
  private readonly words: Words;
  private readonly plans = new Map<Locale, Map<string, Map<string, Plan>>>();

  constructor(
    private readonly texts: Texts,
    readonly form: FormIndex,
    private readonly options: SentenceOptions,
  ) {
    this.words = new Words(texts, form);
  }

  /**
   * @throws {PathSyntaxError} when the violation's path is none
   */
  say(violation: Violation, locale: Locale): Sentence {
    const plan = this.plan(violation, locale);
    // Without parameters of its own, and where the message does not speak of the value, every violation reads the same.
    if (plan.sameForAll && violation.params === undefined) {
      return (plan.sentence ??= { text: this.format(plan, violation), case: plan });
    }
    return { text: this.format(plan, violation), case: plan };
  }

  private format({ early: args, late, use, format }: Plan, violation: Violation): string {
    if (late.length > 0) {
      const params = mergedParams(violation, use);
      // They are written over those of the violation before: a sentence is finished before the next is begun.
      for (const [name, work] of late) args[name] = work(violation, params);
    }
    return format(args);
  }

  /** What arguments of these names would say in the message of a violation. */
  argumentsFor(violation: Violation, names: Iterable<string>, locale: Locale): Record<string, unknown> {
    const { found, use, path, in: place } = this.plan(violation, locale);
    const { early, late } = prepareArguments(names, this.setting(violation, path, place, use, found?.locale ?? locale, locale));
    const params = mergedParams(violation, use);
    return { ...early, ...Object.fromEntries(late.map(([name, work]) => [name, work(violation, params)])) };
  }

  private setting(
    violation: Violation,
    path: Path,
    place: FieldPlace,
    use: RuleUse | undefined,
    sentence: Locale,
    locale: Locale,
  ): Setting {
    return {
      form: this.form,
      path,
      place,
      rule: violation.rule,
      use,
      words: this.words,
      speech: { locale, sentence, ...this.options },
    };
  }

  private plan(violation: Violation, locale: Locale): Plan {
    let byPath = this.plans.get(locale);
    if (!byPath || byPath.size > REMEMBERED_PATHS) this.plans.set(locale, (byPath = new Map<string, Map<string, Plan>>()));
    let byRule = byPath.get(violation.path);
    if (!byRule) byPath.set(violation.path, (byRule = new Map<string, Plan>()));
    let key = violation.rule;
    if (violation.as !== undefined) key += ` ${violation.as}`;
    if (violation.in !== undefined) key += `@${violation.in}`;
    let plan = byRule.get(key);
    if (!plan) byRule.set(key, (plan = this.makePlan(violation, locale)));
    return plan;
  }

  private makePlan(violation: Violation, locale: Locale): Plan {
    const place = violation.in ?? 'body';
    const path = this.form.readPath(violation.path, place);
    const uses = this.form.field(path, place)?.uses ?? [];
    const at = uses.findIndex((use) => use.rule === violation.rule && (violation.as === undefined || use.as === violation.as));
    // Where several uses differ only in parameters, the first stands for the rule; the violation's own parameters win.
    const use = uses[at];
    const shown = this.form.shownPath(path, place);
    const shared = {
      path: shown,
      in: place,
      pointer: place === 'body' ? toFragment(shown) : shown.join('.'),
      code: codeOf(violation),
      use,
      rank: this.form.rank(path, place, at < 0 ? uses.length : at),
    };
    const found = this.texts.message({ form: this.form.form.id, path, keys: keysOf(violation) }, locale);
    const setting = this.setting(violation, path, place, use, found?.locale ?? locale, locale);
    if (!found) {
      const text = this.words.neutral(path, place, shared.code, setting.speech);
      return { ...shared, found, early: {}, late: [], format: () => text, sameForAll: true };
    }
    const { names } = found.entry.signature;
    const sameForAll = !names.has('value') && !names.has('actual');
    return { ...shared, found, ...prepareArguments(names.keys(), setting), format: found.entry.format(this.options), sameForAll };
  }
}
