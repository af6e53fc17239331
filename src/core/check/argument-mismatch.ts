import type { Entry } from '../catalog/entry.js';
import { overview } from '../catalog/overview.js';
import type { Kind } from './kind.js';
import { aboutTranslation } from './roles.js';

/** Ways to say the same thing: a label in whatever form, a place as a trail or a number. */
function factOf(name: string): string | undefined {
  if (/^label(_|$)/.test(name)) return 'label';
  if (/^counterpart(_|$)/.test(name)) return 'counterpart';
  if (name === 'place' || name === 'place_start' || /_number(_\d+)?$/.test(name)) return 'place';
  // They choose between words and say nothing themselves.
  return ['nested', 'bound', 'hint', 'exclusive', 'located'].includes(name) ? undefined : name;
}

/** What a text tells, apart from how; names and places may be left to the grammar of the language. */
const factsOf = (entry: Entry): Set<string> =>
  new Set(
    [...entry.arguments.keys()].flatMap((name) => factOf(name) ?? []).filter((fact) => fact !== 'label' && fact !== 'place'),
  );

const listed = (names: readonly string[]): string => names.map((name) => `{${name}}`).join(', ');

export const argumentMismatch: Kind = {
  kind: 'argument-mismatch',
  severity: 'warning',
  about: 'A translation tells something that the original does not, or leaves out something that it does.',
  remedy: 'Bring the two in line; which arguments each uses is in the sentence.',
  *find({ subject }) {
    for (const row of overview(subject.catalogs)) {
      const original = row.texts.get(subject.original);
      if (!original || original.error) continue;
      const meant = factsOf(original);
      for (const [locale, entry] of row.texts) {
        if (locale === subject.original || entry.error) continue;
        const facts = factsOf(entry);
        const dropped = [...meant].filter((fact) => !facts.has(fact));
        const added = [...facts].filter((fact) => !meant.has(fact));
        if (dropped.length === 0 && added.length === 0) continue;
        const parts = [
          ...(dropped.length > 0 ? [`leaves out ${listed(dropped)}`] : []),
          ...(added.length > 0 ? [`adds ${listed(added)}`] : []),
        ];
        yield {
          kind: 'argument-mismatch',
          message: `Against the original in ${subject.original}, this text ${parts.join(' and ')}. Bring the two in line.`,
          ...aboutTranslation(row, entry),
        };
      }
    }
  },
};
