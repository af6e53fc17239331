import { isObject, type Loose } from '../../reading.js';
import { suggestion } from '../../text/closest.js';
import type { Sentence } from '../../violation/sentence.js';
import { detailOf, type Answer } from '../answer.js';
import { fieldName, groupedByField, type FieldGroup } from '../grouped.js';
import { toPointer } from '../../path/pointer.js';
import { jsonShape, type Shape } from './shape.js';

// A template is JSON with places in angle brackets. A text that is nothing but one place becomes
// its value, a number or a list too; inside a longer text the place is written out. `{ each:
// violation, node: … }` is a list with the node repeated for each violation; `{ each: field, key:
// …, node: … }` an object by field, a list without `key`.

type Slots<T> = Readonly<Record<string, (of: T) => unknown>>;

const ANSWER: Slots<Answer> = {
  title: ({ title }) => title,
  detail: ({ detail }) => detail,
  status: ({ status }) => status,
  type: ({ type }) => type,
  problem: ({ problem }) => problem,
  instance: ({ instance }) => instance ?? null,
  locale: ({ locale }) => locale,
  time: ({ time }) => time ?? null,
  'request-id': ({ requestId }) => requestId ?? null,
  'trace-id': ({ traceId }) => traceId ?? null,
  count: ({ sentences, more }) => sentences.length + more,
  more: ({ more }) => more,
  fields: (answer) => groupedByField(answer).map(({ field }) => field),
};

interface At {
  readonly sentence: Sentence;
  readonly developer: unknown;
}

const pointerOf = ({ path, in: place, pointer }: Sentence['case']): string =>
  place === 'body' ? toPointer(path) : pointer;

const VIOLATION: Slots<At> = {
  field: ({ sentence }) => fieldName(sentence.case),
  pointer: ({ sentence }) => pointerOf(sentence.case),
  in: ({ sentence }) => sentence.case.in,
  code: ({ sentence }) => sentence.case.code,
  text: ({ sentence }) => sentence.text,
  inline: ({ sentence }) => sentence.inline ?? sentence.text,
  developer: ({ developer }) => developer ?? null,
};

const FIELD: Slots<FieldGroup> = {
  field: ({ field }) => field,
  pointer: (group) => pointerOf(group.case),
  in: (group) => group.case.in,
  texts: ({ sentences }) => sentences.map(({ text }) => text),
  text: ({ sentences }) => sentences.map(({ text }) => text).join(' '),
  inlines: ({ sentences }) => sentences.map(({ text, inline }) => inline ?? text),
  codes: ({ sentences }) => sentences.map((sentence) => sentence.case.code),
};

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

const PLACE = /<([a-z][a-z-]*)(?:\("([^"]*)"\))?>/g;

type Fill = (answer: Answer, at?: At, group?: FieldGroup) => unknown;

const shown = (value: unknown): string =>
  value === null ? '' : typeof value === 'string' ? value : JSON.stringify(value);

class Compiler {
  private names(inside: 'answer' | 'violation' | 'field'): readonly string[] {
    const own =
      inside === 'violation'
        ? Object.keys(VIOLATION)
        : inside === 'field'
          ? Object.keys(FIELD)
          : [];
    return [...own, ...Object.keys(ANSWER)];
  }

  private place(
    name: string,
    separator: string | undefined,
    inside: 'answer' | 'violation' | 'field',
    keys: readonly (string | number)[],
  ): Fill {
    const known = this.names(inside);
    if (!known.includes(name))
      throw new TemplateError(
        `there is no place <${name}> here${suggestion(name, known)}; the places are ${known.join(', ')}`,
        keys,
      );
    return (answer, at, group) => {
      const own = at ? VIOLATION[name]?.(at) : group ? FIELD[name]?.(group) : undefined;
      const value = own ?? ANSWER[name]?.(answer) ?? null;
      return separator !== undefined && Array.isArray(value) ? value.join(separator) : value;
    };
  }

  private text(
    text: string,
    inside: 'answer' | 'violation' | 'field',
    keys: readonly (string | number)[],
  ): Fill {
    const parts: (string | Fill)[] = [];
    let last = 0;
    for (const match of text.matchAll(PLACE)) {
      if (match.index > last) parts.push(text.slice(last, match.index));
      parts.push(this.place(match[1] ?? '', match[2], inside, keys));
      last = match.index + match[0].length;
    }
    if (last < text.length) parts.push(text.slice(last));
    const [only] = parts;
    if (parts.length === 1 && typeof only === 'function') return only;
    return (answer, at, group) =>
      parts
        .map((part) => (typeof part === 'string' ? part : shown(part(answer, at, group))))
        .join('');
  }

  private repeated(
    node: Readonly<Record<string, unknown>>,
    keys: readonly (string | number)[],
  ): Fill {
    const { each, key } = node;
    if (each !== 'violation' && each !== 'field')
      throw new TemplateError('"each" is violation or field', [...keys, 'each']);
    if (node.node === undefined)
      throw new TemplateError('"each" goes with "node", which is repeated', keys);
    const odd = Object.keys(node).find((name) => !['each', 'key', 'node'].includes(name));
    if (odd !== undefined)
      throw new TemplateError(`"each" goes with "node" and "key" only, not with "${odd}"`, [
        ...keys,
        odd,
      ]);
    const fill = this.compile(node.node, each, [...keys, 'node']);
    const name = typeof key === 'string' ? this.text(key, each, [...keys, 'key']) : undefined;
    return (answer) => {
      const filled =
        each === 'field'
          ? groupedByField(answer).map(
              (group) =>
                [name?.(answer, undefined, group), fill(answer, undefined, group)] as const,
            )
          : answer.sentences.map((sentence, position) => {
              const at = { sentence, developer: detailOf(answer, position) };
              return [name?.(answer, at), fill(answer, at)] as const;
            });
      return name
        ? Object.fromEntries(filled.map(([label, value]) => [shown(label ?? ''), value]))
        : filled.map(([, value]) => value);
    };
  }

  compile(
    node: Loose,
    inside: 'answer' | 'violation' | 'field',
    keys: readonly (string | number)[],
  ): Fill {
    if (typeof node === 'string') return this.text(node, inside, keys);
    if (Array.isArray(node)) {
      const fills = node.map((one: Loose, at) => this.compile(one, inside, [...keys, at]));
      return (...of) => fills.map((fill) => fill(...of));
    }
    if (!isObject(node)) return () => node;
    if ('each' in node && inside === 'answer') return this.repeated(node, keys);
    const fills = Object.entries(node).map(
      ([key, value]) => [key, this.compile(value, inside, [...keys, key])] as const,
    );
    return (...of) => Object.fromEntries(fills.map(([key, fill]) => [key, fill(...of)]));
  }
}

/**
 * Makes a shape of a JSON template.
 * @throws {TemplateError} where it has a place that there is none of
 */
export function templateShape(name: string, mediaType: string, template: Loose): Shape {
  const fill = new Compiler().compile(template, 'answer', []);
  return { ...jsonShape(name, mediaType, (answer) => fill(answer)), template };
}
