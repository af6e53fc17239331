import { directionOf } from '../../../locale/tag.js';
import { MAY_HOLD } from '../../../message/may-hold.js';
import type { Kind } from '../../subject/kind.js';
import { aboutText } from '../../subject/checked-text.js';

const RTL_WORD = /[\u0590-\u08FF\uFB1D-\uFDFF\uFE70-\uFEFC]{2,}/u;
const LTR_WORD = /\p{Script=Latin}{2,}|\p{Script=Cyrillic}{2,}|\p{Script=Greek}{2,}/u;
const ISOLATED = /[\u2066-\u2068][^\u2069]*\u2069/gu;

export const mixedDirection: Kind = {
  kind: 'mixed-direction',
  severity: 'warning',
  about:
    'Words that run from the other side stand in a text without an isolate, so that signs beside them may change places.',
  remedy: 'Put them between U+2068 and U+2069; inserted arguments are isolated already.',
  example: '"required": "اكتب title هنا."',
  look: (_, report) => ({
    needs: MAY_HOLD.bothDirections,
    text: (checked) => {
      const rightToLeft = directionOf(checked.entry.locale) === 'rtl';
      const against = rightToLeft ? LTR_WORD : RTL_WORD;
      if (!against.test(checked.entry.text)) return;
      // Where nothing runs the other way there is nothing to disturb; such a text is isolated when
      // it is inserted.
      if (!(rightToLeft ? RTL_WORD : LTR_WORD).test(checked.entry.text)) return;
      for (const { text, start } of checked.textNodes) {
        // Blanks in place of what is isolated keep the offsets.
        const found = against.exec(
          text.replace(ISOLATED, (isolated) => ' '.repeat(isolated.length)),
        );
        if (!found) continue;
        const message = `"${found[0]}" runs against the direction of ${checked.entry.locale}. Put it between U+2068 and U+2069.`;
        report({ message, ...aboutText(checked, start + found.index) });
      }
    },
  }),
};

// Letters that have a twin in another script, by their own script.
const TWINS = {
  Latin: /^[aceijopsxyABCEHIJKMNOPSTXYZ]+$/,
  Cyrillic: /^[асеіјорѕхуАВСЕНІЈКМОРЅТХУ]+$/,
  Greek: /^[ονΑΒΕΖΗΙΚΜΝΟΡΤΥΧ]+$/,
} as const;
const LETTERS = {
  Latin: /\p{Script=Latin}/gu,
  Cyrillic: /\p{Script=Cyrillic}/gu,
  Greek: /\p{Script=Greek}/gu,
} as const;
const SCRIPTS = ['Latin', 'Cyrillic', 'Greek'] as const;
const WORD = /[\p{L}\p{M}]{3,}/gu;

/** Whether a few letters of a word are of another script, and look as if they were not. */
function isMixed(word: string): boolean {
  const counts = SCRIPTS.map((script) => ({
    script,
    letters: (word.match(LETTERS[script]) ?? []).join(''),
  })).filter(({ letters }) => letters !== '');
  if (counts.length < 2) return false;
  const most = Math.max(...counts.map(({ letters }) => letters.length));
  const strangers = counts.filter(({ letters }) => letters.length < most);
  return (
    strangers.length === counts.length - 1 &&
    strangers.every(({ script, letters }) => TWINS[script].test(letters))
  );
}

export const wrongScript: Kind = {
  kind: 'wrong-script',
  severity: 'error',
  about:
    'A word mixes letters of two scripts that look alike, such as a Latin "o" in a Cyrillic word; searching and reading aloud fail.',
  remedy: 'Write the word in one script.',
  example: '"required": "Пoле"                   // a Latin o',
  look: (_, report) => ({
    needs: MAY_HOLD.lookAlike,
    text: (checked) => {
      for (const { text, start } of checked.textNodes) {
        for (const { 0: word, index } of text.matchAll(WORD)) {
          if (!isMixed(word)) continue;
          report({
            message: `"${word}" mixes letters of two scripts. Write it in one.`,
            ...aboutText(checked, start + index),
          });
        }
      }
    },
  }),
};
