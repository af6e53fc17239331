import { rawPathIn } from '../../../audit/leaks.js';
import { MAY_HOLD } from '../../../message/may-hold.js';
import type { Context } from '../../subject/context.js';
import type { Kind } from '../../subject/kind.js';
import { aboutText } from '../../subject/checked-text.js';

/**
 * Signs that some name out of the code has: a dot or bracket inside, an underscore, a capital
 * inside a word.
 */
const CODE = /[.[\]/]\w|_|[a-z][A-Z]/;
const WIDE = /[^\x00-\x7f]/;
const WIDE_CODE = /\p{Ll}\p{Lu}/u;

/**
 * Returns the names of fields in code: paths, and words that only code writes; other names are
 * words of the language too.
 */
const namesInCode = ({ subject }: Context): ReadonlySet<string> =>
  new Set(
    subject.forms.flatMap(({ fields }) =>
      fields.flatMap(({ pattern, path }) => [
        ...(path.includes('.') ? [path] : []),
        ...pattern.filter(
          (part): part is string => typeof part === 'string' && /[a-z][A-Z]|_/.test(part),
        ),
      ]),
    ),
  );

export const rawPath: Kind = {
  kind: 'raw-path',
  severity: 'warning',
  about:
    'A text for people names a field by its path or its name in the code, such as targets.2 or firstNight.',
  remedy: 'Write {label}, {place} or {counterpart} instead.',
  example: '"maximum": "targets.2 is too faint." // write {label}, {place}',
  look: (context, report) => {
    const names = context.once(namesInCode);
    return {
      needs: MAY_HOLD.code,
      text: (checked) => {
        for (const { text, start } of checked.textNodes) {
          if (!CODE.test(text) && !(WIDE.test(text) && WIDE_CODE.test(text))) continue;
          const words = text.match(/[\p{L}_][\p{L}\p{N}_.[\]*]*[\p{L}\p{N}_\]]/gu) ?? [];
          const found = words.find((word) => names.has(word)) ?? rawPathIn(text);
          if (found === undefined) continue;
          const message = `"${found}" is a name out of the code. Write {label}, {place} or {counterpart} instead.`;
          report({ message, ...aboutText(checked, start + Math.max(0, text.indexOf(found))) });
        }
      },
    };
  },
};
