import type { Remark } from '../finding.js';
import { PROBLEM_ARGUMENTS } from '../body/problems.js';
import { Signature } from '../message/signature.js';
import { TRAIT } from '../message/traits.js';
import { suggestion } from '../text/closest.js';
import type { Row } from './context.js';
import type { Kind, Report } from './kind.js';
import { FIELD_NAMES, isFormOf, isOffered, offersOf, placeArguments, ruleArguments } from './offers.js';
import type { Role } from './roles.js';

type About = Partial<Remark>;
type Offer = readonly [ReadonlySet<string>, About];

/** What is on offer to a text beside a rule, where anything is known of it. */
function offersBeside({ kind, rows, key, field }: Role): Offer | undefined {
  if (kind === 'problem') {
    const problem = key.split(' ')[0] ?? '';
    const names = Object.hasOwn(PROBLEM_ARGUMENTS, problem) ? PROBLEM_ARGUMENTS[problem] : undefined;
    return names && [new Set(names), {}];
  }
  // A label or a choice is said of a field, not of a rule: only the places on its path are known.
  if (kind !== 'message') return field && [new Set(placeArguments(field.pattern)), { path: field.path }];
  if (rows.length > 0) return undefined;
  // A message that nothing uses yet is held against what its rule would give; one of an unknown key, against nothing.
  const names = ruleArguments(key);
  return names.length === 0 ? undefined : [new Set([...FIELD_NAMES, ...names]), { rule: key }];
}

/** What lacks an argument of a text, of the places where the text is used. */
function lacking(name: string, rows: readonly Row[], beside: Offer | undefined): Offer | undefined {
  if (beside) return beside[0].has(name) || isFormOf(name, (word) => beside[0].has(word)) ? undefined : beside;
  const row = rows.find((one) => !isOffered(one, name));
  return row && [offersOf(row), { form: row.form.id, path: row.field.path, rule: row.code }];
}

/**
 * Reports the arguments of a text that not all of the places where it is used have on offer.
 * @returns whether there are any
 */
function reportMissing(role: Role, report: Report): boolean {
  const { entry, rows } = role;
  const beside = offersBeside(role);
  let missing = false;
  for (const name of entry.signature.names) {
    const where = lacking(name, rows, beside);
    if (!where) continue;
    missing = true;
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
  return missing;
}

/** Whether all arguments are such as any message of a field may have. */
function areOfFields({ names }: Signature): boolean {
  for (const name of names) if (!FIELD_NAMES.has(name) && !isFormOf(name, (word) => FIELD_NAMES.has(word))) return false;
  return true;
}

export const unknownArgument: Kind = {
  kind: 'unknown-argument',
  severity: 'error',
  about: 'A text asks for an argument that is not on offer where it is used; clients would read its name in braces.',
  remedy: 'Write one of the arguments that the sentence lists.',
  example: '"maxLength": "At most {maximum}."    // it is {max}',
  texts: (_, report) => {
    const everywhere = new Map<Signature, boolean>();
    // The other locales ask for the same, nearly always, and where all of it is on offer it is so in each of them.
    const fine: Signature[] = [];
    return {
      needs: TRAIT.argument,
      each: (role) => {
        const { entry, kind, purpose } = role;
        const { signature } = entry;
        if (signature === Signature.NONE || fine[purpose.id] === signature) return;
        let ofFields = everywhere.get(signature);
        if (ofFields === undefined) everywhere.set(signature, (ofFields = areOfFields(signature)));
        if (kind === 'message' && ofFields) return;
        if (!reportMissing(role, report)) fine[purpose.id] = signature;
      },
    };
  },
};
