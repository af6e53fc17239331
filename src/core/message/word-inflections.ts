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

/** All inflections that a message says, also those that it can do without. */
export const saidInflections = ({ names }: Signature): WordInflection[] =>
  [...names].flatMap((name) => {
    const [, said, inflection] = /^(label|subject|counterpart)_(\w.*)$/u.exec(name) ?? [];
    return said === undefined || inflection === undefined
      ? []
      : [{ name, word: said === 'subject' ? 'label' : said, inflection }];
  });

const known = new WeakMap<Signature, readonly WordInflection[]>();

/**
 * The inflections that a message cannot do without, of the field's own label and of the other
 * field's.
 */
export const wordInflections = (signature: Signature): readonly WordInflection[] =>
  getOrMake(known, signature, () =>
    saidInflections(signature).filter(
      ({ word, inflection }) =>
        inflection !== 'start' &&
        inflection !== 'quoted' &&
        // A message that asks whether the form is there has something to say without it.
        !signature.names.has(`has_${word}_${inflection}`),
    ),
  );
