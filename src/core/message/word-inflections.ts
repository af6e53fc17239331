import { getOrMake } from '../base/get-or-make.js';
import type { Signature } from './signature.js';

/**
 * An argument that is a word in one of its inflections: `label_genitive` is the word `label` in the
 * form `genitive`.
 */
export interface WordInflection {
  readonly name: string;
  readonly word: string;
  readonly inflection: string;
}

const known = new WeakMap<Signature, readonly WordInflection[]>();

/**
 * The inflections that a message cannot do without, of the field's own label and of the other
 * field's.
 */
export const wordInflections = (signature: Signature): readonly WordInflection[] =>
  getOrMake(known, signature, () =>
    [...signature.names].flatMap((name) => {
      const [, said, form] = /^(label|subject|counterpart)_(\w.*)$/u.exec(name) ?? [];
      if (said === undefined || form === undefined || form === 'start' || form === 'quoted')
        return [];
      const word = said === 'subject' ? 'label' : said;
      // A message that asks whether the form is there has something to say without it.
      return signature.names.has(`has_${word}_${form}`) ? [] : [{ name, word, inflection: form }];
    }),
  );
