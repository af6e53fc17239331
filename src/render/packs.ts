import { getOrMake } from '../core/base/get-or-make.js';
import { DEFAULT_SHAPE_OPTIONS } from '../core/body/shapes/shape.js';
import { SHAPES } from '../core/body/shapes/shapes.js';
import { templateShape } from '../core/body/shapes/template.js';
import { Complaint } from '../core/complaint.js';
import type { Locale } from '../core/locale/tag.js';
import { Room } from '../core/base/memo.js';
import type { Pack } from '../core/pack/pack.js';
import { unpack } from '../core/pack/unpack.js';
import type { FormIndex } from '../core/rules/form-index.js';
import { suggestion } from '../core/text/closest.js';
import { Sentences } from '../core/violation/sentence.js';
import type { Warn } from '../core/violation/warning.js';
import {
  Rendering,
  type BodyWishes,
  type Renderer,
  type Speaking,
  type Speaker,
} from './rendering.js';
import { unknownLocale } from './spoken.js';

/** How a renderer is opened. */
export interface OpenOptions extends BodyWishes {
  /**
   * Called with warnings for the caller, though the client got its answer: texts with missing
   * arguments.
   */
  readonly onWarning?: Warn;
}

/**
 * How bodies are laid out: by the settings of the packs, unless whoever opens them says otherwise.
 */
function styleOf(pack: Pack | undefined, wanted: string | undefined): Speaking['style'] {
  const { shape: packed = 'problem', shapes = {}, ...set } = pack?.settings.style ?? {};
  const options = { ...DEFAULT_SHAPE_OPTIONS, ...set };
  const known = new Map(SHAPES);
  return (name = wanted ?? packed) => {
    const own = Object.hasOwn(shapes, name) ? shapes[name] : undefined;
    const shape = getOrMake(known, name, () =>
      own ? templateShape(name, own.mediaType, own.body) : noShape(name, known.keys()),
    );
    return { shape, options };
  };
}

function noShape(name: string, known: Iterable<string>): never {
  throw new Complaint('wrong-use', `there is no shape "${name}"${suggestion(name, known)}`);
}

/** Packs of other settings would answer each in its own way. */
function mustAgree([first, ...others]: readonly Pack[]): void {
  const settings = JSON.stringify(first?.settings);
  const other = others.find((one) => JSON.stringify(one.settings) !== settings);
  if (other)
    throw new Complaint(
      'wrong-use',
      `the packs of ${String(first?.locale)} and ${other.locale} differ in settings; run "zeitwort pack" for both`,
    );
}

/** Packs know no files. */
const unknown = (): undefined => undefined;

function speakerOf(pack: Pack, warn: Warn | undefined): [Locale, Speaker] {
  const { locale, forms, texts, options: read } = unpack(pack);
  const options = {
    ...read,
    warn,
    room: new Room(),
    ...(pack.settings.audience === undefined ? {} : { developer: unknown }),
  };
  const spoken = new Map<FormIndex, Sentences>();
  const sentences = (form: FormIndex): Sentences => {
    return getOrMake(spoken, form, () => new Sentences(texts, form, options));
  };
  return [locale, { forms, texts, options, sentences }];
}

/** @throws {Complaint} when there is no pack, their settings differ, or their shape is none */
function speakingOf(packs: readonly Pack[], { onWarning, ...wishes }: OpenOptions): Speaking {
  mustAgree(packs);
  const style = styleOf(packs[0], wishes.shape);
  // A shape that cannot be written fails now, and not in front of a client.
  style(undefined);
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
  return {
    locales: languages,
    original,
    parents: packs[0]?.settings.parents ?? {},
    speaker,
    style,
    wishes,
    production: packs[0]?.settings.production === true,
    locate: unknown,
  };
}

/** A renderer whose packs can be replaced while it is in use. */
export interface PackRenderer extends Renderer {
  /** The hash of each pack in use, by its language. */
  readonly hashes: Readonly<Record<string, string>>;
  /**
   * Answers with other packs from now on; those in use stay where one of these cannot be opened.
   * @throws {Complaint} when one is not a pack, or their settings differ
   */
  replacePacks(...from: unknown[]): void;
}

/**
 * A renderer out of packs, one a language; where no language fits, answers are in the original if
 * it is among them, else in the first.
 */
export class PackRendering extends Rendering implements PackRenderer {
  private packs: readonly Pack[];

  /**
   * @param read makes a pack of what a caller gives for one
   * @throws {Complaint} when there is no pack, their settings differ, or their shape is none
   */
  constructor(
    from: readonly unknown[],
    private readonly options: OpenOptions,
    private readonly read: (one: unknown) => Pack,
  ) {
    const packs = from.map(read);
    super(speakingOf(packs, options));
    this.packs = packs;
  }

  get hashes(): PackRenderer['hashes'] {
    return Object.fromEntries(this.packs.map(({ locale, hash }) => [locale, hash]));
  }

  replacePacks(...from: unknown[]): void {
    const packs = from.map(this.read);
    this.speakFrom(speakingOf(packs, this.options));
    this.packs = packs;
  }
}
