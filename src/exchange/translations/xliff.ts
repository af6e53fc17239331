import { readMessage } from '../../core/message/parse.js';
import { MessageError } from '../../core/message/syntax-error.js';
import { walk, type Span } from '../../core/message/tree.js';
import {
  TranslationFileError,
  type ReadUnit,
  type TranslationFormat,
  type Unit,
  type UnitFile,
} from './unit.js';
import { shortId } from './short-id.js';
import {
  attribute,
  attributesOf,
  childrenOf,
  escaped,
  local,
  named,
  NO_XML,
  readXml,
  withoutControls,
  type XmlNode,
} from './xml.js';

// XLIFF 2.1 (OASIS, 2018): core, the Size and Length Restriction module for limits, and the
// Glossary module for terms.
const CORE = 'urn:oasis:names:tc:xliff:document:2.0';
const SIZE = 'urn:oasis:names:tc:xliff:sizerestriction:2.0';
const GLOSSARY = 'urn:oasis:names:tc:xliff:glossary:2.0';

/** Of a translation whose original is another by now. */
const STALE = 'zw:stale';
/** Categories of the notes that go out. */
const OUR_NOTES: ReadonlySet<string> = new Set(['description', 'about', 'previous-source']);

function content(text: string): string {
  return Array.from(text)
    .map((character) =>
      NO_XML.test(character)
        ? `<cp hex="${(character.codePointAt(0) ?? 0).toString(16).toUpperCase().padStart(4, '0')}"/>`
        : escaped(character),
    )
    .join('');
}

/**
 * The simple arguments of a message, innermost ones too; what chooses between cases stays text,
 * since cases are translated.
 */
function placeholders(text: string): Span[] {
  const found: Span[] = [];
  try {
    walk(readMessage(text), (node) => {
      if (node.kind !== 'text' && !('cases' in node)) found.push(node);
    });
  } catch (error) {
    if (!(error instanceof MessageError)) throw error;
  }
  return found.sort((one, other) => one.start - other.start);
}

/** Numbers each placeholder of a unit, the same one in source and target alike. */
class Inlines {
  readonly data: string[] = [];
  /**
   * How often the translation has each placeholder: one that it has not must be one that can go.
   */
  private readonly kept: ReadonlyMap<string, number> | undefined;

  constructor(target: string | undefined) {
    if (target === undefined) return;
    const kept = new Map<string, number>();
    for (const { start, end } of placeholders(target)) {
      const code = target.slice(start, end);
      kept.set(code, (kept.get(code) ?? 0) + 1);
    }
    this.kept = kept;
  }

  write(text: string): string {
    const used = new Map<string, number>();
    let result = '';
    let at = 0;
    for (const { start, end } of placeholders(text)) {
      const code = text.slice(start, end);
      result += content(text.slice(at, start)) + this.placeholder(code, used);
      at = end;
    }
    return result + content(text.slice(at));
  }

  /**
   * The second `{max}` of a text is another element than the first, and the same as the second of
   * the other language.
   */
  private placeholder(code: string, used: Map<string, number>): string {
    const times = (used.get(code) ?? 0) + 1;
    used.set(code, times);
    let seen = 0;
    let number = this.data.findIndex((known) => known === code && ++seen === times);
    if (number < 0) number = this.data.push(code) - 1;
    const canDelete = this.kept && (this.kept.get(code) ?? 0) < times ? 'yes' : 'no';
    return `<ph id="${number + 1}" dataRef="d${number + 1}" disp="${attribute(code)}" canCopy="yes" canDelete="${canDelete}"/>`;
  }
}

/** The terms of a unit, with what they are in the other language, and what must not be said. */
function glossary(terms: NonNullable<Unit['terms']>): string {
  if (terms.length === 0) return '';
  const text = (said: string): string => escaped(withoutControls(said));
  const entries = terms.map(({ term, translation, never, note }) => {
    const definition = [note, never.length === 0 ? undefined : `Never: ${never.join(', ')}.`]
      .filter((one) => one !== undefined)
      .join(' ');
    return `<gls:glossEntry><gls:term>${text(term)}</gls:term>${translation === undefined ? '' : `<gls:translation>${text(translation)}</gls:translation>`}${definition === '' ? '' : `<gls:definition>${text(definition)}</gls:definition>`}</gls:glossEntry>`;
  });
  return `      <gls:glossary>${entries.join('')}</gls:glossary>\n`;
}

