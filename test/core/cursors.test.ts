import { expect, test } from '@jest/globals';
import { jsonCursor } from '../../src/editor/json-cursor.js';
import { yamlCursor } from '../../src/editor/yaml-cursor.js';

/** Half-typed files with the cursor at `|`: where it stands, what is typed, what is replaced. */
const JSON_CASES: readonly (readonly [string, readonly unknown[], string, string])[] = [
  ['{ "fields": { "ti|" } }', ['fields'], 'ti', '"ti"'],
  [String.raw`{ "fields": { "t\u0069|tle": 1 } }`, ['fields'], 'ti', String.raw`"t\u0069tle"`],
  [String.raw`{ "a\"b": { "c\\d|" } }`, ['a"b'], 'c\\d', String.raw`"c\\d"`],
  [String.raw`{ "d\u00f4me": { "x|": 1 } }`, ['dôme'], 'x', '"x"'],
];
const YAML_CASES: readonly (readonly [string, readonly unknown[], string, string])[] = [
  ['fields:\n  ti|', ['fields'], 'ti', 'ti'],
  ["fields:\n  'ti|'", ['fields'], 'ti', "'ti'"],
  ["fields:\n  'it''s fo|'", ['fields'], "it's fo", "'it''s fo'"],
  ["'it''s':\n  { a: 1, 'b|': 2 }", ["it's"], 'b', "'b'"],
  ["{ note: it's fine, 'ti|' }", [], 'ti', "'ti'"],
  [String.raw`fields:\n  "a\"b|"`.replace('\\n', '\n'), ['fields'], 'a"b', String.raw`"a\"b"`],
  ["label: 'dome|'", ['label'], 'dome', "'dome'"],
  ['{ "note":"dome|" }', ['note'], 'dome', '"dome"'],
];

test.each([
  ...JSON_CASES.map((one) => [...one, jsonCursor] as const),
  ...YAML_CASES.map((one) => [...one, yamlCursor] as const),
])('in %s', (marked, keys, typed, replaced, read) => {
  const offset = marked.indexOf('|');
  const text = marked.replace('|', '');
  const found = read(text, offset);
  expect(
    found && [found.keys, found.typed, text.slice(found.extent.from, found.extent.to)],
  ).toEqual([keys, typed, replaced]);
});
