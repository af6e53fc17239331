import type { Entry } from '../catalog/entry.js';
import type { Remark } from '../finding.js';
import { PROBLEM_ARGUMENTS } from '../body/problems.js';
import { FIELD_ARGUMENTS } from '../rules/vocabulary.js';
import { suggestion } from '../text/closest.js';
import type { Row } from './context.js';
import type { Kind, Report } from './kind.js';
import { isFormOf, offersOf, placeArguments, ruleArguments } from './offers.js';
import type { Role } from './roles.js';

type About = Partial<Remark>;
type Offer = readonly [ReadonlySet<string>, About];

const FIELD_NAMES: ReadonlySet<string> = new Set(FIELD_ARGUMENTS.map(({ name }) => name));

/** The arguments of a text that not all of the places where it is used have on offer. */
function reportMissing(entry: Entry, offers: readonly Offer[], report: Report): void {
  for (const [name, { start }] of entry.arguments) {
    const lacking = offers.find(([names]) => !names.has(name) && !isFormOf(name, names));
    if (!lacking) continue;
    const [names, about] = lacking;
    const list = [...names].sort().join(', ');
    const where = about.path === undefined || about.path === '' ? 'here' : `for ${about.path}`;
    report({
      locale: entry.locale,
      ...about,
      message: `There is no argument {${name}} ${where}${suggestion(name, names)}. On offer: ${list || 'none'}.`,
      spot: { ...entry.origin, at: 'value', offset: start },
    });
  }
}

const ofRow = (row: Row): Offer => [offersOf(row), { form: row.form.id, path: row.field.path, rule: row.code }];

/** What a message that nothing uses yet is held against: what its rule would give. One of an unknown key, against nothing. */
function offersAlone(key: string): Offer[] {
  const names = ruleArguments(key);
  return names.length === 0 ? [] : [[new Set([...FIELD_NAMES, ...names]), { rule: key }]];
}

/** Offers are the same in all locales, so they are worked out once for each list of rows. */
class Offers {
  private readonly ofRows = new WeakMap<readonly Row[], readonly Offer[]>();
  private readonly ofRow = new WeakMap<Row, Offer>();

  of({ kind, rows, key, field }: Role): readonly Offer[] {
    if (kind === 'problem') {
      const names = Object.hasOwn(PROBLEM_ARGUMENTS, key.split(' ')[0] ?? '')
        ? PROBLEM_ARGUMENTS[key.split(' ')[0] ?? '']
        : undefined;
      return names ? [[new Set(names), {}]] : [];
    }
    // A label or a choice is said of a field, not of a rule: only the places on its path are known.
    if (kind !== 'message') return field ? [[new Set(placeArguments(field.pattern)), { path: field.path }]] : [];
    if (rows.length === 0) return offersAlone(key);
    let offers = this.ofRows.get(rows);
    if (!offers) this.ofRows.set(rows, (offers = rows.map((row) => this.row(row))));
    return offers;
  }

  private row(row: Row): Offer {
    let offer = this.ofRow.get(row);
    if (!offer) this.ofRow.set(row, (offer = ofRow(row)));
    return offer;
  }
}

/** Whether all arguments are such as any message of a field may have. */
function areOfFields(names: ReadonlyMap<string, unknown>): boolean {
  for (const name of names.keys()) if (!FIELD_NAMES.has(name) && !isFormOf(name, FIELD_NAMES)) return false;
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
    const known = new WeakMap<readonly Row[], Set<string>>();
    return {
      each: (role) => {
        const { entry, kind, rows } = role;
        if (entry.arguments.size === 0) return;
        if (kind === 'message' && areOfFields(entry.arguments)) return;
        if (kind !== 'message' || rows.length === 0) {
          reportMissing(entry, offers.of(role), report);
          return;
        }
        // The other locales ask for the same, nearly always, and where all of it is on offer it is so in each of them.
        const names = [...entry.arguments.keys()].join();
        let fine = known.get(rows);
        if (fine?.has(names)) return;
        const missing: Omit<Remark, 'kind'>[] = [];
        reportMissing(entry, offers.of(role), (remark) => missing.push(remark));
        missing.forEach(report);
        if (missing.length > 0) return;
        if (!fine) known.set(rows, (fine = new Set()));
        fine.add(names);
      },
    };
  },
};
