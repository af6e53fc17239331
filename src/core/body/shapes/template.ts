import { isObject, type Loose, type LooseObject } from '../../reading.js';
import { escapeHtml } from '../../text/markup.js';
import { groupedByField } from '../grouped.js';
import type { Answer } from '../answer.js';
import { ANSWER, FIELD, SENTENCE, slotReader, VIOLATION, type Filling } from './slots.js';
import type { Shape, ShapeOptions } from './shape.js';

// A template is JSON with slots in angle brackets, and a few objects that are more than they are:
// see docs/reference/bodies.md. It is compiled once, to what makes the value and what writes JSON.

/** A part of a template, ready to be filled. */
interface Node {
  /** The value of the part; undefined where it is left out. */
  readonly value: (filling: Filling) => unknown;
  /** The value as JSON; undefined where the part is left out. */
  readonly json: (filling: Filling) => string | undefined;
}

/** How texts are written in the media type. */
type Escape = (text: string) => string;

const asItIs: Escape = (text) => text;

/** A slot, with the separator that joins a list in it. */
export const SLOT = /<([a-z][a-z-]*)(?:\("([^"]*)"\))?>/g;

const ALL = { ...ANSWER, ...VIOLATION, ...FIELD };

export const isSlot = (name: string): boolean => Object.hasOwn(ALL, name);

/** Whether texts of a media type are markup, HTML or XML. */
export const isMarkup = (mediaType: string): boolean => /html|xml/.test(mediaType);

const shown = (value: unknown): string =>
  value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value);

const escaped = (value: unknown, escape: Escape): unknown =>
  Array.isArray(value)
    ? value.map((one: unknown) => escaped(one, escape))
    : typeof value === 'string'
      ? escape(value)
      : value;

/** A part whose value has to be made before it is written. */
const plainNode = (value: Node['value']): Node => ({
  value,
  json: (filling) => JSON.stringify(value(filling)),
});

function textNode(text: string, escape: Escape): Node {
  const parts = text.split(SLOT);
  const [before, name = '', separator, after] = parts;
  if (
    before === '' &&
    after === '' &&
    separator === undefined &&
    isSlot(name) &&
    parts.length === 4
  ) {
    const read = slotReader(name);
    return plainNode(escape === asItIs ? read : (filling) => escaped(read(filling), escape));
  }
  const written = (slot: string, between: string | undefined): ((filling: Filling) => string) => {
    const read = slotReader(slot);
    return (filling) => {
      const value = read(filling);
      return between === undefined || !Array.isArray(value)
        ? escape(shown(value))
        : value.map((one) => escape(shown(one))).join(between);
    };
  };
  const filled = Array.from(text.matchAll(SLOT), ([slot, called = '', between]) =>
    // In markup a name that is not a slot is an element.
    isSlot(called) ? written(called, between) : () => slot,
  );
  return plainNode((filling) =>
    filled.reduce((all, fill, at) => all + fill(filling) + (parts[3 * at + 3] ?? ''), before ?? ''),
  );
}

