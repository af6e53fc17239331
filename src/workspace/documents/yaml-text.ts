import {
  isMap,
  isNode,
  isPair,
  isScalar,
  isSeq,
  stringify,
  type Document,
  type Pair,
  type Scalar,
} from 'yaml';
import { documentOf } from './yaml.js';

type Keys = readonly (string | number)[];

/** A name or value as YAML writes it on one line. */
const written = (value: string): string => stringify(value, { lineWidth: 0 }).trimEnd();

function pairAt(document: Document, keys: Keys): Pair | undefined {
  const parent: unknown =
    keys.length === 1 ? document.contents : document.getIn(keys.slice(0, -1), true);
  if (!isMap(parent)) return undefined;
  return parent.items.find(
    (item) => isPair(item) && isScalar(item.key) && String(item.key.value) === String(keys.at(-1)),
  );
}

/** The quotes that a scalar is written in are kept, so that a renamed sheet looks as before. */
function replaceScalar(text: string, scalar: Scalar, value: string): string {
  const [start, end] = scalar.range ?? [0, 0];
  const before = text.slice(start, end);
  const quoted = before.startsWith("'")
    ? `'${value.replaceAll("'", "''")}'`
    : before.startsWith('"')
      ? JSON.stringify(value)
      : written(value);
  return text.slice(0, start) + quoted + text.slice(end);
}

/** Gives a key of a YAML file another name, where it stands; all else stays as it is written. */
export function renameYamlKey(text: string, keys: Keys, name: string): string {
  const pair = pairAt(documentOf(text), keys);
  return pair && isScalar(pair.key) ? replaceScalar(text, pair.key, name) : text;
}

/** Replaces a text value of a YAML file, where it stands. */
export function replaceYamlText(text: string, keys: Keys, value: string): string {
  const node: unknown = documentOf(text).getIn(keys, true);
  return isNode(node) && isScalar(node) ? replaceScalar(text, node, value) : text;
}

/** Adds an item to a list at the top of a YAML file, in the style that the list has. */
export function addToYamlList(text: string, key: string, item: string): string {
  const document = documentOf(text);
  const list: unknown = document.get(key, true);
  if (!isSeq(list) || !list.range) return text;
  const last = list.items.at(-1);
  const end = isNode(last) && last.range ? last.range[1] : undefined;
  if (list.flow === true) {
    const at = end ?? list.range[0] + 1;
    return `${text.slice(0, at)}${end === undefined ? '' : ', '}${written(item)}${text.slice(at)}`;
  }
  if (end === undefined) return text;
  const line = text.slice(0, list.range[0]).split('\n').at(-1) ?? '';
  const eol = text.includes('\r\n') ? '\r\n' : '\n';
  return `${text.slice(0, end)}${eol}${' '.repeat(line.length)}- ${written(item)}${text.slice(end)}`;
}
