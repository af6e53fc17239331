import type { Kind } from './kind.js';
import { aboutRole, textNodesOf } from './roles.js';

export const numberInWords: Kind = {
  kind: 'number-in-words',
  severity: 'warning',
  about: "A text writes a bound of its rule as a number of its own; it stays wrong when the rule's bound changes.",
  remedy: 'Write the argument that the sentence names.',
  *find(context) {
    for (const role of context.roles) {
      const bounds = role.rows.flatMap(({ use }) =>
        Object.entries(use.params).filter(
          (entry): entry is [string, number] => typeof entry[1] === 'number' && Math.abs(entry[1]) > 1,
        ),
      );
      for (const { text, start } of bounds.length > 0 ? textNodesOf(role.entry.tree) : []) {
        for (const { 0: digits, index } of text.matchAll(
          /(?<![\p{L}\p{N}.,:/-])\p{Nd}+(?:[.,\u00a0\u202f' ]\p{Nd}{3})*(?![\p{L}\p{N}:/-])/gu,
        )) {
          const named = bounds.find(([, bound]) => String(bound) === digits.replace(/[^\p{Nd}]/gu, ''));
          if (!named) continue;
          const message = `The text writes ${digits}, which is {${named[0]}} of its rule. Write {${named[0]}}, so that it changes with the rule.`;
          yield { kind: 'number-in-words', message, ...aboutRole(role, start + index) };
        }
      }
    }
  },
};
