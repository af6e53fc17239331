import type { Entry } from '../catalog/entry.js';
import type { Remark } from '../finding.js';
import { PROBLEM_ARGUMENTS } from '../body/problems.js';
import { Signature } from '../message/signature.js';
import { TRAIT } from '../message/traits.js';
import { FIELD_ARGUMENTS } from '../rules/vocabulary.js';
import { suggestion } from '../text/closest.js';
import type { Row } from './context.js';
import type { Kind, Report } from './kind.js';
import { isFormOf, offersOf, placeArguments, ruleArguments } from './offers.js';
import type { Purpose } from './purposes.js';
import type { Role } from './roles.js';

type About = Partial<Remark>;
type Offer = readonly [ReadonlySet<string>, About];

const FIELD_NAMES: ReadonlySet<string> = new Set(FIELD_ARGUMENTS.map(({ name }) => name));

/**
 * Reports the arguments of a text that not all of the places where it is used have on offer.
 * @returns whether there are any
 */
function reportMissing(entry: Entry, offers: readonly Offer[], report: Report): boolean {
  let missing = false;
  for (const name of entry.signature.names) {
    const lacking = offers.find(([names]) => !names.has(name) && !isFormOf(name, names));
    if (!lacking) continue;
    missing = true;
    const [names, about] = lacking;
    const list = [...names].sort().join(', ');
    const where = about.path === undefined || about.path === '' ? 'here' : `for ${about.path}`;
    report({
      locale: entry.locale,
      ...about,
      message: `There is no argument {${name}} ${where}${suggestion(name, names)}. On offer: ${list || 'none'}.`,
      spot: { ...entry.origin, at: 'value', offset: entry.arguments.get(name)?.start ?? 0 },
    });
  }
  return missing;
}

const ofRow = (row: Row): Offer => [offersOf(row), { form: row.form.id, path: row.field.path, rule: row.code }];

/** What a message that nothing uses yet is held against: what its rule would give. One of an unknown key, against nothing. */
function offersAlone(key: string): Offer[] {
  const names = ruleArguments(key);
  return names.length === 0 ? [] : [[new Set([...FIELD_NAMES, ...names]), { rule: key }]];
}

/** Offers are the same in all locales, so they are worked out once for each list of rows. */
class Offers {
  private readonly ofPurpose = new Map<Purpose, readonly Offer[]>();
  private readonly ofRow = new WeakMap<Row, Offer>();

  of({ kind, purpose, rows, key, field }: Role): readonly Offer[] {
    if (kind === 'problem') {
      const names = Object.hasOwn(PROBLEM_ARGUMENTS, key.split(' ')[0] ?? '')
        ? PROBLEM_ARGUMENTS[key.split(' ')[0] ?? '']
        : undefined;
      return names ? [[new Set(names), {}]] : [];
    }
    // A label or a choice is said of a field, not of a rule: only the places on its path are known.
    if (kind !== 'message') return field ? [[new Set(placeArguments(field.pattern)), { path: field.path }]] : [];
    if (rows.length === 0) return offersAlone(key);
    let offers = this.ofPurpose.get(purpose);
    if (!offers) this.ofPurpose.set(purpose, (offers = rows.map((row) => this.row(row))));
    return offers;
  }

  private row(row: Row): Offer {
    let offer = this.ofRow.get(row);
    if (!offer) this.ofRow.set(row, (offer = ofRow(row)));
    return offer;
  }
}

/** Whether all arguments are such as any message of a field may have. */
function areOfFields({ names }: Signature): boolean {
  for (const name of names) if (!FIELD_NAMES.has(name) && !isFormOf(name, FIELD_NAMES)) return false;
  return true;
}

export const unknownArgument: Kind = {
  kind: 'unknown-argument',
  severity: 'error',
  about: 'A text asks for an argument that is not on offer where it is used; clients would read its name in braces.',
  remedy: 'Write one of the arguments that the sentence lists.',
  example: '"maxLength": "At most {maximum}."    // it is {max}',
  texts: (_, report) => {
    const offers = new Offers();
    const everywhere = new Map<Signature, boolean>();
    // The other locales ask for the same, nearly always, and where all of it is on offer it is so in each of them.
    const fine: Signature[] = [];
    return {
      needs: TRAIT.argument,
      each: (role) => {
        const { entry, kind, rows, purpose } = role;
        const { signature } = entry;
        if (signature === Signature.NONE || fine[purpose.id] === signature) return;
        let ofFields = everywhere.get(signature);
        if (ofFields === undefined) everywhere.set(signature, (ofFields = areOfFields(signature)));
        if (kind === 'message' && ofFields) return;
        if (kind !== 'message' || rows.length === 0) {
          reportMissing(entry, offers.of(role), report);
          return;
        }
        if (!reportMissing(entry, offers.of(role), report)) fine[purpose.id] = signature;
      },
    };
  },
};
