import { MAY_HOLD } from '../../message/may-hold.js';
import { walk, type Message, type PluralNode } from '../../message/tree.js';
import type { Kind } from '../subject/kind.js';
import { aboutText, type CheckedText } from '../subject/checked-text.js';

/** Whether a message says the number of a plural around it, or the argument itself. */
function saysNumber(message: Message, name: string): boolean {
  let says = false;
  walk(message, (node) => {
    if (node.kind === 'hash') says = true;
    else if ('name' in node && node.name === name && !('cases' in node)) says = true;
  });
  return says;
}

/** Whole numbers that people meet. */
const MET = Array.from({ length: 200 }, (_, n) => n);

/** The numbers besides 1 that a language counts as one, and that no case of their own is for. */
function others({ entry, rows }: CheckedText, { name, cases, offset }: PluralNode): number[] {
  const rules = new Intl.PluralRules(entry.locale);
  // What a backend's own rule declares is a sample.
  const values = rows.map(({ use }) => (use.external ? undefined : use.params[name]));
  const isKnown = values.length > 0 && values.every((value) => typeof value === 'number');
  const exact = new Set(cases.map(({ exactly }) => exactly));
  return (isKnown ? values : MET).filter(
    (number) =>
      number - offset !== 1 && !exact.has(number) && rules.select(number - offset) === 'one',
  );
}

export const speltNumber: Kind = {
  kind: 'spelt-number',
  severity: 'warning',
  about:
    'The case "one" of a plural says no number, and its language uses it for others too: French for 0, Russian for 21.',
  remedy: 'Write # in the case, or the word in a case "=1".',
  example: '"{max, plural, one {un élément} other {# éléments}}"   // French: 0 is "one" too',
  look: (_, report) => ({
    needs: MAY_HOLD.structured,
    text: (checked) => {
      const { entry } = checked;
      for (const node of checked.caseNodes) {
        if (node.kind !== 'plural') continue;
        const one = node.cases.find(({ selector }) => selector === 'one');
        if (!one || saysNumber(one.message, node.name)) continue;
        // Where no case says the number, it stands outside of the plural, or nowhere.
        if (!node.cases.some(({ message }) => saysNumber(message, node.name))) continue;
        const [number] = others(checked, node);
        if (number === undefined) continue;
        const message = `In ${entry.locale} the case "one" is for ${number} too, and this one does not say the number. Write # in it, or make it "=1" and add a "one" with #.`;
        report({ message, ...aboutText(checked, one.start) });
      }
    },
  }),
};
