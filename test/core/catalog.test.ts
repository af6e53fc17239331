import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { AlikeCatalog, CatalogFamily } from '../../src/core/catalog/alike.js';
import { eachText, type Catalog } from '../../src/core/catalog/catalog.js';
import { Glue } from '../../src/core/catalog/glue.js';
import { readCatalog } from '../../src/core/catalog/read.js';
import { Skeleton } from '../../src/core/catalog/skeleton.js';
import { parseLocale } from '../../src/core/locale/tag.js';
import { parseMessage } from '../../src/core/message/parse.js';
import { plainSignature } from '../../src/core/message/simple.js';
import { TRAIT, traitsOf } from '../../src/core/message/traits.js';
import { argumentsOf, type MessageNode } from '../../src/core/message/tree.js';
import { memberName } from '../support/arbitraries.js';
import { MISTAKES, title } from '../support/mistakes.js';
import { WORDING_MISTAKES } from '../support/wording-mistakes.js';
import { World } from '../support/world.js';

const { texts: objects } = fc.letrec<{ texts: object; member: unknown }>((tie) => ({
  texts: fc.array(fc.tuple(memberName, tie('member')), { maxLength: 4 }).map((entries) => Object.fromEntries(entries) as object),
  member: fc.oneof({ depthSize: 'small' }, fc.string(), tie('texts')),
}));

type Json = Record<string, unknown>;

describe('the skeleton of an object of texts', () => {
  test('gives the object again, knows what leads to each text, and refuses an object of other keys', () => {
    fc.assert(
      fc.property(objects, memberName, (object, key) => {
        const value = object as Json;
        const skeleton = Skeleton.of(value);
        const texts = skeleton?.textsOf(value) ?? [];
        expect(JSON.stringify(skeleton?.filled(texts))).toBe(JSON.stringify(value));
        const trails = [...(skeleton?.trails() ?? [])];
        expect(trails.map((keys) => keys.reduce<unknown>((inner, one) => (inner as Json)[one], value))).toEqual(texts);
        if (!Object.hasOwn(value, key)) expect(skeleton?.textsOf({ ...value, [key]: 'more' })).toBeUndefined();
        expect(Skeleton.of({ ...value, [key]: 3 })).toBeUndefined();
      }),
    );
  });
});

describe('the glue of a file', () => {
  const plain = fc.record({
    object: fc.dictionary(
      fc.stringMatching(/^[a-z]{1,3}$/),
      fc.oneof(fc.string(), fc.dictionary(fc.constantFrom('a', 'b'), fc.string())),
    ),
    indent: fc.constantFrom(0, 1, 2),
  });

  test('takes apart what the parser takes apart, and only what it takes', () => {
    const change = fc.tuple(
      fc.nat(),
      fc.nat({ max: 2 }),
      fc.constantFrom('', '"', '\\', '\n', '\t', ' ', ':', 'x', '{', ',', '\\"'),
    );
    fc.assert(
      fc.property(plain, plain, change, ({ object, indent }, other, [where, much, sign]) => {
        const source = JSON.stringify(object, undefined, indent);
        const skeleton = Skeleton.of(object);
        const texts = skeleton?.textsOf(object) ?? [];
        const glue = Glue.of(source, texts, skeleton?.members ?? 0);
        expect(glue === undefined).toBe(source.includes('\\'));
        if (!glue || !skeleton) return;
        expect(glue.textsOf(source)).toEqual(texts);
        const others = JSON.stringify(
          skeleton.filled(texts.map((_, at) => JSON.stringify(other.object).slice(at, at + 4))),
          undefined,
          indent,
        );
        const at = where % (source.length + 1);
        for (const changed of [others, source.slice(0, at) + sign + source.slice(at + much)]) {
          const found = glue.textsOf(changed);
          if (found) expect(skeleton.textsOf(JSON.parse(changed) as Json)).toEqual(found);
          else if (changed === others) expect(changed).toContain('\\');
        }
      }),
      { numRuns: 1000 },
    );
  });

  test.each([
    ['a name twice', '{"a":{},"a":{"b":"x"}}'],
    ['numbers for names', '{"b":"x","1":"x"}'],
    ['a comment', '{"a":"x" /* "b" */}'],
  ])('is of no file with %s', (_, source) => {
    const root = source.includes('/*') ? { a: 'x' } : (JSON.parse(source) as Json);
    const skeleton = Skeleton.of(root);
    const glue = skeleton?.keepsOrder ? Glue.of(source, skeleton.textsOf(root) ?? [], skeleton.members) : undefined;
    expect(glue).toBeUndefined();
  });

  test('gives catalogs that are not parsed, with the locales that they name', () => {
    const family = new CatalogFamily();
    const file = (locale: string, label: string): string =>
      JSON.stringify({ locale, form: 'f', messages: { required: `${label}!` }, fields: { title: { label } } }, undefined, 2);
    const read = (source: string, locale = 'en'): Catalog | undefined =>
      family.match(source, 'x.json') ?? family.read(JSON.parse(source) as Json, 'x.json', parseLocale(locale), source).catalog;
    expect(read(file('en', 'title'))).not.toBeInstanceOf(AlikeCatalog);
    const alike = read(file('de-at', 'Titel'));
    expect([alike?.locale, alike?.form, alike?.fields[0]?.label?.base.text]).toEqual(['de-AT', 'f', 'Titel']);
    expect(family.match(file('no_tag', 'x'), 'x.json')).toBeUndefined();
    expect(family.match(file('de', 'x').replace('"f"', '"g"'), 'x.json')).toBeUndefined();
  });
});

