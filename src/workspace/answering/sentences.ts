import type {
  PlainInline,
  PlainLanguage,
  PlainSentence,
  PlainSettings,
  SentencePack,
} from '../../core/pack/plain.js';
import type { Unsimple } from '../../core/pack/left-out.js';
import { SentencePacker } from '../../core/pack/sentences.js';
import { readerParents } from '../../core/pack/reader-parents.js';
import type { SentenceWriter } from '../../core/pack/writers.js';
import type { Locale } from '../../core/locale/tag.js';
import type { Unit } from '../../exchange/translations/unit.js';
import { templateOf } from '../../core/body/shapes/shapes.js';
import { answerOptions } from './answering.js';
import type { Workspace } from '../reading/workspace.js';

/**
 * The sentences of one language, how many of them need no case, and what could not be said without
 * ICU.
 */
export interface MadeSentences {
  readonly pack: SentencePack;
  readonly count: { readonly all: number; readonly simple: number };
  readonly unsimple: readonly Unsimple[];
}

/** Returns the settings of bodies, with defaults. */
function settingsOf({ offer, config }: Workspace): PlainSettings {
  const { body, shapes } = config;
  const { original, locales } = offer;
  const parents = readerParents(locales);
  const { shape, perField, maxViolations, detail, separator } = body;
  const { prefix, texts, inline, html } = body;
  return {
    original,
    locales,
    ...(Object.keys(parents).length === 0 ? {} : { parents }),
    shape,
    perField,
    maxViolations,
    detail,
    separator,
    inline,
    prefix,
    texts,
    html,
    // Whoever reads these has no shapes of its own.
    shapes: Object.fromEntries(
      [...shapes].map(([name, known]) => [
        name,
        { mediaType: known.mediaType, body: templateOf(known, body) },
      ]),
    ),
  };
}

/** All sentences of a language, of some forms only where they are named. */
export function makeSentences(
  workspace: Workspace,
  locale: Locale,
  writer: SentenceWriter,
  only?: readonly string[],
): MadeSentences {
  const all = [...workspace.forms.values()].map(({ form }) => form);
  const forms = only === undefined ? all : only.map((id) => workspace.form(id).form);
  const packer = new SentencePacker(
    {
      forms,
      texts: workspace.texts,
      options: answerOptions(workspace),
      settings: settingsOf(workspace),
    },
    locale,
    writer,
  );
  const pack = packer.pack();
  return { pack, count: packer.count, unsimple: packer.unsimple };
}

const isList = (sentence: PlainInline): sentence is readonly (PlainSentence | null)[] =>
  Array.isArray(sentence);

/** A sentence with its cases as lines of their own: what chooses them stands behind the key. */
function flat(key: string, sentence: PlainInline): [string, string][] {
  if (typeof sentence === 'string') return [[key, sentence]];
  if (isList(sentence))
    return sentence.flatMap((one, at) =>
      one === null ? [] : flat(at === 0 ? key : `${key}|or ${at}`, one),
    );
  if ('sentence' in sentence) return flat(`${key}|in ${sentence.locale}`, sentence.sentence);
  const name = 'plural' in sentence ? sentence.plural : sentence.select;
  return Object.entries(sentence.cases).flatMap(([selector, one]) =>
    flat(`${key}|${name} ${selector}`, one),
  );
}

const under = (group: string, members: Readonly<Record<string, unknown>>): [string, string][] =>
  Object.entries(members).map(([name, value]) => [`|${group}|${name}`, String(value)]);

/** Returns the lines about a language. */
function languageLines(
  { direction, quoted, numbers, lists, plurals = {} }: PlainLanguage,
  group: (name: string) => string,
): [string, string][] {
  const { sizes, ...marks } = numbers;
  return [
    ...under(group('pack'), { direction, quoted }),
    ...under(group('number'), { ...marks, sizes: sizes.join(' ') }),
    ...under(group('list'), { ...lists }),
    ...under(group('plural'), plurals),
  ];
}

