import type { Kind } from '../kind.js';
import { aboutRole, textNodesOf } from '../roles.js';

const MARKUP = /<\/?[a-z][a-z0-9]*(?:\s[^<>]*)?\/?>|&(?:[a-z]+|#\d+);/i;

export const markup: Kind = {
  kind: 'markup',
  severity: 'warning',
  about: 'A text holds tags or entities of HTML; all shapes show them as they stand, and `html` escapes them.',
  remedy: 'Take them out: how texts look is for whoever shows them.',
  *find(context) {
    for (const role of context.roles) {
      for (const { text, start } of textNodesOf(role.entry.tree)) {
        const found = MARKUP.exec(text);
        if (!found) continue;
        const message = `"${found[0]}" is markup, and people would read it as it stands. Take it out.`;
        yield { kind: 'markup', message, ...aboutRole(role, start + found.index) };
      }
    }
  },
};