const shown = (catalog: Catalog): unknown[] => {
  const found: unknown[] = [];
  eachText(catalog, ({ text, origin, locale, signature, traits }, kind, key, field) => {
    found.push([kind, key, field?.path, text, origin, locale, [...signature.names], traits]);
  });
  return found;
};

const file = (say: (what: string) => string): Json => ({
  locale: 'en',
  form: 'night-log',
  messages: { required: say('{label}'), 'plain-words': say('{n, plural, one {a} other {b}}') },
  fields: {
    '["title"]': { label: say('title'), messages: { maxLength: say('{max} {label}') } },
    '12': { label: { text: say('x'), genitive: say('y'), gender: 'feminine' }, choices: { ha: say('z') } },
  },
  problems: { conflict: { title: say('t'), detail: say('{broken') } },
});

describe('a catalog with the keys of another', () => {
  const family = new CatalogFamily();
  const first = family.read(
    file((what) => what),
    'en.json',
    parseLocale('en'),
    '',
  ).catalog;
  const others = file((what) => `${what} (de)`);
  const second = family.read(others, 'de.json', parseLocale('de'), '').catalog;

  test('has the texts, places and meanings that it has when it is read whole, and is not read whole for them', () => {
    expect(first).not.toBeInstanceOf(AlikeCatalog);
    if (!(second instanceof AlikeCatalog)) throw new Error('not taken for alike');
    const whole = readCatalog(others, 'de.json', parseLocale('de')).catalog;
    const made = second.template.slots.map((slot) => {
      const { text, origin, locale, signature, traits } = second.entry(slot);
      return [slot.kind, slot.key, slot.field?.path, text, origin, locale, [...signature.names], traits];
    });
    expect(made).toEqual(shown(whole));
    expect([second.hasBroken, second.isWhole]).toEqual([true, false]);
    expect(shown(second)).toEqual(shown(whole));
    expect([second.isWhole, second.form, second.remarks]).toEqual([true, 'night-log', []]);
  });

  test.each<[string, (root: Json) => Json]>([
    ['another form', (root) => ({ ...root, form: 'proposal' })],
    ['a key more', (root) => ({ ...root, messages: { ...(root.messages as Json), more: 'x' } })],
    ['a note beside a text', (root) => ({ ...root, messages: { required: { text: 'x', note: 'y' }, 'plain-words': 'x' } })],
    ['a limit', (root) => ({ ...root, problems: { conflict: { title: { text: 'x', limit: 3 }, detail: 'x' } } })],
    ['no text', (root) => ({ ...root, problems: { conflict: { title: 3, detail: 'x' } } })],
  ])('is read whole where it has %s', (_, change) => {
    const { catalog, members } = family.read(change(others), 'de.json', parseLocale('de'), '');
    expect(catalog).not.toBeInstanceOf(AlikeCatalog);
    expect(members).toBe(readCatalog(change(others), 'de.json', parseLocale('de')).members);
  });

  // Each mistake stands in a language, in two others with the same keys, and beside two without it.
  test.each([...MISTAKES, ...WORDING_MISTAKES])('gives the findings of one read whole: $kind, $says', (one) => {
    const { fields = title, languages = ['en'] } = one;
    const mended = one.mended.texts ?? one.texts;
    const texts = [
      ...one.texts,
      ...['fr', 'el'].flatMap((locale) => one.texts.slice(0, 1).map((root) => ({ ...root, locale }))),
      ...['it', 'uk'].flatMap((locale) => mended.slice(0, 1).map((root) => ({ ...root, locale }))),
    ];
    const [large, small] = [true, false].map((isLarge) =>
      new World({ forms: { f: { fields } }, texts, large: isLarge }).check(...languages, 'fr', 'el', 'it', 'uk'),
    );
    expect(large).toEqual(small);
  });
});

