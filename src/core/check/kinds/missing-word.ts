import { getOrMake } from '../../base/get-or-make.js';
import type { Locale } from '../../locale/tag.js';
import type { Signature } from '../../message/signature.js';
import { formatMeant } from '../../rules/format-names.js';
import { typesOf } from '../../rules/types.js';
import type { Catalog } from '../../texts/catalog.js';
import type { FrameName, WordGroup } from '../../texts/purpose.js';
import type { Context, Row } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';

/**
 * For each frame: the arguments that are joined by it, and what stands in where a language has
 * none.
 */
const FRAMES: readonly (readonly [FrameName, RegExp, string])[] = [
  ['inside', /^(?:subject|place)(?:_|$)/, 'the mark between the parts of a list'],
  ['field', /^subject(?:_|$)/, 'the mark between the parts of a list'],
  ['quoted', /_quoted$|^(?:example|expected|types|choices(?:_literal|_listed)?)$/, '“…”'],
];

const WORDS: Readonly<Record<WordGroup, RegExp>> = {
  part: /^(?:subject|label)(?:_|$)/,
  type: /^expected_words(?:_|$)/,
  format: /^format_words(?:_|$)/,
  // Most languages write the symbols as they are.
  unit: /^$/,
};

const known = new WeakMap<Catalog, ReadonlySet<Signature>>();

/** Returns the signatures of a catalog's texts, each once. */
function signaturesOf(catalog: Catalog): ReadonlySet<Signature> {
  return getOrMake(known, catalog, () => new Set(catalog.texts.map(({ signature }) => signature)));
}

/** Returns the arguments in each language's written texts. Most texts have the same. */
function askedBy({ catalogs }: Context): ReadonlyMap<Locale, readonly string[]> {
  const signatures = new Map<Locale, Set<Signature>>();
  for (const catalog of catalogs) {
    const own = getOrMake(signatures, catalog.locale, () => new Set());
    for (const signature of signaturesOf(catalog)) own.add(signature);
  }
  return new Map(
    [...signatures].map(([locale, own]) => [
      locale,
      [...new Set([...own].flatMap(({ names }) => [...names]))],
    ]),
  );
}

/** The types and formats that rules have, each with the first rule that has it. */
function valuesOf({ rows }: Context): ReadonlyMap<string, readonly [WordGroup, string, Row]> {
  const found = new Map<string, readonly [WordGroup, string, Row]>();
  const add = (group: WordGroup, name: string, row: Row): void => {
    if (!found.has(`${group} ${name}`)) found.set(`${group} ${name}`, [group, name, row]);
  };
  for (const row of rows) {
    const { rule, params } = row.use;
    if (rule === 'type') for (const name of typesOf(params.expected)) add('type', name, row);
    if (rule === 'format') add('format', formatMeant(String(params.format)), row);
  }
  return found;
}

export const missingWord: Kind = {
  kind: 'missing-word',
  severity: 'warning',
  about:
    'Messages of a language name types or formats, quote, or join places, and the language does not say how.',
  remedy: 'Write the frame under `frames`, or the word under `words`; the starters show how.',
  example:
    '"messages": { "type": "{subject_start}: {expected_words}." }   // in a language without a starter, and no "words"',
  *find(context) {
    const { subject, texts } = context;
    const asked = askedBy(context);
    const values = context.once(valuesOf);
    for (const locale of subject.locales) {
      const names = asked.get(locale) ?? [];
      for (const [name, asks, standIn] of FRAMES) {
        if (!names.some((one) => asks.test(one)) || texts.frame('', name, locale, locale)) continue;
        yield {
          kind: 'missing-word',
          locale,
          message: `There is no frame "${name}" in ${locale}; ${standIn} stands in. Add it under "frames" in a catalog.`,
          spot: { file: subject.settings, keys: ['locales'], at: 'value' },
        };
      }
      for (const [group, name, { form, field, use }] of values.values()) {
        if (!names.some((one) => WORDS[group].test(one))) continue;
        const word =
          texts.word(form.id, group, name, locale, locale) ??
          texts.word(form.id, group, 'other', locale, locale);
        if (word && texts.serves(word.locale, locale)) continue;
        yield {
          kind: 'missing-word',
          locale,
          form: form.id,
          path: field.path,
          rule: use.rule,
          message: `The ${group} "${name}" has no word in ${locale}, and messages there name it. Add it under "words" > "${group}".`,
          spot: { ...use.origin, at: 'value' },
        };
      }
    }
  },
};
