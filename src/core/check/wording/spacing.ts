import { TRAIT } from '../../message/traits.js';
import type { Kind } from '../kind.js';
import { aboutRole } from '../roles.js';

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
  if (before && !isFrench(locale)) return { at: before.index, what: 'has a space before a punctuation mark' };
  if (!/^fr(-FR)?$/.test(locale)) return undefined;
  const french = FRENCH.exec(text);
  return french ? { at: french.index, what: 'lacks the non-breaking space that French has beside : ; ! ? « »' } : undefined;
}

export const spacing: Kind = {
  kind: 'spacing',
  severity: 'warning',
  about: 'A text has spaces that do not belong: double, at its ends, or not those that the language wants.',
  remedy: 'Mend the spaces at the place named.',
  example: '"required": "Please  give {label}."',
  texts: ({ subject }, report) => ({
    // French wants spaces where there may be none yet.
    needs: TRAIT.space | (subject.catalogs.some(({ locale }) => isFrench(locale)) ? TRAIT.pause : 0),
    each: (role) => {
      const { text, locale } = role.entry;
      if (role.entry.error) return;
      if (text !== text.trim() && text.trim() !== '') {
        const at = text.startsWith(' ') ? 0 : text.trimEnd().length;
        report({ message: `This text ${at === 0 ? 'begins' : 'ends'} with a space. Remove it.`, ...aboutRole(role, at) });
        return;
      }
      for (const node of role.entry.textNodes()) {
        const fault = faultIn(node.text, locale);
        if (!fault) continue;
        report({ message: `This text ${fault.what}. Mend it.`, ...aboutRole(role, node.start + fault.at) });
        return;
      }
    },
  }),
};
