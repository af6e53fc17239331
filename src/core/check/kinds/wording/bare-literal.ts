import { MAY_HOLD } from '../../../message/may-hold.js';
import type { Kind } from '../../subject/kind.js';
import { aboutText } from '../../subject/checked-text.js';

/** Arguments inserted exactly as in the request or the rule; a reader cannot see where they end. */
const LITERALS = ['name', 'text', 'value'];
const BARE = /\{(name|text|value)\}/g;
const OPENING = /["'“”„«‹「『‘‚(]\s?$/u;
const CLOSING = /^\s?["'”“»›」』’)]/u;

export const bareLiteral: Kind = {
  kind: 'bare-literal',
  severity: 'info',
  about:
    'A text inserts what stands in the request, or what a rule asks for, without quotes, so that nobody sees where it begins and ends.',
  remedy: 'Write {name_quoted}, {text_quoted} or {value_quoted}, or put quotes around it.',
  example: '"beginsWith": "{label_start} must begin with {text}."',
  look: (_, report) => ({
    needs: MAY_HOLD.argument,
    sorts: ['message', 'inline'],
    concerns: ({ entry: { signature } }) => LITERALS.some((name) => signature.names.has(name)),
    text: (checked) => {
      const { text } = checked.entry;
      for (const { 0: found, 1: name = '', index } of text.matchAll(BARE)) {
        if (OPENING.test(text.slice(0, index)) && CLOSING.test(text.slice(index + found.length)))
          continue;
        const message = `${found} stands there without quotes. Write {${name}_quoted}, which has those of the language.`;
        report({ message, ...aboutText(checked, index) });
        return;
      }
    },
  }),
};