function unitText(unit: Unit): string {
  const {
    key,
    source,
    target,
    state,
    stale,
    before,
    note,
    about,
    room,
    exported,
    terms = [],
  } = unit;
  const inlines = new Inlines(target);
  const from = inlines.write(source);
  const to =
    target === undefined
      ? ''
      : `\n        <target xml:space="preserve">${inlines.write(target)}</target>`;
  const noted = { description: note, about, 'previous-source': before };
  const notes = Object.entries(noted).flatMap(([category, one]) =>
    one === undefined
      ? []
      : [`<note category="${category}">${content(withoutControls(one))}</note>`],
  );
  const data = inlines.data
    .map((code, at) => `\n        <data id="d${at + 1}">${content(code)}</data>`)
    .join('');
  const size = room === undefined ? '' : ` slr:sizeRestriction="${room}"`;
  const segmentState = target === undefined ? 'initial' : (state ?? 'translated');
  return `    <unit id="${[shortId(key), exported].filter(Boolean).join('.')}" name="${attribute(key)}"${size}>
${glossary(terms)}${notes.length === 0 ? '' : `      <notes>${notes.join('')}</notes>\n`}${data === '' ? '' : `      <originalData>${data}\n      </originalData>\n`}      <segment state="${segmentState}"${stale ? ` subState="${STALE}"` : ''}>
        <source xml:space="preserve">${from}</source>${to}
      </segment>
    </unit>`;
}

function write({ original, locale, units }: UnitFile): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<xliff xmlns="${CORE}" xmlns:slr="${SIZE}" xmlns:gls="${GLOSSARY}" version="2.1" srcLang="${original}" trgLang="${locale}">
  <file id="texts">
    <slr:profiles generalProfile="xliff:codepoints"/>
${units.map(unitText).join('\n')}
  </file>
