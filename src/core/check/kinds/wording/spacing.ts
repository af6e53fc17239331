import { MAY_HOLD } from '../../../message/may-hold.js';
import type { Kind } from '../../subject/kind.js';
import { aboutText } from '../../subject/checked-text.js';

interface Fault {
  readonly at: number;
  readonly what: string;
}

/** French sets a space that does not break before these signs, and inside its quotation marks. */
const FRENCH = /[^\s\u00a0\u202f«]( ?)[:;!?»](?=[\s\u00a0\u202f]|$)|«( ?)(?=[^\s\u00a0\u202f])/u;

const isFrench = (locale: string): boolean => /^fr\b/.test(locale);

function faultIn(text: string, locale: string): Fault | undefined {
  const double = / {2,}|[\t\n\r]/.exec(text);
  if (double) return { at: double.index, what: 'has a double space or a line break' };
  const before = / [,.;:!?](?=\s|$)/.exec(text);
  if (before && !isFrench(locale))
    return { at: before.index, what: 'has a space before a punctuation mark' };
  if (!/^fr(-FR)?$/.test(locale)) return undefined;
  const french = FRENCH.exec(text);
  return french
    ? { at: french.index, what: 'lacks the non-breaking space that French has beside : ; ! ? « »' }
    : undefined;
}

export const spacing: Kind = {
  kind: 'spacing',
  severity: 'warning',
  about:
    'A text has spaces that do not belong: double, at its ends, or not those that the language wants.',
  remedy: 'Correct the spaces at this location.',
  example: '"required": "Please  give {label}."',
  look: ({ catalogs }, report) => ({
    // French wants spaces where there may be none yet.
    needs: MAY_HOLD.space | (catalogs.some(({ locale }) => isFrench(locale)) ? MAY_HOLD.pause : 0),
    text: (checked) => {
      const { text, locale } = checked.entry;
      if (checked.entry.error) return;
      if (text !== text.trim() && text.trim() !== '') {
        const at = text.startsWith(' ') ? 0 : text.trimEnd().length;
        report({
          message: `This text ${at === 0 ? 'begins' : 'ends'} with a space. Remove it.`,
          ...aboutText(checked, at),
        });
        return;
      }
      for (const node of checked.textNodes) {
        const fault = faultIn(node.text, locale);
        if (!fault) continue;
        report({
          message: `This text ${fault.what}. Mend it.`,
          ...aboutText(checked, node.start + fault.at),
        });
        return;
      }
    },
  }),
};
