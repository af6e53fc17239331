import { getOrMake } from '../../../base/get-or-make.js';
import type { Locale } from '../../../locale/tag.js';
import type { Met } from '../../../texts/terms.js';
import { aboutText, type CheckedText } from '../../subject/checked-text.js';
import type { Kind } from '../../subject/kind.js';
import type { Entry } from '../../../texts/entry.js';

/** Returns the matches in the words of a message, each with its offset in the whole text. */
const inWords = (entry: Entry, find: (text: string) => readonly Met[]): Met[] =>
  entry.error
    ? []
    : entry
        .textNodes()
        .flatMap(({ text, start }) =>
          find(text).map((met) => ({ ...met, offset: start + met.offset })),
        );

export const termMissing: Kind = {
  kind: 'term-missing',
  severity: 'warning',
  about:
    'The original says a term of the house, and the translation has not the term that its language has for it.',
  remedy: 'Say the term, or add the form that the text has to the file of terms.',
  example:
    '"label": "Schlafplatz"   // the original: "berth"; terms: { "en": "berth", "de": "Bett" }',
  look: ({ subject }, report) => {
    const { terms, original: locale } = subject;
    if (!terms?.concepts.length) return undefined;
    return {
      concerns: ({ original }) => original !== undefined,
      text: (checked) => {
        const { entry, original } = checked;
        if (!original || entry.locale === locale) return;
        if (subject.texts.serves(entry.locale, locale) || entry.text === original.text) return;
        const wanted = inWords(original, (text) => terms.in(text, locale));
        if (wanted.length === 0) return;
        const said = new Set(
          inWords(entry, (text) => terms.in(text, entry.locale)).map(({ concept }) => concept),
        );
        for (const concept of new Set(wanted.map((one) => one.concept))) {
          const term = terms.of(concept, entry.locale);
          if (!term || said.has(concept)) continue;
          const word = wanted.find((one) => one.concept === concept)?.word ?? '';
          const words = [term.text, ...term.forms].map((one) => `"${one}"`).join(' or ');
          report({
            message: `The original says "${word}", and this text does not say ${words}. Say it, or add the form that it has to the terms.`,
            ...aboutText(checked),
          });
        }
      },
    };
  },
};

export const termAvoided: Kind = {
  kind: 'term-avoided',
  severity: 'warning',
  about: 'A text says a word that the terms of the house forbid for a thing.',
  remedy: 'Say the term.',
  example: '"label": "Koje"   // terms: { "de": { "text": "Bett", "never": ["Koje"] } }',
  look: ({ subject: { terms } }, report) => {
    if (!terms?.concepts.length) return undefined;
    return {
      text: (checked) => {
        const { entry } = checked;
        for (const { term, word, offset } of inWords(entry, (text) =>
          terms.avoidedIn(text, entry.locale),
        ))
          report({
            message: `"${word}" is not to be used; say "${term.text}".`,
            ...aboutText(checked, offset),
          });
      },
    };
  },
};

export const translatedTwice: Kind = {
  kind: 'translated-twice',
  severity: 'info',
  about:
    'Where a workspace has terms: one text of the original is translated in two ways, as if two things were meant.',
  remedy: 'Translate it in one way, or use two terms in the original too.',
  example: '"name": "Bezeichnung", "title": "Titel"   // both are "name" in the original',
  look: ({ subject }, report) => {
    if (!subject.terms?.concepts.length) return undefined;
    const seen = new Map<Locale, Map<string, CheckedText>>();
    return {
      sorts: ['message', 'inline', 'label', 'choice', 'problem'],
      concerns: ({ original }) => original !== undefined,
      text: (checked) => {
        const { entry, original, kind } = checked;
        if (!original || entry.locale === subject.original || entry.text === original.text) return;
        const known = getOrMake(seen, entry.locale, () => new Map<string, CheckedText>());
        const first = getOrMake(known, `${kind} ${original.text}`, () => checked);
        if (first.entry.text === entry.text) return;
        report({
          message: `The original of this text is "${first.entry.text}" elsewhere. Say it in one way.`,
          ...aboutText(checked),
        });
      },
    };
  },
};
