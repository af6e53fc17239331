import { Memo } from '../../../base/memo.js';
import { VOCABULARY } from '../../../rules/vocabulary.js';
import type { Kind } from '../../subject/kind.js';
import { aboutText, PerPurpose, type CheckedText } from '../../subject/checked-text.js';
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

/** Returns the fact of an argument: `choices_listed` has the fact `choices`. */
const toldBy = (name: string): string =>
  name.replace(/_(?:words.*|listed|literal|quoted|name)$/, '');

function tellingOf({ rows, key }: CheckedText): string[] {
  const rules = rows.length > 0 ? rows.map(({ use }) => use) : [{ rule: key, params: {} }];
  return rules.flatMap(({ rule, params }) => [
    ...(VOCABULARY.get(rule)?.arguments ?? [])
      .map(({ name }) => name)
      .filter((name) => TELLING.has(name)),
    ...(VOCABULARY.has(rule) ? [] : Object.keys(params)),
  ]);
}

const known = new Memo<readonly string[]>();

const wordsOf = (locale: string): readonly string[] =>
  known.getOrMake(locale, () => VAGUE_WORDS[locale.split('-')[0] ?? ''] ?? []);

export const vagueMessage: Kind = {
  kind: 'vague-message',
  severity: 'warning',
  about:
    'A message says that a value is wrong and not what would be right, although its rule knows a bound, an example or a choice.',
  remedy: 'Say what is asked for, with one of the arguments that the sentence names.',
  example: '"pattern": "{label} is invalid."     // say {example}',
  look: (_, report) => {
    const known = new PerPurpose((checked) => new Set(tellingOf(checked)));
    return {
      sorts: ['message'],
      // A text that has one of these arguments is not vague, nor are its translations, which have
      // the same.
      concerns: (checked) => {
        const telling = known.of(checked);
        return (
          telling.size > 0 &&
          ![...checked.entry.signature.names].some((name) => telling.has(toldBy(name)))
        );
      },
      text: (checked) => {
        const words = wordsOf(checked.entry.locale);
        if (words.length === 0) return;
        const telling = known.of(checked);
        const whole = checked.entry.text.toLowerCase();
        if (!words.some((word) => whole.includes(word))) return;
        for (const { text, start } of checked.textNodes) {
          const lower = text.toLowerCase();
          const word = words.find((one) => lower.includes(one));
          if (word === undefined) continue;
          const message = `"${word}" does not say what would be right. Say it with ${[...telling].map((name) => `{${name}}`).join(' or ')}.`;
          report({ message, ...aboutText(checked, start + lower.indexOf(word)) });
          return;
        }
      },
    };
  },
};
