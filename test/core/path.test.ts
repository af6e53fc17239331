import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  isPath,
  parsePath,
  parsePattern,
  PathSyntaxError,
  printPath,
  type Pattern,
} from '../../src/core/path/path.js';
import {
  parsePointer,
  PointerSyntaxError,
  toFragment,
  toPointer,
} from '../../src/core/path/pointer.js';
import { enclosingElements, lastWord, placesOn } from '../../src/core/path/places.js';
import { PatternTrie } from '../../src/core/path/trie.js';
import { narrowPath, narrowPattern, path, pattern } from '../support/arbitraries.js';

describe('paths and patterns', () => {
  test.each<[string, Pattern]>([
    ['', []],
    ['title', ['title']],
    ['lead.email', ['lead', 'email']],
    ['targets[2].exposures[0].seconds', ['targets', 2, 'exposures', 0, 'seconds']],
    ['[3].name', [3, 'name']],
    ['grid[1][2]', ['grid', 1, 2]],
    ['["odd.name"].x', ['odd.name', 'x']],
    ['a[""]', ['a', '']],
    ['["\\u0041\\n"]', ['A\n']],
    ['targets[*].name', ['targets', ANY_ELEMENT, 'name']],
    ['extras.*', ['extras', ANY_KEY]],
    ['.*', [ANY_KEY]],
    ['..children[*]', [ANY_DEPTH, 'children', ANY_ELEMENT]],
    ['tree..[*].*', ['tree', ANY_DEPTH, ANY_ELEMENT, ANY_KEY]],
    ['targets.2', ['targets', '2']],
  ])('reads %s', (text, segments) => {
    expect(parsePattern(text)).toEqual(segments);
    expect(printPath(segments)).toBe(text.replace('\\u0041', 'A'));
  });

  test.each([
    ['a.', 2],
    ['.a.', 3],
    ['a b', 1],
    ['a[', 2],
    ['a[-1]', 2],
    ['a[01]', 2],
    ['a[1', 2],
    ['a["x]', 2],
    ['a["\\q"]', 2],
    ['a[*', 2],
    ['a..', 3],
    ['*', 0],
    ['a]', 1],
    ['a[99999999999999999999]', 22],
  ])('refuses %s at %i', (text, offset) => {
    const failing = (): unknown => parsePattern(text);
    expect(failing).toThrow(PathSyntaxError);
    expect(failing).toThrow(expect.objectContaining({ offset }));
  });

  test('a pattern is not a path', () => {
    expect(() => parsePath('a[*]')).toThrow('name one element by its place');
    expect(() => parsePath('..a')).toThrow(PathSyntaxError);
  });

  test('printing and reading give the same again', () => {
    fc.assert(
      fc.property(pattern, (segments) => {
        expect(parsePattern(printPath(segments))).toEqual(segments);
      }),
    );
    fc.assert(
      fc.property(path, (segments) => {
        expect(isPath(parsePattern(printPath(segments)))).toBe(true);
      }),
    );
  });
});

describe('JSON Pointers', () => {
  // RFC 6901 section 5 and 6: a pointer, its fragment, and the path that it names in the section's
  // document.
  test.each([
    ['', '#', []],
    ['/foo', '#/foo', ['foo']],
    ['/foo/0', '#/foo/0', ['foo', 0]],
    ['/', '#/', ['']],
    ['/a~1b', '#/a~1b', ['a/b']],
    ['/c%d', '#/c%25d', ['c%d']],
    ['/e^f', '#/e%5Ef', ['e^f']],
    ['/g|h', '#/g%7Ch', ['g|h']],
    ['/i\\j', '#/i%5Cj', ['i\\j']],
    ['/k"l', '#/k%22l', ['k"l']],
    ['/ ', '#/%20', [' ']],
    ['/m~0n', '#/m~0n', ['m~n']],
  ])('%s is %s', (pointer, fragment, segments) => {
    expect(parsePointer(pointer)).toEqual(segments);
    expect(parsePointer(fragment)).toEqual(segments);
    expect(toPointer(segments)).toBe(pointer);
    expect(toFragment(segments)).toBe(fragment);
  });

  test.each(['foo', '/a~2', '/a~', '#/%E0%A4%A'])('refuses %s', (text) => {
    expect(() => parsePointer(text)).toThrow(PointerSyntaxError);
  });

  test('a path comes back from its pointer, digits as places', () => {
    fc.assert(
      fc.property(path, (segments) => {
        const asPlaces = segments.map((segment) =>
          /^(0|[1-9]\d{0,14})$/.test(String(segment)) ? Number(segment) : segment,
        );
        expect(parsePointer(toPointer(segments))).toEqual(asPlaces);
        const wellFormed = asPlaces.map((segment) =>
          typeof segment === 'string' ? segment.toWellFormed() : segment,
        );
        expect(parsePointer(toFragment(segments))).toEqual(wellFormed);
      }),
    );
  });
});

