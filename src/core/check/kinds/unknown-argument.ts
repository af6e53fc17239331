import { getOrMake } from '../../base/get-or-make.js';
import type { Remark } from '../../finding.js';
import { PROBLEM_ARGUMENTS } from '../../body/problem-arguments.js';
import { PROBLEM_STATUSES } from '../../body/problems.js';
import type { Signature } from '../../message/signature.js';
import { MAY_HOLD } from '../../message/may-hold.js';
import { isFloating } from '../../path/path.js';
import { generalOf } from '../../rules/unnamed.js';
import { VOCABULARY } from '../../rules/vocabulary.js';
import { suggestion } from '../../text/closest.js';
import { rowsOf, type Context, type Row } from '../subject/context.js';
import type { Kind, Tell } from '../subject/kind.js';
import {
  FIELD_NAMES,
  isFormOf,
  isOffered,
  offersOf,
  placeArguments,
  ruleArguments,
} from './offers.js';
import { FRAMES, wordArguments, type FrameName } from '../../texts/purpose.js';
import type { CheckedText } from '../subject/checked-text.js';

type About = Partial<Remark>;
/**
 * The names on offer, their place, and the names whose forms and quotes are on offer too: those of
 * rules.
 */
type Offer = readonly [ReadonlySet<string>, About, ReadonlySet<string>?];

/** Returns the names that rules offer to the texts of their problems. */
function offersOfProblems({ subject }: Context): ReadonlyMap<string, ReadonlySet<string>> {
  const found = new Map<string, Set<string>>();
  for (const row of rowsOf(subject.forms))
    if (row.use.problem !== undefined) {
      const offers = getOrMake(found, row.use.problem, () => new Set<string>());
      for (const name of offersOf(row)) offers.add(name);
    }
  return found;
}

/** Returns the names on offer to a text without a rule, where they are known. */
function offersBeside(
  { kind, rows, key, field }: CheckedText,
  context: Context,
): Offer | undefined {
  if (kind === 'problem') {
    const problem = key.split(' ')[0] ?? '';
    const own = context.subject.problemArguments?.get(problem);
    const ofRules = context.once(offersOfProblems).get(problem) ?? [];
    const names = Object.hasOwn(PROBLEM_ARGUMENTS, problem)
      ? PROBLEM_ARGUMENTS[problem]
      : PROBLEM_STATUSES.has(problem)
        ? []
        : own;
    return names && [new Set([...names, ...(own ?? []), ...ofRules]), {}, new Set(ofRules)];
  }
  if (kind === 'frame') return [new Set(FRAMES[key as FrameName]), {}];
  if (kind === 'word') return [new Set(wordArguments(key)), {}];
  // A label or a choice is said of a field, not of a rule: only the places on its path are known.
  if (kind !== 'message' && kind !== 'inline')
    return field && [new Set(placeArguments(field.pattern)), { path: field.path }];
  if (rows.length > 0) return undefined;
  // A message that nothing uses yet is held against what its rule would give; one of an unknown
  // key, against nothing.
  const names = ruleArguments(key);
  const isKnown = VOCABULARY.has(key) || generalOf(key) !== undefined;
  const all = new Set([...FIELD_NAMES, ...names]);
  return isKnown ? [all, { rule: key }, all] : undefined;
}

/**
 * The fields whose label a label of a wider pattern is, where these do not have all places that it
 * names: a label for `.*` may ask for a key that `owner` has not.
 */
function* offersElsewhere(
  { kind, field, purpose, entry }: CheckedText,
  context: Context,
): Generator<Offer> {
  if (
    kind !== 'label' ||
    !field ||
    field.pattern.every((segment) => typeof segment !== 'symbol') ||
    isFloating(field.pattern)
  )
    return;
  const climber = context.texts.climber(entry.locale);
  for (const { pattern, path } of context
    .fieldsFor(field)
    .filter((one) => one.path !== field.path)) {
    const names = new Set(placeArguments(pattern));
    if ([...entry.signature.names].every((name) => names.has(name))) continue;
    for (const form of context.formsOf(field.scope)) {
      if (!context.subject.indexOf(form).form.fields.some((one) => one.path === path)) continue;
      const ladder = context.labelLadder(form.id, path, pattern);
      if (climber.purpose(ladder, climber.climb(ladder)) === purpose)
        yield [names, { form: form.id, path }];
    }
  }
}

/** Returns the first place of a text's use that does not offer an argument. */
function lacking(name: string, rows: readonly Row[], beside: Offer | undefined): Offer | undefined {
  if (beside) {
    const [names, , ofRules] = beside;
    const isForm = ofRules !== undefined && isFormOf(name, (word) => ofRules.has(word));
    return names.has(name) || isForm ? undefined : beside;
  }
  const row = rows.find((one) => !isOffered(one, name));
  return row && [offersOf(row), { form: row.form.id, path: row.field.path, rule: row.code }];
}

/** Reports the arguments of a text that not all of the places where it is used have on offer. */
function tellMissing(checked: CheckedText, context: Context, report: Tell): void {
  const { entry, rows } = checked;
  const beside = offersBeside(checked, context);
  const [elsewhere] = offersElsewhere(checked, context);
  for (const name of entry.signature.names) {
    const where =
      lacking(name, rows, beside) ?? (elsewhere?.[0].has(name) === false ? elsewhere : undefined);
    if (!where) continue;
    const [names, about] = where;
    const list = [...names].sort().join(', ');
    const place = about.path === undefined || about.path === '' ? 'here' : `for ${about.path}`;
    report({
      locale: entry.locale,
      ...about,
      message: `There is no argument {${name}} ${place}${suggestion(name, names)}. On offer: ${list || 'none'}.`,
      spot: { ...entry.origin, at: 'value', offset: entry.arguments.get(name)?.start ?? 0 },
    });
  }
}

/** Whether all arguments are such as any message of a field may have. */
function areOfFields({ names }: Signature): boolean {
  for (const name of names)
    if (!FIELD_NAMES.has(name) && !isFormOf(name, (word) => FIELD_NAMES.has(word))) return false;
  return true;
}

export const unknownArgument: Kind = {
  kind: 'unknown-argument',
  alone: true,
  severity: 'error',
  about:
    'A text asks for an argument that is not on offer where it is used; clients would read its name in braces.',
  remedy: 'Write one of the arguments that the sentence lists.',
  example: '"maxLength": "At most {maximum}."    // it is {max}',
  look: (context, report) => {
    const everywhere = new Map<Signature, boolean>();
    const isOfFields = (signature: Signature): boolean => {
      return getOrMake(everywhere, signature, () => areOfFields(signature));
    };
    return {
      needs: MAY_HOLD.argument,
      concerns: (checked) => {
        const { kind, entry, rows } = checked;
        if ((kind === 'message' || kind === 'inline') && isOfFields(entry.signature)) return false;
        const beside = offersBeside(checked, context);
        if ([...entry.signature.names].some((name) => lacking(name, rows, beside) !== undefined))
          return true;
        return kind === 'label' && [...offersElsewhere(checked, context)].length > 0;
      },
      text: (checked) => {
        tellMissing(checked, context, report);
      },
    };
  },
};
