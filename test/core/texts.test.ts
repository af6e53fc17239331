import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseLocale, type Locale } from '../../src/core/locale/tag.js';
import { MAY_HOLD, whatMayBeIn } from '../../src/core/message/may-hold.js';
import { readMessage } from '../../src/core/message/parse.js';
import { plainSignature } from '../../src/core/message/simple.js';
import { argumentsOf, type MessageNode } from '../../src/core/message/tree.js';
import { isCoveredBy, meet } from '../../src/core/path/cover.js';
import {
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  parsePattern,
  printPath,
  type Path,
  type Pattern,
} from '../../src/core/path/path.js';
import { PatternTrie } from '../../src/core/path/trie.js';
import type { Pack } from '../../src/core/pack/pack.js';
import { packLocale } from '../../src/core/pack/packer.js';
import { unpack } from '../../src/core/pack/unpack.js';
import { overview } from '../../src/core/texts/overview.js';
import { Purposes } from '../../src/core/texts/purpose.js';
import { readCatalog } from '../../src/core/texts/read.js';
import { Table } from '../../src/core/texts/table.js';
import { Sentences } from '../../src/core/violation/sentence.js';
import { World } from '../support/world.js';

type Json = Record<string, unknown>;

const [en, de, fr] = ['en', 'de', 'fr'].map((tag) => parseLocale(tag)) as [Locale, Locale, Locale];

/** A table of files, and which of them were read. */
function tableOf(files: readonly (readonly [Locale, Json])[]): { table: Table; read: number[] } {
  const read: number[] = [];
  const table = new Table({
    original: en,
    files: files.map(([locale], at) => ({ file: String(at), locale })),
    read: (file, purposes) => {
      read.push(Number(file));
      const [locale, root] = files[Number(file)] ?? [en, {}];
      return readCatalog(root, file, locale, 'written', purposes).catalog;
    },
    starter: () => undefined,
    titles: () => [],
  });
  return { table, read };
}

const label = { kind: 'label', path: 'title', key: '' } as const;

describe('the table of texts', () => {
  test('reads the files of a language when somebody asks for one of its texts, once, and no others', () => {
    const { table, read } = tableOf([
      [en, { messages: { required: 'en' } }],
      [de, { messages: { required: 'de' } }],
      [fr, {}],
      [de, { messages: { maxLength: 'de' } }],
    ]);
    expect(table.at(de, { kind: 'message', key: 'required' })?.text).toBe('de');
    expect(table.column(de)).toBe(table.column(de));
    expect(read).toEqual([1, 3]);
    expect(table.catalogs.map(({ locale }) => locale)).toEqual([en, de, fr, de]);
    expect(read).toEqual([1, 3, 0, 2]);
  });

  test('has one purpose for a path in all spellings, and the keys of each file as it spells them', () => {
    const { table } = tableOf([
      [en, { fields: { '["title"]': { label: 'title' } } }],
      [de, { fields: { title: { label: { text: 'Titel', note: 'short' } } } }],
    ]);
    const [one, other] = [table.at(en, label), table.at(de, label)];
    expect(one?.purpose).toBe(other?.purpose);
    expect([one?.origin.keys, other?.origin.keys]).toEqual([
      ['fields', '["title"]', 'label'],
      ['fields', 'title', 'label', 'text'],
    ]);
    expect(other?.details.note).toBe('short');
  });

  test('lets the later of two texts hold, and a label only with its own forms', () => {
    const { table } = tableOf([
      [
        en,
        {
          fields: {
            title: { label: { text: 'first', genitive: 'of the first', gender: 'neuter' } },
          },
        },
      ],
      [en, { fields: { title: { label: 'second' } }, messages: { required: 'a' } }],
      [en, { messages: { required: 'b' } }],
    ]);
    const holds = table.at(en, label);
    expect([holds?.text, holds?.inflections.size, holds?.details.gender]).toEqual([
      'second',
      0,
      undefined,
    ]);
    expect(table.at(en, { ...label, key: 'genitive' })).toBeUndefined();
    expect(table.allAt(en, { kind: 'message', key: 'required' }).map(({ file }) => file)).toEqual([
      '2',
      '1',
    ]);
    expect(table.column(en).covered.map(({ text }) => text)).toEqual([
      'first',
      'of the first',
      'a',
    ]);
    expect(overview(table).map(({ key, texts }) => [key, texts.get(en)?.text])).toEqual([
      ['', 'second'],
      ['required', 'b'],
    ]);
  });

  test('makes a pseudo-locale of the original, forms of labels too', () => {
    const { table } = tableOf([
      [en, { fields: { title: { label: { text: 'title', genitive: 'of {title}' } } } }],
    ]);
    const entry = table.at(parseLocale('en-XA'), label);
    expect(entry?.text).not.toBe('title');
    expect(entry?.text.normalize('NFD').replace(/[^a-z]/g, '')).toContain('t');
    expect([...(entry?.inflections.get('genitive')?.signature.names ?? [])]).toEqual(['title']);
  });

  test('says what is wrong with a file, and reads the rest', () => {
    const { catalog, members } = readCatalog(
      {
        locale: 'en',
        messages: { required: 3, type: 'x' },
        fields: { 'a..': {}, b: 1 },
        problems: { p: { titel: 'x' } },
      },
      'en.json',
      en,
      'written',
      new Purposes(),
    );
    expect(catalog.remarks.map(({ spot }) => spot?.keys.join(' '))).toEqual([
      'messages required',
      'fields a..',
      'fields b',
      'problems p titel',
    ]);
    expect([catalog.texts.map(({ text }) => text), members]).toEqual([['x'], 10]);
  });
});