/** Whether a part hangs on nothing but its sentence, in answers for clients. */
const isOfSentence = (node: Loose): boolean =>
  [...JSON.stringify(node).matchAll(/(?:<|"when":")([a-z-]+)/g)].every(([, name = '']) =>
    Object.hasOwn(SENTENCE, name),
  );

function fillingsFor(each: Loose, filling: Filling): Filling[] {
  const { answer, options } = filling;
  if (each === 'violation')
    return answer.sentences.map((sentence, at) => ({ answer, options, sentence, at }));
  return groupedByField(answer)
    .filter((group) => each === 'field' || (group.case.in === 'body') === (each === 'body-field'))
    .map((group) => ({ answer, options, group }));
}

function eachNode({ each, key, node }: LooseObject, escape: Escape): Node {
  const one = compiled(node, escape);
  if (typeof key === 'string') {
    const name = textNode(key, escape);
    return plainNode((filling) =>
      Object.fromEntries(
        fillingsFor(each, filling).map((at) => [shown(name.value(at)), one.value(at)]),
      ),
    );
  }
  const value = (filling: Filling): unknown => fillingsFor(each, filling).map(one.value);
  if (each !== 'violation' || !isOfSentence(node)) return plainNode(value);
  // Many violations repeat: what was written for a sentence is kept beside it.
  const writtenOf = (filling: Filling): string => {
    const { sentence, answer } = filling;
    if (!sentence || answer.details) return one.json(filling) ?? 'null';
    if (sentence.written?.by !== one)
      sentence.written = { by: one, text: one.json(filling) ?? 'null' };
    return sentence.written.text;
  };
  return { value, json: (filling) => `[${fillingsFor(each, filling).map(writtenOf).join()}]` };
}

const isThere = (value: unknown): boolean =>
  Array.isArray(value) ? value.length > 0 : Boolean(value);

function whenNode({ when, node, otherwise }: LooseObject, escape: Escape): Node {
  const then = compiled(node, escape);
  const or = otherwise === undefined ? undefined : compiled(otherwise, escape);
  const read = slotReader(String(when));
  const taken = (filling: Filling): Node | undefined => (isThere(read(filling)) ? then : or);
  return {
    value: (filling) => taken(filling)?.value(filling),
    json: (filling) => {
      const one = taken(filling);
      return one?.json(filling);
    },
  };
}

function joinNode({ join, with: separator }: LooseObject, escape: Escape): Node {
  const parts = (join as Loose[]).map((one) => compiled(one, escape));
  return plainNode((filling) => {
    const all = parts
      .flatMap((one) => one.value(filling))
      .filter((one) => one !== undefined && one !== null && one !== '');
    return separator === undefined ? all : all.map(shown).join(shown(separator));
  });
}

type Member = readonly [key: string, node: Node, start: string];

function objectNode(node: LooseObject, escape: Escape): Node {
  const members = Object.entries(node).map(([key, one]): Member => [
    key,
    compiled(one, escape),
    `${JSON.stringify(key)}:`,
  ]);
  const value = (filling: Filling): unknown =>
    Object.fromEntries(
      members.flatMap(([key, one]) =>
        key === SPREAD ? Object.entries(one.value(filling) ?? {}) : [[key, one.value(filling)]],
      ),
    );
  return {
    value,
    json: (filling) => {
      let text = '';
      for (const [key, one, start] of members) {
        const said = one.json(filling);
        if (key === SPREAD) {
          // A member may be called like another one: then that is said in its place.
          if (said !== undefined && said !== '{}') return JSON.stringify(value(filling));
        } else if (said !== undefined) text += (text === '' ? '' : ',') + start + said;
      }
      return `{${text}}`;
    },
  };
}

/** The key of a member whose value's members stand in its place. */
export const SPREAD = '...';
/** The key of an object that is left out where it has no members. */
export const UNLESS_EMPTY = 'unless-empty';

const isOnly = (node: LooseObject, ...keys: readonly string[]): boolean =>
  Object.keys(node).every((key) => keys.includes(key));

/** Returns which of the objects that are more than they are an object of a template is. */
export const nodeKind = (node: LooseObject): 'each' | 'when' | 'join' | 'some' | 'plain' =>
  'each' in node
    ? 'each'
    : 'when' in node && 'node' in node
      ? 'when'
      : Array.isArray(node.join) && isOnly(node, 'join', 'with')
        ? 'join'
        : isOnly(node, UNLESS_EMPTY) && UNLESS_EMPTY in node
          ? 'some'
          : 'plain';

function someNode(node: LooseObject, escape: Escape): Node {
  const { value } = compiled(node[UNLESS_EMPTY], escape);
  return plainNode((filling) => {
    const made = value(filling);
    return Object.values(made as object).some((one) => one !== undefined) ? made : undefined;
  });
}

const KINDS = { each: eachNode, when: whenNode, join: joinNode, some: someNode, plain: objectNode };

function compiled(node: Loose, escape: Escape): Node {
  if (typeof node === 'string') return textNode(node, escape);
  if (isObject(node)) return KINDS[nodeKind(node)](node, escape);
  if (!Array.isArray(node)) return plainNode(() => node);
  const all = node.map((one: Loose) => compiled(one, escape));
  return plainNode((filling) => all.map((one) => one.value(filling)));
}

/** Makes a shape of a JSON template, which `checkTemplate` has found nothing wrong with. */
export function templateShape(name: string, mediaType: string, template: Loose): Shape {
  const node = compiled(template, isMarkup(mediaType) ? escapeHtml : asItIs);
  const value = (answer: Answer, options: ShapeOptions): unknown => node.value({ answer, options });
  // What is one text, and no JSON, is sent as it is.
  const isText =
    !/json/.test(mediaType) &&
    (typeof template === 'string' || (isObject(template) && 'with' in template));
  return isText
    ? { name, mediaType, template, write: (answer, options) => shown(value(answer, options)) }
    : {
        name,
        mediaType,
        template,
        value,
        write: (answer, options) => node.json({ answer, options }) ?? 'null',
      };
}