/** The plainest way to say what a pattern covers. */
function covers(by: Pattern, what: Pattern): boolean {
  const [first, ...rest] = by;
  if (first === undefined) return what.length === 0;
  if (first === ANY_DEPTH) return what.some((_, at) => covers(rest, what.slice(at)));
  const [segment, ...others] = what;
  if (segment === undefined) return false;
  const open = typeof segment === 'number' ? ANY_ELEMENT : ANY_KEY;
  return (first === segment || first === open) && covers(rest, others);
}

describe('the trie of patterns', () => {
  test('finds exactly the patterns that cover a path', () => {
    fc.assert(
      fc.property(fc.array(narrowPattern, { maxLength: 8 }), narrowPath, (patterns, wanted) => {
        const trie = new PatternTrie<string>();
        for (const one of patterns) trie.at(one, () => printPath(one));
        const expected = new Set(patterns.filter((one) => covers(one, wanted)).map(printPath));
        expect(new Set(trie.matches(wanted))).toEqual(expected);
      }),
    );
  });

  test.each([
    ['targets[2].name', ['targets[2].name', 'targets[*].name', 'targets..name', '..name']],
    ['extras.name', ['extras.*', '..name']],
    ['targets[*].name', ['targets[*].name', 'targets..name', '..name']],
    ['deep.down[0].name', ['..name']],
  ])('gives the most literal first for %s', (wanted, expected) => {
    const trie = new PatternTrie<string>();
    for (const one of ['..name', 'targets..name', 'targets[*].name', 'extras.*', 'targets[2].name'])
      trie.at(parsePattern(one), () => one);
    expect(trie.matches(parsePattern(wanted))).toEqual(expected);
  });

  test('many open depths in one pattern take no exponential time', () => {
    const trie = new PatternTrie<string>();
    trie.at(parsePattern('..a'.repeat(20)), () => 'found');
    expect(trie.matches([...Array<string>(60).fill('a'), 'b'])).toEqual([]);
  });
});

describe('places', () => {
  test.each([
    ['targets[2].exposures[0].seconds', undefined, { targets_number: 2, exposures_number: 0 }],
    ['grid[1][2]', undefined, { grid_number: 1, grid_number_2: 2 }],
    ['[3].name', undefined, { item_number: 3 }],
    ['["odd.name"][0]', undefined, { odd_name_number: 0 }],
    ['["2nd"][0]', undefined, { _2nd_number: 0 }],
    ['extras.colour', 'extras.*', { extras_key: 'colour' }],
    ['extras.colour[1]', 'extras.*[*]', { extras_key: 'colour', extras_number: 1 }],
    ['lead.name', 'lead.name', {}],
  ])('of %s', (concrete, declared, expected) => {
    const segments = parsePath(concrete);
    const places = placesOn(segments, declared === undefined ? undefined : parsePattern(declared));
    expect(Object.fromEntries(places.map(({ argument, at }) => [argument, segments[at]]))).toEqual(
      expected,
    );
  });

  test('the elements around a value do not hold the value itself', () => {
    expect(enclosingElements(parsePath('targets[2].exposures[0]')).map(printPath)).toEqual([
      'targets[2]',
    ]);
    expect(enclosingElements([])).toEqual([]);
  });

  test.each([
    ['firstNight', 'first night'],
    ['lead.eMail_address', 'e mail address'],
    ['HTTPStatus', 'http status'],
    ['targets[2]', 'targets 3'],
    ['', ''],
  ])('%s is called %s', (text, expected) => {
    expect(lastWord(parsePath(text), parsePath(text), (word) => word, String)).toBe(expected);
  });
});

test('every name that JSON has is part of a path: it prints, reads and points', () => {
  const names = fc.oneof(
    fc.string({ unit: 'binary' }),
    fc.constantFrom('\u007f', '\u0085\u009f', '\u0000"\\', '\ud800', '*', '..', ''),
  );
  fc.assert(
    fc.property(fc.array(fc.oneof(names, fc.nat()), { maxLength: 6 }), (path) => {
      expect(parsePath(printPath(path))).toEqual(path);
      expect(parsePointer(toPointer(path)).map(String)).toEqual(path.map(String));
    }),
    { numRuns: 1000 },
  );
  expect(parsePath(printPath(['x'.repeat(100_000)]))).toHaveLength(1);
  expect(() => parsePath('a.'.repeat(250_000) + 'b')).toThrow('more than 200 segments');
});