const segment = fc.constantFrom<Pattern[number]>('a', 'b', 0, 1, ANY_ELEMENT, ANY_KEY);
const pattern: fc.Arbitrary<Pattern> = fc
  .array(
    fc.oneof(
      { weight: 6, arbitrary: segment },
      { weight: 1, arbitrary: fc.constant('..' as const) },
    ),
    { maxLength: 4 },
  )
  .map((parts) => parts.flatMap((part): Pattern => (part === '..' ? [ANY_DEPTH, 'a'] : [part])));
const path: fc.Arbitrary<Path> = fc.array(fc.constantFrom<string | number>('a', 'b', 0, 1), {
  maxLength: 5,
});

describe('patterns beside each other', () => {
  const inTrie = (wide: Pattern, narrow: Pattern): boolean => {
    const trie = new PatternTrie<true>();
    trie.at(wide, () => true);
    return trie.matches(narrow).length > 0;
  };

  test('cover what a lookup says that they cover, and meet in just the paths that both cover', () => {
    fc.assert(
      fc.property(pattern, pattern, path, (one, other, at) => {
        expect([printPath(one), printPath(other), isCoveredBy(one, other)]).toEqual([
          printPath(one),
          printPath(other),
          inTrie(one, other),
        ]);
        const shared = meet(one, other);
        const both = isCoveredBy(one, at) && isCoveredBy(other, at);
        if (shared)
          expect([printPath(shared), isCoveredBy(shared, at)]).toEqual([printPath(shared), both]);
        else if (!one.includes(ANY_DEPTH) && !other.includes(ANY_DEPTH)) expect(both).toBe(false);
      }),
      { numRuns: 3000 },
    );
  });

  test('an element named by its place meets the elements of all places', () => {
    const shared = meet(parsePattern('targets[0].*'), parsePattern('targets[*].name'));
    expect(shared && printPath(shared)).toBe('targets[0].name');
  });
});

