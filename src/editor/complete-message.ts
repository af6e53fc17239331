import { offersOf, FIELD_NAMES } from '../core/check/kinds/offers.js';
import type { Row } from '../core/check/subject/context.js';
import { categoriesOf } from '../core/check/kinds/plurals.js';
import { fixedKeys } from '../core/check/kinds/select-mismatch.js';
import { PROBLEM_ARGUMENTS } from '../core/body/problem-arguments.js';
import { messageCursor } from '../core/message/cursor.js';
import type { Locale } from '../core/locale/tag.js';
import { placesOn } from '../core/path/places.js';
import { VOCABULARY } from '../core/rules/vocabulary.js';
import { FRAMES, wordArguments, type Address, type FrameName } from '../core/texts/purpose.js';
import { argumentMeaning } from '../workspace/editing/briefing.js';
import type { Extent } from './positions.js';
import type { Pattern } from '../core/path/path.js';
import { inSnippet, Sort, type Offer } from './complete-items.js';

/** A text that somebody types in. */
export interface TypedMessage {
  readonly text: string;
  readonly offset: number;
  readonly locale: Locale;
  readonly address: Address;
  readonly pattern: Pattern | undefined;
  /** The rules that it is for. */
  readonly rows: readonly Row[];
}

const shared = (sets: readonly ReadonlySet<string>[]): string[] => {
  const [first, ...others] = sets;
  return first ? [...first].filter((name) => others.every((set) => set.has(name))) : [];
};

/** The arguments that a text may say. */
function argumentNames({ address, rows, pattern }: TypedMessage): string[] {
  const { kind, key } = address;
  const [first = '', second = ''] = key.split(' ');
  switch (kind) {
    case 'message':
    case 'inline': {
      if (rows.length > 0) return shared(rows.map(offersOf));
      return [...FIELD_NAMES, ...(VOCABULARY.get(key)?.arguments ?? []).map(({ name }) => name)];
    }
    case 'label':
    case 'choice':
      return pattern ? placesOn(pattern).map(({ argument }) => argument) : [];
    case 'frame':
      return [...FRAMES[key as FrameName]];
    case 'word':
      return second === '' ? [] : [...wordArguments(key)];
    case 'problem':
      return [...(PROBLEM_ARGUMENTS[first] ?? [])];
  }
}

/** Returns the uses of an argument besides insertion (plural, select, formats). */
function uses(name: string, { rows, locale, address }: TypedMessage): Offer[] {
  const [row] = rows;
  const rule = row?.use.rule ?? address.key;
  const known = VOCABULARY.get(rule)?.arguments.find((one) => one.name === name);
  const isNumber =
    known?.kind === 'number' ||
    typeof row?.use.params[name] === 'number' ||
    /^(?:count|fields|seconds)$/.test(name);
  const isKey =
    known?.kind === 'key' || /^has_|^(?:nested|hint|exclusive|located|timed)$|_gender$/.test(name);
  if (isNumber) {
    const cases = categoriesOf(locale, 'cardinal').map(
      (category, at) => `${category} {# $${at + 1}\\}`,
    );
    return [
      {
        name: `${name}, plural, …`,
        kind: Sort.Snippet,
        rank: 6,
        detail: `counts with {${name}}`,
        snippet: `${name}, plural, ${cases.join(' ')}`,
      },
    ];
  }
  if (!isKey) return [];
  const keys =
    fixedKeys(name, rule) ?? (name.startsWith('has_') || name === 'timed' ? ['yes'] : []);
  const cases = [...keys.filter((key) => key !== 'no' && key !== 'value'), 'other'].map(
    (key, at) => `${key} {$${at + 1}\\}`,
  );
  return [
    {
      name: `${name}, select, …`,
      kind: Sort.Snippet,
      rank: 6,
      detail: `chooses by {${name}}`,
      snippet: `${name}, select, ${cases.join(' ')}`,
    },
  ];
}

/** Returns the completions at a place of a message, and the part of the text that they replace. */
export function messageOffers(typed: TypedMessage): {
  readonly offers: readonly Offer[];
  readonly extent: Extent;
} {
  const { text, offset, locale, rows, address } = typed;
  const cursor = messageCursor(text, offset);
  if (cursor.in === 'text') return { offers: [], extent: { from: offset, to: offset } };
  const rest = /^[\w=]*/.exec(text.slice(offset))?.[0].length ?? 0;
  const extent = { from: cursor.from, to: offset + rest };
  const close = text[extent.to] === '}' || text[extent.to] === ',' ? '' : '}';
  switch (cursor.in) {
    case 'name':
      return {
        extent,
        offers: argumentNames(typed).flatMap((name): Offer[] => [
          {
            name,
            kind: Sort.Variable,
            rank: FIELD_NAMES.has(name) ? 5 : 4,
            detail: argumentMeaning(name, address, rows[0]).replaceAll('`', ''),
            snippet: inSnippet(`${name}${close}`),
          },
          ...uses(name, typed).map((offer) => ({
            ...offer,
            snippet: `${offer.snippet ?? ''}${inSnippet(close)}`,
          })),
        ]),
      };
    case 'type':
      return {
        extent,
        offers: ['plural', 'select', 'selectordinal', 'number', 'date', 'time'].map((name) => ({
          name,
          kind: Sort.Keyword,
        })),
      };
    case 'style':
      return {
        extent,
        offers: (cursor.type === 'number'
          ? ['integer', 'percent']
          : ['short', 'medium', 'long', 'full']
        ).map((name) => ({
          name,
          kind: Sort.Value,
        })),
      };
    case 'case': {
      const type = cursor.type === 'selectordinal' ? 'ordinal' : 'cardinal';
      const all =
        cursor.type === 'select'
          ? [
              ...(fixedKeys(cursor.name, rows[0]?.use.rule ?? address.key) ??
                (cursor.name.startsWith('has_') ? ['yes'] : [])),
              'other',
            ]
          : [...categoriesOf(locale, type), '=0', '=1'];
      const names = all.filter((name) => !cursor.there.includes(name));
      const opens = text[extent.to] === '{' || text.startsWith(' {', extent.to);
      return {
        extent,
        offers: names.map((name, at) => ({
          name,
          kind: Sort.EnumMember,
          rank: Math.min(9, 1 + at),
          detail: `a case of {${cursor.name}}`,
          snippet: opens
            ? inSnippet(name)
            : `${inSnippet(name)} {${cursor.type === 'select' ? '' : '# '}$1\\}`,
        })),
      };
    }
  }
}
