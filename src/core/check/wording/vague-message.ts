import { VOCABULARY } from '../../rules/vocabulary.js';
import type { Kind } from '../kind.js';
import { aboutRole, textNodesOf, type Role } from '../roles.js';
import { VAGUE_WORDS } from './vague-words.js';

/** Arguments that say what is asked for; the others say where and what was given. */
const TELLING = new Set([
  'min',
  'max',
  'step',
  'choices',
  'example',
  'limit',
  'counterpart',
  'name',
  'first',
  'second',
  'expected',
  'format',
]);

function tellingOf({ rows, key }: Role): string[] {
  const rules = rows.length > 0 ? rows.map(({ use }) => use) : [{ rule: key, params: {} }];
  return rules.flatMap(({ rule, params }) => [
    ...(VOCABULARY.get(rule)?.arguments ?? []).map(({ name }) => name).filter((name) => TELLING.has(name)),
    ...(VOCABULARY.has(rule) ? [] : Object.keys(params)),
  ]);
}

export const vagueMessage: Kind = {
  kind: 'vague-message',
  severity: 'warning',
  about:
    'A message says that a value is wrong and not what would be right, although its rule knows a bound, an example or a choice.',
  remedy: 'Say what is asked for, with one of the arguments that the sentence names.',
  *find(context) {
    for (const role of context.roles) {
      const words = VAGUE_WORDS[role.entry.locale.split('-')[0] ?? ''] ?? [];
      if (role.kind !== 'message' || words.length === 0) continue;
      const telling = [...new Set(tellingOf(role))];
      if (telling.length === 0 || telling.some((name) => role.entry.arguments.has(name))) continue;
      for (const { text, start } of textNodesOf(role.entry.tree)) {
        const lower = text.toLowerCase();
        const word = words.find((one) => lower.includes(one));
        if (word === undefined) continue;
        const message = `"${word}" does not say what would be right. Say it with ${telling.map((name) => `{${name}}`).join(' or ')}.`;
        yield { kind: 'vague-message', message, ...aboutRole(role, start + lower.indexOf(word)) };
        break;
      }
    }
  },
};