describe('an element that texts name by its place', () => {
  const named = {
    label: 'name of the main target',
    messages: { required: 'The main target needs a name.' },
  };
  const world = new World({
    forms: { f: { fields: { 'targets[*].name': { required: true, maxLength: 3 } } } },
    texts: [
      {
        locale: 'en',
        messages: {
          required: '{label_start} please.',
          maxLength: '{place}, {label}: at most {max}.',
        },
        fields: {
          targets: { label: 'targets' },
          'targets[*]': { label: 'target {targets_number}' },
          'targets[0]': { label: 'main target' },
          'targets[*].name': { label: 'name' },
          'targets[0].name': named,
        },
      },
    ],
  });
  const SENTENCES = [
    ['targets[0].name', 'required', 'The main target needs a name.'],
    ['targets[2].name', 'required', 'Name please.'],
    ['targets[0].name', 'maxLength', 'main target, name of the main target: at most 3.'],
    ['targets[1].name', 'maxLength', 'target 2, name: at most 3.'],
    ['targets[57].name', 'maxLength', 'target 58, name: at most 3.'],
  ] as const;

  test.each(SENTENCES)('%s %s', (at, rule, text) => {
    expect(world.say({ path: at, rule }).text).toBe(text);
  });

  test('is not called shadowed, nor unused', () => {
    const kinds = world.check().findings.map(({ kind, path: at }) => `${kind} ${at ?? ''}`);
    expect(kinds.filter((kind) => /^(shadowed|unused|unruled)/.test(kind))).toEqual([]);
  });

  test('has its texts in a pack, and its rules are those of all elements', () => {
    const [index] = world.forms;
    if (!index) throw new Error('no form');
    const options = {
      zone: 'UTC',
      shorten: 40,
      perField: 'all' as const,
      maxViolations: 100,
      statuses: new Map<string, number>(),
    };
    const packed = packLocale(
      { forms: [index.form], texts: world.texts, original: en, parents: {}, options, rules: [] },
      en,
    );
    const only = packed.forms.f?.fields.filter((field) => field.texts).map((field) => field.path);
    expect(only).toEqual(['targets[0]', 'targets[0].name']);
    const { forms, texts } = unpack(JSON.parse(JSON.stringify({ ...packed, hash: '' })) as Pack);
    const own = forms.get('f');
    if (!own) throw new Error('no form in the pack');
    for (const [at, rule, text] of SENTENCES)
      expect(
        new Sentences(texts, own, { zone: 'UTC', shorten: 40 }).say({ path: at, rule }, en).text,
      ).toBe(text);
  });
});

/** What each bit is there for, as the checks that ask for it look for it. */
const SIGNS: readonly (readonly [number, RegExp])[] = [
  [MAY_HOLD.digit, /[0-9]/],
  [MAY_HOLD.markup, /[<&]/],
  [MAY_HOLD.code, /[.[\]/]\w|_|[a-z][A-Z]|\p{Ll}\p{Lu}/u],
  [MAY_HOLD.space, / {2}|[\t\n\r\u00a0\u202f\u3000\ufeff]| [,.;:!?]|^ | $/],
  [
    MAY_HOLD.bothDirections,
    /\p{Script=Latin}{2}.*[\u0590-\u08ff]{2}|[\u0590-\u08ff]{2}.*\p{Script=Latin}{2}/u,
  ],
  [
    MAY_HOLD.lookAlike,
    /\p{Script=Latin}[\p{Script=Greek}\p{Script=Cyrillic}]|[\p{Script=Greek}\p{Script=Cyrillic}]\p{Script=Latin}/u,
  ],
  [MAY_HOLD.argument, /[{}]/],
  [MAY_HOLD.pause, /[:;!?«»]/],
];

const odd = fc.constantFrom(
  ...Array.from("aZé_.[/ ,:9<&{}'«\t\u00a0\u3000жΩΆאبﷲ漢Ａａ\u{10400}\u{10428}ⰀⴰꙀꚀΩἀ"),
);
const text = fc.array(odd, { maxLength: 8 }).map((signs) => signs.join(''));

describe('a text looked at once', () => {
  test('is known to hold everything that a check may find in it', () => {
    fc.assert(
      fc.property(text, (one) => {
        const holds = whatMayBeIn(one, false);
        for (const [bit, sign] of SIGNS)
          if (sign.test(one)) expect([one, holds & bit]).toEqual([one, bit]);
      }),
      { numRuns: 2000 },
    );
  });

  test('is plain where the parser makes no more of it than words and names, and has their names', () => {
    const shift = (node: MessageNode, by: number): MessageNode => ({
      ...node,
      start: node.start - by,
      end: node.end - by,
    });
    const parts = fc.array(
      fc.constantFrom('{a}', '{b_1}', "it's ", "'", 'x', '{', '}', '{a b}', '{n, number}', '#'),
      {
        maxLength: 5,
      },
    );
    fc.assert(
      fc.property(parts, (list) => {
        // An apostrophe at the end would quote the brace behind it.
        const one = `${list.join('')}.`;
        const signature = plainSignature(one);
        if (!signature) return;
        const before = '{s, select, other {';
        const [outer] = readMessage(`${before}${one}}}`);
        if (outer?.kind !== 'select') throw new Error('the parser does not take it');
        const inner = (outer.cases[0]?.message ?? []).map((node) => shift(node, before.length));
        expect(readMessage(one)).toEqual(inner);
        expect([...signature.names]).toEqual([...argumentsOf(inner).keys()]);
      }),
      { numRuns: 1000 },
    );
  });
});
