import { isObject, type Loose, type LooseObject } from '../../reading.js';
import type { Sentence } from '../../violation/sentence.js';
import { detailOf, type Answer } from '../answer.js';
import { fieldName, groupedByField, type FieldGroup } from '../grouped.js';
import { toPointer } from '../../path/pointer.js';
import { escapeHtml } from './html.js';
import { jsonShape, type Shape } from './shape.js';

// A template is JSON with slots in angle brackets. A text that is nothing but one slot becomes its
// value, a number or a list too; inside a longer text the slot is written out. `{ each:
// violation, node: … }` is a list with the node repeated for each violation; `{ each: field, key:
// …, node: … }` an object by field, a list without `key`.

type Slots<T> = Readonly<Record<string, (of: T) => unknown>>;

/** Members of an answer that are slots as they are. */
const AS_IT_IS = [
  ...(['title', 'status', 'type', 'problem', 'instance'] as const),
  ...(['locale', 'time', 'address', 'more'] as const),
];

export const ANSWER: Slots<Answer> = {
  ...Object.fromEntries(AS_IT_IS.map((name) => [name, (answer: Answer) => answer[name]])),
  detail: ({ detail }) => detail || undefined,
  'request-id': ({ requestId }) => requestId,
  'trace-id': ({ traceId }) => traceId,
  count: ({ sentences, more }) => sentences.length + more,
  fields: (answer) => groupedByField(answer).map(({ field }) => field),
  texts: ({ sentences }) => sentences.map(({ text }) => text),
};

interface At {
  readonly sentence: Sentence;
  readonly developer: unknown;
}

const pointerOf = ({ path, in: part, pointer }: Sentence['case']): string =>
  part === 'body' ? toPointer(path) : pointer;

export const VIOLATION: Slots<At> = {
  field: ({ sentence }) => fieldName(sentence.case),
  pointer: ({ sentence }) => pointerOf(sentence.case),
  in: ({ sentence }) => sentence.case.in,
  code: ({ sentence }) => sentence.case.code,
  text: ({ sentence }) => sentence.text,
  inline: ({ sentence }) => sentence.inline ?? sentence.text,
  members: ({ sentence }) => sentence.members?.map(toPointer),
  developer: ({ developer }) => developer,
};

export const FIELD: Slots<FieldGroup> = {
  field: ({ field }) => field,
  pointer: (group) => pointerOf(group.case),
  in: (group) => group.case.in,
  texts: ({ sentences }) => sentences.map(({ text }) => text),
  text: ({ sentences }) => sentences.map(({ text }) => text).join(' '),
  inlines: ({ sentences }) => sentences.map(({ text, inline }) => inline ?? text),
  codes: ({ sentences }) => sentences.map((sentence) => sentence.case.code),
};

/** A slot, with the separator that joins a list in it. */
export const SLOT = /<([a-z][a-z-]*)(?:\("([^"]*)"\))?>/g;

const ALL = { ...ANSWER, ...VIOLATION, ...FIELD };

/** Whether texts of a media type are markup, HTML or XML. */
export const isMarkup = (mediaType: string): boolean => /html|xml/.test(mediaType);

/** The values for slots: the answer, and the current violation or field. */
interface Filling {
  readonly answer: Answer;
  /** How texts are written in the media type. */
  readonly escape: (text: string) => string;
  readonly at?: At;
  readonly group?: FieldGroup;
}

const shown = (value: unknown): string =>
  value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value);

function slot(
  name: string,
  separator: string | undefined,
  { answer, at, group, escape }: Filling,
): unknown {
  const own = at ? VIOLATION[name]?.(at) : group && FIELD[name]?.(group);
  const value = own ?? ANSWER[name]?.(answer);
  if (!Array.isArray(value)) return typeof value === 'string' ? escape(value) : value;
  const all = value.map((one) => (typeof one === 'string' ? escape(one) : (one as unknown)));
  return separator === undefined ? all : all.join(separator);
}

function filledText(text: string, filling: Filling): unknown {
  const [first] = text.matchAll(SLOT);
  return first?.[0] === text
    ? slot(first[1] ?? '', first[2], filling)
    : text.replace(SLOT, (written, name: string, separator?: string) =>
        // In markup a name that is not a slot is an element.
        Object.hasOwn(ALL, name) ? shown(slot(name, separator, filling)) : written,
      );
}

function repeated({ each, key, node }: LooseObject, filling: Filling): unknown {
  const { answer } = filling;
  const all: Filling[] =
    each === 'field'
      ? groupedByField(answer).map((group) => ({ ...filling, group }))
      : answer.sentences.map((sentence, position) => ({
          ...filling,
          at: { sentence, developer: detailOf(answer, position) },
        }));
  return typeof key === 'string'
    ? Object.fromEntries(all.map((one) => [shown(filledText(key, one)), filled(node, one)]))
    : all.map((one) => filled(node, one));
}

function filled(node: Loose, filling: Filling): unknown {
  if (typeof node === 'string') return filledText(node, filling);
  if (Array.isArray(node)) return node.map((one: Loose) => filled(one, filling));
  if (!isObject(node)) return node;
  return 'each' in node && !filling.at && !filling.group
    ? repeated(node, filling)
    : Object.fromEntries(Object.entries(node).map(([key, one]) => [key, filled(one, filling)]));
}

/** Makes a shape of a JSON template, which `checkTemplate` has found nothing wrong with. */
export function templateShape(name: string, mediaType: string, template: Loose): Shape {
  const escape = isMarkup(mediaType) ? escapeHtml : (text: string) => text;
  const value = (answer: Answer): unknown => filled(template, { answer, escape });
  const shape = { ...jsonShape(name, mediaType, value), template };
  // What is one text, and no JSON, is sent as it is.
  return typeof template !== 'string' || /json/.test(mediaType)
    ? shape
    : { ...shape, value: undefined, write: (answer) => shown(value(answer)) };
}
