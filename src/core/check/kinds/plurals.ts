import { keyOf, Memo } from '../../base/memo.js';
import { PLURAL_CATEGORIES } from '../../locale/plurals.js';
import type { Locale } from '../../locale/tag.js';
import { MAY_HOLD } from '../../message/may-hold.js';
import type { CasesNode, PluralNode } from '../../message/tree.js';
import type { Kind } from '../subject/kind.js';
import { aboutText, type CheckedText } from '../subject/checked-text.js';

/** Languages in which `many` begins at a million. */
const MANY_FROM_A_MILLION = new Set(['fr', 'es', 'it', 'pt', 'ca']);

const rules = new Memo<Intl.PluralRules>();

const rulesOf = (locale: Locale, type: 'cardinal' | 'ordinal'): Intl.PluralRules =>
  rules.getOrMake(keyOf(locale, type), () => new Intl.PluralRules(locale, { type }));

const categories = new Memo<readonly string[]>();

/** The plural categories of a locale, in the order in which they are written. */
export function categoriesOf(locale: Locale, type: 'cardinal' | 'ordinal'): readonly string[] {
  return categories.getOrMake(keyOf(locale, type), () => {
    const has: readonly string[] = rulesOf(locale, type).resolvedOptions().pluralCategories;
    return PLURAL_CATEGORIES.filter((category) => has.includes(category));
  });
}

function reachesAMillion({ rows }: CheckedText, { name }: PluralNode): boolean {
  return rows.some(({ use }) => Number(use.params[name]) >= 1_000_000);
}

/** Numbers that people meet, fractions and millions among them: some categories have no others. */
const MET = [
  ...Array.from({ length: 201 }, (_, n) => n),
  0.1,
  0.5,
  1.1,
  1.5,
  2.5,
  10.5,
  1000,
  1_000_000,
  2_000_000,
];

/** Whether the cases for single numbers leave nothing to a category. */
function isCoveredByNumbers(category: string, node: PluralNode, locale: Locale): boolean {
  const numbers = new Set(
    node.cases.flatMap(({ exactly }) => (exactly === undefined ? [] : [exactly])),
  );
  if (numbers.size === 0) return false;
  const select = rulesOf(locale, typeOf(node));
  return MET.every((n) => select.select(n) !== category || numbers.has(n));
}

const isPlural = (node: CasesNode): node is PluralNode => node.kind !== 'select';

const typeOf = ({ kind }: PluralNode): 'cardinal' | 'ordinal' =>
  kind === 'plural' ? 'cardinal' : 'ordinal';

/** Whether a plural has a case for a category, not only for single numbers of it. */
const hasCase = ({ cases }: PluralNode, category: string): boolean =>
  cases.some(({ exactly, selector }) => exactly === undefined && selector === category);

/** Whether no number that people meet asks for a category that a plural lacks. */
function isLeftOut(category: string, node: PluralNode, checked: CheckedText): boolean {
  const { locale } = checked.entry;
  const isOfMillions =
    category === 'many' &&
    MANY_FROM_A_MILLION.has(locale.split('-', 1)[0] ?? '') &&
    !reachesAMillion(checked, node);
  return isOfMillions || isCoveredByNumbers(category, node, locale);
}

export const pluralGap: Kind = {
  kind: 'plural-gap',
  alone: true,
  severity: 'error',
  about:
    'A plural lacks a category that the language has (CLDR); numbers of that category read wrong.',
  remedy: 'Add the cases that the sentence names.',
  example: '"{max, plural, one {# znak} other {# znaków}}"   // Polish has few and many',
  look: (_, report) => ({
    needs: MAY_HOLD.structured,
    text: (checked) => {
      for (const node of checked.caseNodes) {
        if (!isPlural(node)) continue;
        const missing = categoriesOf(checked.entry.locale, typeOf(node)).filter(
          (category) => !hasCase(node, category) && !isLeftOut(category, node, checked),
        );
        if (missing.length === 0) continue;
        const message = `The ${node.kind} of {${node.name}} has no case for ${missing.join(', ')}, which ${checked.entry.locale} has. Add ${missing.map((one) => `${one} {…}`).join(' ')}.`;
        report({ message, ...aboutText(checked, node.start) });
      }
    },
  }),
};

export const pluralExtra: Kind = {
  kind: 'plural-extra',
  alone: true,
  severity: 'warning',
  about: 'A plural has a case for a category that the language does not have; it is never used.',
  remedy: 'Remove the case.',
  example: '"{max, plural, one {# 文字} other {# 文字}}"     // Japanese has only other',
  look: (_, report) => ({
    needs: MAY_HOLD.structured,
    text: (checked) => {
      for (const node of checked.caseNodes) {
        if (!isPlural(node)) continue;
        const known = categoriesOf(checked.entry.locale, typeOf(node));
        for (const { selector, exactly, start } of node.cases) {
          if (exactly !== undefined || known.some((category) => category === selector)) continue;
          const message = `${checked.entry.locale} has no ${node.kind === 'plural' ? 'plural' : 'ordinal'} category "${selector}"; it has ${known.join(', ')}. Remove the case.`;
          report({ message, ...aboutText(checked, start) });
        }
      }
    },
  }),
};
