import { MAY_HOLD } from '../../message/may-hold.js';
import type { Kind } from '../subject/kind.js';
import type { Row } from '../subject/context.js';
import { PerPurpose } from '../subject/checked-text.js';
import { aboutText } from '../subject/checked-text.js';

const NUMBER = /(?<![\p{L}\p{N}.,:/-])\p{Nd}+(?:[.,\u00a0\u202f' ]\p{Nd}{3})*(?![\p{L}\p{N}:/-])/gu;

/** Returns the first digits of a number, however its thousands are grouped. */
const leadingDigits = (written: string): string =>
  /^-?\d{1,3}(?=(?:\d{3})*(?:\.|$))/.exec(written)?.[0] ?? written;

interface Bounds {
  /** The parameters' names, by how their numbers are written. */
  readonly names: ReadonlyMap<string, string>;
  /** One of these stands in every text that writes one of the numbers. */
  readonly beginnings: readonly string[];
}

/** The bounds of rules that a text could write as numbers of its own, by how they are written. */
function boundsOf(rows: readonly Row[]): Bounds {
  const bounds = new Map<string, string>();
  for (const { use } of rows) {
    for (const [name, value] of Object.entries(use.params)) {
      const written = String(value);
      if (typeof value === 'number' && Math.abs(value) > 1 && !bounds.has(written))
        bounds.set(written, name);
    }
  }
  return { names: bounds, beginnings: [...new Set([...bounds.keys()].map(leadingDigits))] };
}

/**
 * Whether digits stand where a number of the text may begin, and not inside a word or a code such
 * as `no-120`.
 */
function mayBegin(text: string, digits: string): boolean {
  for (let at = text.indexOf(digits); at >= 0; at = text.indexOf(digits, at + 1))
    if (at === 0 || !/[A-Za-z0-9.,:/-]/.test(text.charAt(at - 1))) return true;
  return false;
}

export const literalBound: Kind = {
  kind: 'literal-bound',
  severity: 'warning',
  about:
    "A text writes a bound of its rule as a number of its own; it stays wrong when the rule's bound changes.",
  remedy: 'Write the argument that the sentence names.',
  example: '"maxLength": "At most 120 characters."          // write {max}',
  look: (_, report) => {
    const known = new PerPurpose(({ rows }) => boundsOf(rows));
    return {
      needs: MAY_HOLD.digit,
      sorts: ['message'],
      concerns: (checked) => checked.rows.length > 0 && known.of(checked).names.size > 0,
      text: (checked) => {
        const bounds = known.of(checked);
        if (!bounds.beginnings.some((digits) => mayBegin(checked.entry.text, digits))) return;
        for (const { text, start } of checked.textNodes) {
          for (const { 0: digits, index } of text.matchAll(NUMBER)) {
            const name = bounds.names.get(digits.replace(/[^\p{Nd}]/gu, ''));
            if (name === undefined) continue;
            const message = `The text writes ${digits}, which is {${name}} of its rule. Write {${name}}, so that it changes with the rule.`;
            report({ message, ...aboutText(checked, start + index) });
          }
        }
      },
    };
  },
};
