import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parse } from 'jsonc-parser';
import { setTexts } from '../../src/workspace/editing/many-texts.js';
import {
  renameIn,
  removeIn,
  reorderIn,
  setIn,
  setRawIn,
} from '../../src/workspace/documents/json-text.js';

const value = fc.letrec((tie) => ({
  leaf: fc.oneof(fc.string({ unit: 'binary' }), fc.integer(), fc.boolean()),
  object: fc.dictionary(
    fc.string({ maxLength: 4 }),
    fc.oneof({ depthSize: 'small' }, tie('leaf'), tie('object')),
    {
      maxKeys: 4,
      noNullPrototype: true,
    },
  ),
})).object;

/**
 * The same content laid out in some way: on one line or many, with tabs or blanks, LF or CR LF, and
 * comments.
 */
const laidOut = fc
  .record({
    value,
    indent: fc.constantFrom('', '  ', '    ', '\t'),
    crlf: fc.boolean(),
    comment: fc.boolean(),
  })
  .map((one) => {
    const plain = JSON.stringify(one.value, undefined, one.indent);
    const noted = one.comment ? `// what it is\n${plain} /* the end */\n` : plain;
    return { value: one.value, text: one.crlf ? noted.replaceAll('\n', '\r\n') : noted };
  });

const read = (text: string): unknown => parse(text, [], { allowTrailingComma: true });
const keysOf = (root: unknown): string[][] =>
  typeof root === 'object' && root !== null
    ? Object.entries(root).flatMap(([key, inner]) => [
        [key],
        ...keysOf(inner).map((rest) => [key, ...rest]),
      ])
    : [];

describe('a JSON file edited in place', () => {
  test('setting a member changes that member and nothing else; taking it out again gives the file back to the letter', () => {
    fc.assert(
      fc.property(
        laidOut,
        fc.constantFrom('new', 'a b', '"', ''),
        fc.string({ unit: 'binary' }),
        ({ value: root, text }, name, given) => {
          fc.pre(!Object.hasOwn(root, name) && Object.keys(root).length > 0);
          const after = setIn(text, [name], given);
          expect(read(after)).toEqual({ ...root, [name]: given });
          expect(removeIn(after, [name])).toBe(text);
        },
      ),
    );
  });

  test('taking out, renaming and reordering do to the text what they do to the content', () => {
    fc.assert(
      fc.property(laidOut, fc.nat(), ({ value: root, text }, pick) => {
        const all = keysOf(root);
        fc.pre(all.length > 0);
        const keys = all[pick % all.length] ?? [];
        const without = structuredClone(root);
        const parent = keys
          .slice(0, -1)
          .reduce<Record<string, unknown>>(
            (inner, key) => inner[key] as Record<string, unknown>,
            without,
          );
        const [last = ''] = keys.slice(-1);
        const held = parent[last];
        Reflect.deleteProperty(parent, last);
        expect(read(removeIn(text, keys, Infinity))).toEqual(without);
        fc.pre(!Object.hasOwn(parent, 'renamed'));
        parent.renamed = held;
        expect(read(renameIn(text, keys, 'renamed'))).toEqual(without);
        const order = Object.keys(root).reverse();
        const reordered = reorderIn(text, [], order);
        expect(read(reordered)).toEqual(root);
        expect(Object.keys(read(reordered) as object)).toEqual(
          Object.keys(Object.fromEntries(order.map((key) => [key, 1]))),
        );
      }),
    );
  });

  const catalog =
    '{\r\n\t"locale": "de", // German\r\n\t"messages": {\r\n\t\t"required": "x" // the first\r\n\t},\r\n}\r\n';
  test.each([
    [
      'a remark behind the last member stays on its line',
      setIn(catalog, ['messages', 'b'], 'y'),
      catalog
        .replace('"x" //', '"x", //')
        .replace('the first\r\n', 'the first\r\n\t\t"b": "y"\r\n'),
    ],
    [
      'a section is begun on lines of its own',
      setIn('{\n  "locale": "de"\n}\n', ['fields', 'a', 'label'], 'A'),
      '{\n  "locale": "de",\n  "fields": {\n    "a": { "label": "A" }\n  }\n}\n',
    ],
    [
      'a comma at the end stays one',
      setIn(catalog, ['form'], 'f'),
      catalog.replace('\t},\r\n}', '\t},\r\n\t"form": "f",\r\n}'),
    ],
    [
      'neighbours on one line get one more on it',
      setIn('{ "a": { "label": "A" } }', ['a', 'x'], '1'),
      '{ "a": { "label": "A", "x": "1" } }',
    ],
    [
      'what is moved keeps its comments',
      setRawIn('{\n  "a": 1\n}', ['b'], '{ /* why */ "c": 1 }'),
      '{\n  "a": 1,\n  "b": { /* why */ "c": 1 }\n}',
    ],
    [
      'objects that are left empty go, up to the section',
      removeIn('{\n  "fields": {\n    "a": { "messages": { "x": "y" } }\n  }\n}', [
        'fields',
        'a',
        'messages',
        'x',
      ]),
      '{\n  "fields": {}\n}',
    ],
    [
      'unless a comment is in them',
      removeIn('{"f": {"a": {"x": 1 /* keep */}}}', ['f', 'a', 'x']),
      '{"f": {"a": { /* keep */}}}',
    ],
  ])('%s', (_, found, wanted) => {
    expect(found).toBe(wanted);
  });
});

test('many texts at once are what they are one by one, and all else stays to the letter', () => {
  const file = `{
  // of ours
  "locale": "de", "messages": { "a": "A", },
  "fields": {
    "x": { "label": "X", "messages": {} }, /* y */
    "y": { "label": { "text": "Y", "note": "n" } }
  }
}
`;
  const keys = [
    ['messages', 'a'],
    ['messages', 'b'],
    ['messages', '__proto__'],
    ['problems', 'p', 'title'],
    ['problems', 'p', 'detail'],
    ['fields', 'x', 'messages', 'm'],
    ['fields', 'x', 'messages', 'n'],
    ['fields', 'z', 'label'],
    ['fields', 'z', 'choices', '1'],
    ['fields', 'y', 'label'],
    ['fields', 'x', 'label', 'genitive'],
    ['fields', 'x', 'label'],
    ['fields', 'w', 'label', 'genitive'],
  ];
  const item = fc.record({
    at: fc.nat(keys.length - 1),
    text: fc.string(),
    note: fc.option(fc.string(), { nil: undefined }),
  });
  fc.assert(
    fc.property(fc.array(item, { maxLength: 20 }), fc.boolean(), (chosen, windows) => {
      const text = windows ? file.replaceAll('\n', '\r\n') : file;
      const items = chosen.map(({ at, text: value, note }) => {
        const path = keys[at] ?? [];
        return {
          keys: path,
          inside: path[2] === 'label' && path.length === 4 ? 3 : undefined,
          text: value,
          note,
        };
      });
      const atOnce = setTexts(text, items);
      const oneByOne = items.reduce((now, one) => setTexts(now, [one]), text);
      const read = (json: string): unknown => parse(json, [], { allowTrailingComma: true });
      expect(read(atOnce)).toEqual(read(oneByOne));
      expect(atOnce).toContain('// of ours');
      expect(atOnce).toContain('/* y */');
      expect(atOnce.includes('\n') && /[^\r]\n/.test(atOnce)).toBe(!windows);
    }),
    { numRuns: 200 },
  );
});