</xliff>
`;
}

/** A unit that would lose or change something if it were read. */
class UnitError extends Error {}

/**
 * The character of a `cp` element (XLIFF 2.1 section 4.3.1.1); what is none must not become
 * another.
 */
function characterOf(hex: string): string {
  const code = /^[0-9a-f]{1,6}$/i.test(hex) ? Number.parseInt(hex, 16) : NaN;
  if (!(code <= 0x10ffff) || (code >= 0xd800 && code <= 0xdfff))
    throw new UnitError(`<cp hex="${hex.slice(0, 20)}"/> is not a character`);
  return String.fromCodePoint(code);
}

/** The text of a source or target: inline elements become what they stand for. */
function textOf(node: XmlNode, data: ReadonlyMap<string, string>): string {
  return childrenOf(node)
    .map((child): string => {
      if ('#text' in child) return String(child['#text']);
      const own = attributesOf(child);
      switch (local(child)) {
        case 'cp':
          return characterOf(own.hex ?? '');
        case 'ph': {
          const code = data.get(own.dataRef ?? '') ?? own.disp ?? own.equiv;
          if (code === undefined)
            throw new UnitError('a placeholder does not say what it stands for, and would be lost');
          return code;
        }
        case 'pc':
          return (
            (data.get(own.dataRefStart ?? '') ?? '') +
            textOf(child, data) +
            (data.get(own.dataRefEnd ?? '') ?? '')
          );
        case 'sc':
        case 'ec':
          return data.get(own.dataRef ?? '') ?? '';
        default:
          return textOf(child, data);
      }
    })
    .join('');
}

function readUnit(unit: XmlNode): ReadUnit {
  try {
    return readWhole(unit);
  } catch (error) {
    if (!(error instanceof UnitError)) throw error;
    const { id = '', name } = attributesOf(unit);
    return { key: name ?? id, broken: error.message };
  }
}

/**
 * Texts at the places that they ask for; those that ask for none of their own fill what is left.
 */
function inOrder(placed: readonly { readonly order: number; readonly text: string }[]): string[] {
  const out = new Array<string | undefined>(placed.length).fill(undefined);
  const own = placed.map(({ order }, at) => order !== at + 1);
  for (const [at, { order, text }] of placed.entries()) {
    if (!own[at]) continue;
    if (order > placed.length || out[order - 1] !== undefined)
      throw new UnitError(`two parts of the target, or none, can stand at position ${order}`);
    out[order - 1] = text;
  }
  const rest = placed.filter((_, at) => !own[at]).map(({ text }) => text);
  return out.map((text) => text ?? rest.shift() ?? '');
}

function readWhole(unit: XmlNode): ReadUnit {
  const { id = '', name } = attributesOf(unit);
  const data = new Map(
    named(unit, 'originalData').flatMap((original) =>
      named(original, 'data').map(
        (one) => [attributesOf(one).id ?? '', textOf(one, new Map())] as const,
      ),
    ),
  );
  // A tool may have cut a unit into segments, with what stands between them as `ignorable`.
  const parts = childrenOf(unit).filter((child) => ['segment', 'ignorable'].includes(local(child)));
  const side = (part: 'source' | 'target'): string | undefined => {
    const texts = parts.map((one) => named(one, part)[0]);
    const some = texts.some((text) => text !== undefined);
    if (!some) return undefined;
    const placed = parts.map((one, at) => {
      const node = texts[at];
      // The target may put its segments in another order (XLIFF 2.1 section 4.3.1.13).
      const order = part === 'target' && node ? Number(attributesOf(node).order ?? at + 1) : at + 1;
      if (!Number.isInteger(order) || order < 1)
        throw new UnitError('the order of a target is not a position from 1');
      const text = textOf(
        node ?? (local(one) === 'ignorable' ? (named(one, 'source')[0] ?? {}) : {}),
        data,
      );
      return { order, text };
    });
    return inOrder(placed).join('');
  };
  const segments = parts.filter((part) => local(part) === 'segment');
  const translated = segments.filter((part) => named(part, 'target').length > 0);
  if (translated.length > 0 && translated.length < segments.length)
    throw new UnitError('it is in several segments, and not all of them are translated');
  const states = segments.map(attributesOf);
  const [own, exported] = id.split('.', 2);
  const notes = named(unit, 'notes').flatMap((all) => named(all, 'note'));
  const written = notes.filter((note) => !OUR_NOTES.has(attributesOf(note).category ?? ''));
  return {
    key: name ?? own ?? id,
    source: side('source'),
    target: side('target'),
    state: states.some(({ subState }) => subState === STALE)
      ? 'stale'
      : (states[0]?.state ?? 'initial'),
    exported,
    note: written.map((note) => textOf(note, new Map()).trim()).join('\n'),
  };
}

function unitsIn(node: XmlNode): XmlNode[] {
  return childrenOf(node).flatMap((child) =>
    local(child) === 'unit' ? [child] : local(child) === 'group' ? unitsIn(child) : [],
  );
}

function read(text: string): { locale?: string; units: ReadUnit[] } {
  const nodes = readXml(text, 'XLIFF');
  const root = nodes.find((node) => local(node) === 'xliff');
  if (!root)
    throw new TranslationFileError('this is not XLIFF: its outermost element is not "xliff"', 1, 1);
  const { version = '', trgLang } = attributesOf(root);
  if (!version.startsWith('2.'))
    throw new TranslationFileError(
      `XLIFF ${version || 'without a version'} is not read; save it as XLIFF 2`,
      1,
      1,
    );
  const units = named(root, 'file').flatMap((file) => unitsIn(file).map(readUnit));
  return { ...(trgLang === undefined ? {} : { locale: trgLang }), units };
}

export const xliff: TranslationFormat = { extension: 'xlf', write, read };
