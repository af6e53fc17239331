import { isObject, type Loose, type LooseObject } from '../../reading.js';
import { suggestion } from '../../text/closest.js';
import { ANSWER, EACH, SLOTS, type Inside } from './slots.js';
import { isMarkup, nodeKind, SLOT, UNLESS_EMPTY } from './template.js';

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

const slotsIn = (inside: Inside): string[] => [
  ...Object.keys(SLOTS[inside]),
  ...Object.keys(ANSWER),
];

function checkText(text: string, inside: Inside, keys: Keys, isInMarkup: boolean): void {
  // A name that is not a slot may be an element there.
  if (isInMarkup) return;
  const known = slotsIn(inside);
  for (const [, name = ''] of text.matchAll(SLOT))
    if (!known.includes(name))
      throw new TemplateError(
        `there is no slot <${name}> here${suggestion(name, known)}; the slots are ${known.join(', ')}`,
        keys,
      );
}

/** The keys that go together in the objects that are more than they are. */
const MEMBERS = {
  each: ['each', 'key', 'node'],
  when: ['when', 'node', 'otherwise'],
  join: ['join', 'with'],
  some: [UNLESS_EMPTY],
};

function checkMembers(node: LooseObject, kind: keyof typeof MEMBERS, keys: Keys): void {
  const known = MEMBERS[kind];
  const odd = Object.keys(node).find((name) => !known.includes(name));
  if (odd === undefined) return;
  const others = known.filter((name) => name !== kind).map((name) => `"${name}"`);
  throw new TemplateError(`"${kind}" goes with ${others.join(' and ')} only, not with "${odd}"`, [
    ...keys,
    odd,
  ]);
}

function checkObject(node: LooseObject, inside: Inside, keys: Keys, isInMarkup: boolean): void {
  const kind = nodeKind(node);
  if (kind !== 'plain') checkMembers(node, kind, keys);
  let within = inside;
  if (kind === 'each') {
    const { each, node: one, key } = node;
    const known = Object.keys(EACH);
    const next = typeof each === 'string' && Object.hasOwn(EACH, each) ? EACH[each] : undefined;
    if (next === undefined)
      throw new TemplateError(`"each" is ${known.join(' or ')}`, [...keys, 'each']);
    if (inside !== 'answer')
      throw new TemplateError('"each" stands in a node that is repeated already', [
        ...keys,
        'each',
      ]);
    if (one === undefined)
      throw new TemplateError('"each" goes with "node", which is repeated', keys);
    if (typeof key === 'string') checkText(key, next, [...keys, 'key'], isInMarkup);
    within = next;
  }
  if (kind === 'when') {
    const known = slotsIn(inside);
    const name = String(node.when);
    if (!known.includes(name))
      throw new TemplateError(
        `"when" names a slot, and there is no slot <${name}> here${suggestion(name, known)}`,
        [...keys, 'when'],
      );
  }
  const isText = (key: string): boolean =>
    (kind === 'each' && key !== 'node') || key === 'when' || (kind === 'join' && key === 'with');
  for (const [key, one] of Object.entries(node))
    if (kind === 'plain' || !isText(key)) checkNode(one, within, [...keys, key], isInMarkup);
}

function checkNode(node: Loose, inside: Inside, keys: Keys, isInMarkup: boolean): void {
  if (typeof node === 'string') checkText(node, inside, keys, isInMarkup);
  else if (Array.isArray(node))
    for (const [at, one] of node.entries()) checkNode(one, inside, [...keys, at], isInMarkup);
  else if (isObject(node)) checkObject(node, inside, keys, isInMarkup);
}

/** @throws {TemplateError} where a template has a slot that there is none of */
export const checkTemplate = (template: Loose, mediaType: string): void => {
  checkNode(template, 'answer', [], isMarkup(mediaType));
};
