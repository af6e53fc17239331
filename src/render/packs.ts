import { getOrMake } from '../core/base/get-or-make.js';
import { DEFAULT_SHAPE_OPTIONS } from '../core/body/shapes/shape.js';
import { SHAPES } from '../core/body/shapes/shapes.js';
import { Complaint } from '../core/complaint.js';
import type { Locale } from '../core/locale/tag.js';
import { Room } from '../core/base/memo.js';
import type { Pack } from '../core/pack/pack.js';
import { unpack } from '../core/pack/unpack.js';
import type { FormIndex } from '../core/rules/form-index.js';
import { suggestion } from '../core/text/closest.js';
import { Sentences } from '../core/violation/sentence.js';
import type { Warn } from '../core/violation/warning.js';
import { Rendering, type Renderer, type Speaking, type Speaker } from './rendering.js';
import { unknownLocale } from './spoken.js';

/** How a renderer is opened. */
export interface OpenOptions {
  /**
   * Told of what the caller should know, though the client got its answer: texts that ask for what
   * nobody gave.
   */
  readonly onWarning?: Warn;
}

// A pack holds texts and rules; how bodies are laid out is named by whoever renders.
const style: Speaking['style'] = (name = 'problem') => {
  const shape = SHAPES.get(name);
  if (!shape)
    throw new Complaint(
      'wrong-use',
      `there is no shape "${name}"${suggestion(name, SHAPES.keys())}`,
    );
  return { shape, options: DEFAULT_SHAPE_OPTIONS };
};

function speakerOf(pack: Pack, warn: Warn | undefined): [Locale, Speaker] {
  const { locale, forms, texts, options: read } = unpack(pack);
  const options = { ...read, warn, room: new Room() };
  const spoken = new Map<FormIndex, Sentences>();
  const sentences = (form: FormIndex): Sentences => {
    return getOrMake(spoken, form, () => new Sentences(texts, form, options));
  };
  return [locale, { forms, texts, options, sentences }];
}

/**
 * A renderer out of packs, one a language; where no language fits, answers are in the original if
 * it is among them, else in the first.
 * @throws {Complaint} when there is no pack
 */
export function openPacks(packs: readonly Pack[], { onWarning }: OpenOptions = {}): Renderer {
  const speakers = new Map(packs.map((pack) => speakerOf(pack, onWarning)));
  const languages = [...speakers.keys()];
  const named = languages.find((locale) => locale === packs[0]?.settings.original);
  const original = named ?? languages[0];
  if (original === undefined) throw new Complaint('wrong-use', 'name a pack to open');
  const speaker = (locale: Locale): Speaker => {
    const found = speakers.get(locale);
    if (!found) throw unknownLocale(locale, languages);
    return found;
  };
  return new Rendering({ locales: languages, original, speaker, style });
}
