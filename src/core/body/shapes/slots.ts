import { keyed } from '../../base/keyed.js';
import { directionOf } from '../../locale/tag.js';
import { printPath, type Path } from '../../path/path.js';
import { toFragment, toPointer } from '../../path/pointer.js';
import type { Sentence } from '../../violation/sentence.js';
import type { Answer } from '../answer.js';
import { fieldName, groupedByField, type FieldGroup } from '../grouped.js';
import type { ShapeOptions } from './shape.js';

/** The values for slots: the answer, and the current violation or field. */
export interface Filling {
  readonly answer: Answer;
  readonly options: ShapeOptions;
  readonly sentence?: Sentence;
  /** The position of the sentence in the answer. */
  readonly at?: number;
  readonly group?: FieldGroup;
}

type Slots<T> = Readonly<Record<string, (of: T, filling: Filling) => unknown>>;

/** Members of an answer that are slots as they are. */
const AS_IT_IS = [
  ...(['title', 'status', 'type', 'problem', 'instance', 'locale'] as const),
  ...(['time', 'address', 'more', 'details'] as const),
];

export const ANSWER: Slots<Answer> = {
  ...Object.fromEntries(AS_IT_IS.map((name) => [name, (answer: Answer) => answer[name]])),
  detail: ({ detail }) => detail || undefined,
  uri: ({ type }) => (type === 'about:blank' ? undefined : type),
  direction: ({ locale }) => directionOf(locale),
  extensions: ({ members }) => members,
  'request-id': ({ requestId }) => requestId,
  'trace-id': ({ traceId }) => traceId,
  count: ({ sentences, more }) => sentences.length + more,
  fields: (answer) => groupedByField(answer).map(({ field }) => field),
  texts: ({ sentences }) => sentences.map(({ text }) => text),
  broken: ({ problem }) => problem === 'invalid-fields' || undefined,
};

const pointerOf = ({ path, in: part, pointer }: Sentence['case']): string =>
  part === 'body' ? toPointer(path) : pointer;

/** The pointers of missing fields, by answer. */
const missing = new WeakMap<Answer, ReadonlySet<string>>();

/** Returns the nearest place around a path that is in the request: what is missing is not. */
function present(path: Path, answer: Answer): Path {
  let lacking = missing.get(answer);
  if (!lacking) {
    const cases = answer.sentences.map((sentence) => sentence.case);
    lacking = new Set(
      cases
        .filter(({ lacks, in: part }) => lacks && part === 'body')
        .map(({ path: at }) => toPointer(at)),
    );
    missing.set(answer, lacking);
  }
  let { length } = path;
  while (length > 0 && lacking.has(toPointer(path.slice(0, length)))) length--;
  return path.slice(0, length);
}

/** Slots that hang on nothing but the sentence, or are empty in answers for clients. */
export const SENTENCE: Slots<Sentence> = {
  field: (sentence) => fieldName(sentence.case),
  path: (sentence) => sentence.case.path,
  pointer: (sentence) => pointerOf(sentence.case),
  place: (sentence) => sentence.case.pointer,
  fragment: ({ case: { in: part, pointer } }) => (part === 'body' ? pointer : undefined),
  header: ({ case: { in: part, pointer } }) => (part === 'header' ? pointer : undefined),
  parameter: ({ case: { in: part, pointer } }) =>
    part === 'body' || part === 'header' ? undefined : pointer,
  in: (sentence) => sentence.case.in,
  part: (sentence) => (sentence.case.in === 'body' ? undefined : sentence.case.in),
  code: (sentence) => sentence.case.code,
  text: ({ text }) => text,
  inline: ({ inline, text }) => inline ?? text,
  beside: ({ inline }) => inline,
  members: ({ members }) => members?.map(toPointer),
  'member-fragments': ({ members }) => members?.map(toFragment),
  'member-fields': ({ members }) => members?.map((path) => printPath(path)),
  'member-paths': ({ members }) => members,
  developer: (_sentence, { answer, at }) => answer.details?.[at ?? 0],
};

export const VIOLATION: Slots<Sentence> = {
  ...SENTENCE,
  nearest: ({ case: { path, in: part, lacks } }, { answer, options }) =>
    part === 'body' ? options.prefix + toPointer(lacks ? present(path, answer) : path) : undefined,
  missing: ({ case: { path, in: part, lacks } }, { options }) =>
    lacks && part === 'body' && path.length > 0 ? options.prefix + toPointer(path) : undefined,
  'member-pointers': ({ members }, { options }) =>
    members?.map((path) => options.prefix + toPointer(path)),
};

export const FIELD: Slots<FieldGroup> = {
  field: ({ field }) => field,
  pointer: (group) => pointerOf(group.case),
  in: (group) => group.case.in,
  texts: ({ sentences }) => sentences.map(({ text }) => text),
  text: ({ sentences }) => sentences.map(({ text }) => text).join(' '),
  inlines: ({ sentences }) => sentences.map(({ text, inline }) => inline ?? text),
  beside: ({ sentences }) => sentences.find(({ inline }) => inline !== undefined)?.inline,
  codes: ({ sentences }) => sentences.map((sentence) => sentence.case.code),
};

/** The slots of each repetition, besides those of the answer. */
export const SLOTS = { answer: {}, violation: VIOLATION, field: FIELD } as const;

/** The repetition around a part of a template. */
export type Inside = keyof typeof SLOTS;

/** What a template repeats its nodes for. */
export const EACH: Readonly<Record<string, Exclude<Inside, 'answer'>>> = keyed({
  violation: 'violation',
  field: 'field',
  'body-field': 'field',
  'other-field': 'field',
});

/** Returns what reads a slot: undefined where it is empty. */
export function slotReader(name: string): (filling: Filling) => unknown {
  const own = VIOLATION[name];
  const ofGroup = FIELD[name];
  const around = ANSWER[name];
  return (filling) => {
    const { answer, sentence, group } = filling;
    const value = sentence ? own?.(sentence, filling) : group && ofGroup?.(group, filling);
    return value ?? around?.(answer, filling);
  };
}
