import { MAY_HOLD } from '../../../message/may-hold.js';
import type { Kind } from '../../subject/kind.js';
import { aboutText } from '../../subject/checked-text.js';

const MARKUP = /<\/?[a-z][a-z0-9]*(?:\s[^<>]*)?\/?>|&(?:[a-z]+|#\d+);/i;

export const markup: Kind = {
  kind: 'markup',
  severity: 'warning',
  about:
    'A text holds tags or entities of HTML; all shapes show them as they stand, and `html` escapes them.',
  remedy: 'Remove them: the client decides how texts look.',
  example: '"required": "<b>{label}</b> is missing."',
  look: (_, report) => ({
    needs: MAY_HOLD.markup,
    text: (checked) => {
      for (const { text, start } of checked.textNodes) {
        const found = MARKUP.exec(text);
        if (!found) continue;
        const message = `"${found[0]}" is markup, and people would read it as it stands. Take it out.`;
        report({ message, ...aboutText(checked, start + found.index) });
      }
    },
  }),
};
