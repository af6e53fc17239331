import {
  SentencePacker,
  type PlaceTemplate,
  type PlainSentence,
  type SentencePack,
  type Unsimple,
} from '../core/pack/sentences.js';
import type { Locale } from '../core/locale/tag.js';
import type { Unit } from '../exchange/translations/unit.js';
import { answerOptions } from './answering.js';
import type { Workspace } from './workspace.js';

/** The sentences of one language, how many of them need no case, and what could not be said without ICU. */
export interface MadeSentences {
  readonly pack: SentencePack;
  readonly count: { readonly all: number; readonly simple: number };
  readonly unsimple: readonly Unsimple[];
}

/** All sentences of a language, of some forms only where they are named. */
export function makeSentences(
  workspace: Workspace,
  locale: Locale,
  template: PlaceTemplate,
  only?: readonly string[],
): MadeSentences {
  const all = [...workspace.forms.values()].map(({ form }) => form);
  const forms = only === undefined ? all : only.map((id) => workspace.form(id).form);
  const packer = new SentencePacker({ forms, texts: workspace.texts, options: answerOptions(workspace) }, locale, template);
  const pack = packer.pack();
  return { pack, count: packer.count, unsimple: packer.unsimple };
}

/** A sentence with its cases as lines of their own: what chooses them stands behind the key. */
function flat(key: string, sentence: PlainSentence): [string, string][] {
  if (typeof sentence === 'string') return [[key, sentence]];
  const name = 'plural' in sentence ? sentence.plural : sentence.select;
  return Object.entries(sentence.cases).flatMap(([selector, one]) => flat(`${key}|${name} ${selector}`, one));
}

/** The sentences as lines of a key and a text, for formats that have no objects. */
export function sentenceLines({ forms, inlines, problems }: SentencePack): Map<string, string> {
  const lines = new Map<string, string>();
  const add = (key: string, sentence: PlainSentence): void => {
    for (const [name, text] of flat(key, sentence)) lines.set(name, text);
  };
  for (const [suffix, byForm] of [
    ['', forms],
    ['|inline', inlines],
  ] as const)
    for (const [form, fields] of Object.entries(byForm))
      for (const [path, rules] of Object.entries(fields))
        for (const [code, sentence] of Object.entries(rules)) add(`${form}|${path}|${code}${suffix}`, sentence);
  for (const [id, { title, detail }] of Object.entries(problems)) {
    add(`|problem|${id} title`, title);
    if (detail !== undefined) add(`|problem|${id} detail`, detail);
  }
  return lines;
}

/** The same beside the original's sentences, as translators' formats have them. */
export function sentenceUnits(pack: SentencePack, original: SentencePack): Unit[] {
  const sources = sentenceLines(original);
  return [...sentenceLines(pack)].map(([key, target]) => ({ key, source: sources.get(key) ?? '', target }));
}
