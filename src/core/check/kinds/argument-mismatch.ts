import type { Entry } from '../../texts/entry.js';
import type { Signature } from '../../message/signature.js';
import type { Kind } from '../subject/kind.js';
import { aboutText, type CheckedText } from '../subject/checked-text.js';

/** Ways to say the same thing: a label in whatever form, a place as a trail or a number. */
function factOf(name: string): string | undefined {
  // A key that asks for a form says nothing itself, and a subject is a label at its place.
  if (name.startsWith('has_') || /^(?:limit_(?:kind|hour|day)|choices_several)$/.test(name))
    return undefined;
  const [, fact] =
    /^(label|subject|counterpart|expected|format|choices|limit)(?:_|$)/.exec(name) ?? [];
  if (fact !== undefined) return fact === 'subject' ? 'label' : fact;
  if (name.endsWith('_quoted')) return factOf(name.slice(0, -'_quoted'.length));
  // Violations and the fields that they are of are counted instead of each other.
  if (name === 'fields') return 'count';
  if (name === 'place' || name === 'place_start' || /_number(_\d+)?$/.test(name)) return 'place';
  // They choose between words and say nothing themselves.
  return ['nested', 'bound', 'hint', 'exclusive', 'located'].includes(name) ? undefined : name;
}

const facts = new WeakMap<Signature, ReadonlySet<string>>();

/**
 * Returns the facts in a text, apart from its wording; names and places depend on the grammar of
 * the language.
 */
function factsOf({ signature }: Entry): ReadonlySet<string> {
  let ofSignature = facts.get(signature);
  if (!ofSignature) {
    const all = [...signature.names].flatMap((name) => factOf(name) ?? []);
    facts.set(
      signature,
      (ofSignature = new Set(all.filter((fact) => fact !== 'label' && fact !== 'place'))),
    );
  }
  return ofSignature;
}

const sameNames = ({ names: one }: Signature, { names: other }: Signature): boolean => {
  if (one.size !== other.size) return false;
  for (const name of one) if (!other.has(name)) return false;
  return true;
};

/** Returns the facts of the original that a translation leaves out. */
export function leftOut(original: Entry, translation: Entry): string[] {
  const facts = factsOf(translation);
  return [...factsOf(original)].filter((fact) => !facts.has(fact));
}

const listed = (names: readonly string[]): string => names.map((name) => `{${name}}`).join(', ');

export const argumentMismatch: Kind = {
  kind: 'argument-mismatch',
  severity: 'warning',
  about: 'A translation has a fact that the original lacks, or lacks one that the original has.',
  remedy: 'Use the same arguments in both; the sentence lists them.',
  example: '"maxLength": "{label} ist zu lang."  // the original has {max}',
  look: ({ subject }, report) => {
    const departures = ({
      entry,
      original,
    }: CheckedText): { dropped: string[]; added: string[] } => {
      if (!original || entry.locale === subject.original || original.error || entry.error)
        return { dropped: [], added: [] };
      const [meant, facts] = [factsOf(original), factsOf(entry)];
      return {
        dropped: [...meant].filter((fact) => !facts.has(fact)),
        added: [...facts].filter((fact) => !meant.has(fact)),
      };
    };
    return {
      concerns: ({ entry, original }) =>
        original !== undefined && !sameNames(original.signature, entry.signature),
      text: (checked) => {
        const { dropped, added } = departures(checked);
        if (dropped.length === 0 && added.length === 0) return;
        const parts = [
          ...(dropped.length > 0 ? [`leaves out ${listed(dropped)}`] : []),
          ...(added.length > 0 ? [`adds ${listed(added)}`] : []),
        ];
        report({
          message: `Against the original in ${subject.original}, this text ${parts.join(' and ')}. Bring the two in line.`,
          ...aboutText(checked),
        });
      },
    };
  },
};
