import { TRAIT } from '../message/traits.js';
import type { Kind } from './kind.js';
import type { Row } from './context.js';
import type { Purpose } from './purposes.js';
import { aboutRole } from './roles.js';

const NUMBER = /(?<![\p{L}\p{N}.,:/-])\p{Nd}+(?:[.,\u00a0\u202f' ]\p{Nd}{3})*(?![\p{L}\p{N}:/-])/gu;

/** What a number begins with, however its thousands are set off. */
const leadingDigits = (written: string): string => /^-?\d{1,3}(?=(?:\d{3})*(?:\.|$))/.exec(written)?.[0] ?? written;

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
      if (typeof value === 'number' && Math.abs(value) > 1 && !bounds.has(written)) bounds.set(written, name);
    }
  }
  return { names: bounds, beginnings: [...new Set([...bounds.keys()].map(leadingDigits))] };
}

export const numberInWords: Kind = {
  kind: 'number-in-words',
  severity: 'warning',
  about: "A text writes a bound of its rule as a number of its own; it stays wrong when the rule's bound changes.",
  remedy: 'Write the argument that the sentence names.',
  example: '"maxLength": "At most 120 characters."          // write {max}',
  texts: (_, report) => {
    const known = new Map<Purpose, Bounds>();
    return {
      needs: TRAIT.digit,
      each: (role) => {
        if (role.rows.length === 0) return;
        let bounds = known.get(role.purpose);
        if (!bounds) known.set(role.purpose, (bounds = boundsOf(role.rows)));
        if (!bounds.beginnings.some((digits) => role.entry.text.includes(digits))) return;
        for (const { text, start } of role.entry.textNodes()) {
          for (const { 0: digits, index } of text.matchAll(NUMBER)) {
            const name = bounds.names.get(digits.replace(/[^\p{Nd}]/gu, ''));
            if (name === undefined) continue;
            const message = `The text writes ${digits}, which is {${name}} of its rule. Write {${name}}, so that it changes with the rule.`;
            report({ message, ...aboutRole(role, start + index) });
          }
        }
      },
    };
  },
};
