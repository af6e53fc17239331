import { expect, test } from '@jest/globals';
import bidiFactory from 'bidi-js';
import fc from 'fast-check';
import { isolated } from '../../src/core/text/direction.js';
import { SEED } from '../support/torture.js';

const bidi = bidiFactory();
const [OPEN, CLOSE] = ['\u2068', '\u2069'];

/** What a reader sees from the left to the right: the signs of UAX 9 stand for nothing. */
function seen(text: string, direction: 'ltr' | 'rtl'): string {
  const levels = bidi.getEmbeddingLevels(text, direction);
  return bidi.getReorderedString(text, levels).replace(/[\u200e\u200f\u061c\u2066-\u2069]/g, '');
}

const SENTENCES = {
  ltr: ['The value % must not be sent.', '%', '12 % 34', 'Send one of “%”, %.', '(%)'],
  rtl: ['يجب أن تكون % صحيحة.', 'הערך % אינו תקין', '%', '% 12', 'أرسل 3, %، %', '(%) שלום.'],
};

/** Letters of three scripts, digits of two, and signs of every class that keyboards have. */
const sent = fc
  .array(fc.constantFrom(...Array.from('aZשלمرé019٣٤ +-.,:/#%$€()[]<>"\'“”«»!?_@&*^•…')), {
    minLength: 1,
    maxLength: 9,
  })
  .map((all) => all.join('').trim());

test('what is sent is seen alike in every sentence, and disturbs nothing around it (UAX 9)', () => {
  for (const direction of ['ltr', 'rtl'] as const)
    fc.assert(
      fc.property(fc.constantFrom(...SENTENCES[direction]), sent, sent, (sentence, one, other) => {
        const inserted = (make: (text: string) => string): string => {
          const texts = [one, other];
          return sentence.replace(/%/g, () => make(texts.shift() ?? ''));
        };
        const apart = inserted((text) => OPEN + text + CLOSE);
        const ours = inserted((text) => isolated(text, direction));
        expect(seen(ours, direction)).toBe(seen(apart, direction));
      }),
      { numRuns: 3000, seed: SEED },
    );
});