/** What each trait is there for, as the checks that ask for it look for it. */
const SIGNS: readonly (readonly [number, RegExp])[] = [
  [TRAIT.digit, /[0-9]/],
  [TRAIT.markup, /[<&]/],
  [TRAIT.code, /[.[\]/]\w|_|[a-z][A-Z]|\p{Ll}\p{Lu}/u],
  [TRAIT.space, / {2}|[\t\n\r\u00a0\u202f\u3000\ufeff]| [,.;:!?]|^ | $/],
  [TRAIT.rightToLeft, /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufefc]/],
  [TRAIT.lookAlike, /[\p{Script=Greek}\p{Script=Cyrillic}]/u],
  [TRAIT.argument, /[{}]/],
  [TRAIT.pause, /[:;!?«»]/],
];

const odd = fc.constantFrom(...Array.from("aZé_.[/ ,:9<&{}'«\t\u00a0\u3000жΩΆאبﷲ漢Ａａ\u{10400}\u{10428}ⰀⴰꙀꚀΩἀ"));
const text = fc.array(odd, { maxLength: 8 }).map((signs) => signs.join(''));

describe('a text looked at once', () => {
  test('has the trait of everything that a check may find in it', () => {
    fc.assert(
      fc.property(text, (one) => {
        const traits = traitsOf(one, false);
        for (const [trait, sign] of SIGNS) if (sign.test(one)) expect([one, traits & trait]).toEqual([one, trait]);
      }),
      { numRuns: 2000 },
    );
  });

  test('is plain where the parser makes no more of it than words and names, and has their names', () => {
    const shift = (node: MessageNode, by: number): MessageNode => ({ ...node, start: node.start - by, end: node.end - by });
    const parts = fc.array(fc.constantFrom('{a}', '{b_1}', "it's ", "'", 'x', '{', '}', '{a b}', '{n, number}', '#'), {
      maxLength: 5,
    });
    fc.assert(
      fc.property(parts, (list) => {
        // An apostrophe at the end would quote the brace behind it.
        const one = `${list.join('')}.`;
        const signature = plainSignature(one);
        if (!signature) return;
        const before = '{s, select, other {';
        const [outer] = parseMessage(`${before}${one}}}`);
        if (outer?.kind !== 'select') throw new Error('the parser does not take it');
        const inner = (outer.cases[0]?.message ?? []).map((node) => shift(node, before.length));
        expect(parseMessage(one)).toEqual(inner);
        expect([...signature.names]).toEqual([...argumentsOf(inner).keys()]);
      }),
      { numRuns: 1000 },
    );
  });
});
