import { rawPathIn } from '../../audit/leaks.js';
import type { Kind } from '../kind.js';
import { aboutRole, textNodesOf } from '../roles.js';

export const rawPath: Kind = {
  kind: 'raw-path',
  severity: 'warning',
  about: 'A text for people names a field by its path or its name in the code, such as targets.2 or firstNight.',
  remedy: 'Write {label}, {place} or {counterpart} instead.',
  *find(context) {
    const names = new Set(
      context.subject.forms.flatMap(({ fields }) =>
        fields.flatMap(({ pattern, path }) => [
          ...(path.includes('.') ? [path] : []),
          // Words as code writes them; others are words of the language too.
          ...pattern.filter((part): part is string => typeof part === 'string' && /[a-z][A-Z]|_/.test(part)),
        ]),
      ),
    );
    for (const role of context.roles) {
      for (const { text, start } of textNodesOf(role.entry.tree)) {
        const words = text.match(/[\p{L}_][\p{L}\p{N}_.[\]*]*[\p{L}\p{N}_\]]/gu) ?? [];
        const found = words.find((word) => names.has(word)) ?? rawPathIn(text);
        if (found === undefined) continue;
        const message = `"${found}" is a name out of the code. Write {label}, {place} or {counterpart} instead.`;
        yield { kind: 'raw-path', message, ...aboutRole(role, start + Math.max(0, text.indexOf(found))) };
      }
    }
  },
};
