import { isObject, type Loose, type LooseObject } from '../../reading.js';
import { suggestion } from '../../text/closest.js';
import { ANSWER, FIELD, isMarkup, SLOT, VIOLATION } from './template.js';

/** A mistake in a template: one sentence, and the keys that lead to it inside the template. */
export class TemplateError extends Error {
  override name = 'TemplateError';
  constructor(
    message: string,
    readonly keys: readonly (string | number)[],
  ) {
    super(message);
  }
}

type Keys = readonly (string | number)[];

/** The repetition around a part of a template. */
type Inside = 'answer' | 'violation' | 'field';

const OWN = { answer: {}, violation: VIOLATION, field: FIELD };

function checkText(text: string, inside: Inside, keys: Keys, isInMarkup: boolean): void {
  // A name that is not a slot may be an element there.
  if (isInMarkup) return;
  const known = [...Object.keys(OWN[inside]), ...Object.keys(ANSWER)];
  for (const [, name = ''] of text.matchAll(SLOT))
    if (!known.includes(name))
      throw new TemplateError(
        `there is no slot <${name}> here${suggestion(name, known)}; the slots are ${known.join(', ')}`,
        keys,
      );
}

function checkRepeated({ each, key, ...rest }: LooseObject, keys: Keys, isInMarkup: boolean): void {
  if (each !== 'violation' && each !== 'field')
    throw new TemplateError('"each" is violation or field', [...keys, 'each']);
  if (rest.node === undefined)
    throw new TemplateError('"each" goes with "node", which is repeated', keys);
  const odd = Object.keys(rest).find((name) => name !== 'node');
  if (odd !== undefined)
    throw new TemplateError(`"each" goes with "node" and "key" only, not with "${odd}"`, [
      ...keys,
      odd,
    ]);
  checkNode(rest.node, each, [...keys, 'node'], isInMarkup);
  if (typeof key === 'string') checkText(key, each, [...keys, 'key'], isInMarkup);
}

function checkNode(node: Loose, inside: Inside, keys: Keys, isInMarkup: boolean): void {
  if (typeof node === 'string') checkText(node, inside, keys, isInMarkup);
  else if (Array.isArray(node))
    for (const [at, one] of node.entries()) checkNode(one, inside, [...keys, at], isInMarkup);
  else if (!isObject(node)) return;
  else if ('each' in node && inside === 'answer') checkRepeated(node, keys, isInMarkup);
  else
    for (const [key, one] of Object.entries(node))
      checkNode(one, inside, [...keys, key], isInMarkup);
}

/** @throws {TemplateError} where a template has a slot that there is none of */
export const checkTemplate = (template: Loose, mediaType: string): void => {
  checkNode(template, 'answer', [], isMarkup(mediaType));
};