/** Returns the lines about languages and fields, beside the sentences. */
function headLines(pack: SentencePack): [string, string][] {
  const {
    fields,
    secrets = {},
    sentences,
    locale,
    slot = [],
    longest,
    locales: languages = {},
  } = pack;
  const { settings, becomes } = pack;
  return [
    ...under('pack', { sentences, locale, slot: slot.join('NAME'), longest }),
    ...Object.entries(settings).map(([name, value]): [string, string] => [
      `|setting|${name}`,
      typeof value === 'object' ? JSON.stringify(value) : String(value),
    ]),
    ...Object.entries(becomes).flatMap(([form, byPath]) =>
      Object.entries(byPath).flatMap(([path, byCode]) =>
        Object.entries(byCode).flatMap(([code, { problem, ...texts }]) => [
          ...under('becomes', { [`${form} ${path} ${code}`]: problem }),
          ...Object.entries(texts).flatMap(([part, sentence]: [string, PlainSentence]) =>
            flat(`|becomes|${form} ${path} ${code} ${part}`, sentence),
          ),
        ]),
      ),
    ),
    ...Object.entries(secrets).flatMap(([form, names]) =>
      under('secrets', { [form]: JSON.stringify(names) }),
    ),
    ...languageLines(pack, (name) => name),
    ...Object.entries(languages).flatMap(([other, language]) =>
      languageLines(language, (name) => `${name} ${other}`),
    ),
    ...Object.entries(fields).flatMap(([form, byPath]) =>
      Object.entries(byPath).flatMap(
        ([path, { positions, otherwise, secret, hidden }]): [string, string][] => [
          ...(positions.length === 0
            ? []
            : under('positions', { [`${form} ${path}`]: positions.join(' ') })),
          ...(secret ? under('secret', { [`${form} ${path}`]: 'yes' }) : []),
          ...(hidden === undefined ? [] : under('hidden', { [`${form} ${path}`]: hidden })),
          ...(otherwise === undefined ? [] : flat(`|otherwise|${form} ${path}`, otherwise)),
        ],
      ),
    ),
  ];
}

/** The sentences as lines of a key and a text, for formats that have no objects. */
export function sentenceLines(pack: SentencePack): Map<string, string> {
  const { forms, inlines, problems } = pack;
  const lines = new Map<string, string>(headLines(pack));
  const add = (key: string, sentence: PlainInline): void => {
    for (const [name, text] of flat(key, sentence)) lines.set(name, text);
  };
  for (const [suffix, byForm] of [
    ['', forms],
    ['|inline', inlines],
  ] as const)
    for (const [form, fields] of Object.entries(byForm))
      for (const [path, rules] of Object.entries(fields))
        for (const [code, sentence] of Object.entries(rules))
          add(`${form}|${path}|${code}${suffix}`, sentence);
  for (const [id, { type, status, phrase, title, detail }] of Object.entries(problems)) {
    lines.set(`|problem|${id} type`, type);
    lines.set(`|problem|${id} status`, String(status));
    lines.set(`|problem|${id} phrase`, phrase);
    add(`|problem|${id} title`, title);
    if (detail !== undefined) add(`|problem|${id} detail`, detail);
  }
  return lines;
}

/** Returns the sentences beside the original's, for translation formats. */
export function sentenceUnits(pack: SentencePack, original: SentencePack): Unit[] {
  const sources = sentenceLines(original);
  // A case that the original's language does not have stands beside what all others say.
  const sourceOf = (key: string): string =>
    sources.get(key) ?? sources.get(key.replace(/ \S+$/, ' other')) ?? '';
  const withoutLanguage = (key: string): string => key.replace(/\|in [A-Za-z\d-]+(?=\||$)/, '');
  return [...sentenceLines(pack)].map(([key, target]) => ({
    key,
    source: sourceOf(withoutLanguage(key)),
    target,
  }));
}
