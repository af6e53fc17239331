import { createHash } from 'node:crypto';
import { XMLParser } from 'fast-xml-parser';
import { SyntaxValidator } from 'fast-xml-validator';
import { readMessage } from '../../core/message/parse.js';
import { MessageError } from '../../core/message/syntax-error.js';
import { walk, type Span } from '../../core/message/tree.js';
import {
  stateOf,
  TranslationFileError,
  type ReadUnit,
  type TranslationFormat,
  type Unit,
  type UnitFile,
} from './unit.js';
import { keyed } from '../../core/base/keyed.js';

// XLIFF 2.1 (OASIS, 2018): core, and the Size and Length Restriction module for limits.
const CORE = 'urn:oasis:names:tc:xliff:document:2.0';
const SIZE = 'urn:oasis:names:tc:xliff:sizerestriction:2.0';

/** What no XML 1.0 document can hold; XLIFF has an element for it. */
const NO_XML = /[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]/;

const ENTITIES: Readonly<Record<string, string>> = keyed({
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\r': '&#13;',
});
const ATTRIBUTE: Readonly<Record<string, string>> = keyed({
  ...ENTITIES,
  '\n': '&#10;',
  '\t': '&#9;',
});

const escaped = (text: string, table = ENTITIES): string =>
  text.replace(/[&<>"\r\n\t]/g, (sign) => table[sign] ?? sign);

/** Attributes have no element for what XML cannot hold; such a note loses it. */
const attribute = (text: string): string =>
  escaped(text.replace(new RegExp(NO_XML, 'g'), ''), ATTRIBUTE);

function content(text: string): string {
  return Array.from(text)
    .map((character) =>
      NO_XML.test(character)
        ? `<cp hex="${(character.codePointAt(0) ?? 0).toString(16).toUpperCase().padStart(4, '0')}"/>`
        : escaped(character),
    )
    .join('');
}

/** A short id that XML allows, the same for the same key. */
export const unitId = (key: string): string =>
  `u${createHash('sha256').update(key).digest('hex').slice(0, 16)}`;

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

function unitText({ key, source, target, state, stale, before, note, about, room }: Unit): string {
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
      : [
          `<note category="${category}">${content(one.replace(new RegExp(NO_XML, 'g'), ''))}</note>`,
        ],
  );
  const data = inlines.data
    .map((code, at) => `\n        <data id="d${at + 1}">${content(code)}</data>`)
    .join('');
  const size = room === undefined ? '' : ` slr:sizeRestriction="${room}"`;
  const told = target === undefined ? 'initial' : (state ?? 'translated');
  return `    <unit id="${unitId(key)}" name="${attribute(key)}"${size}>
${notes.length === 0 ? '' : `      <notes>${notes.join('')}</notes>\n`}${data === '' ? '' : `      <originalData>${data}\n      </originalData>\n`}      <segment state="${told}"${stale ? ' subState="zw:stale"' : ''}>
        <source xml:space="preserve">${from}</source>${to}
      </segment>
    </unit>`;
}

function write({ original, locale, units }: UnitFile): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<xliff xmlns="${CORE}" xmlns:slr="${SIZE}" version="2.1" srcLang="${original}" trgLang="${locale}">
  <file id="texts">
    <slr:profiles generalProfile="xliff:codepoints"/>
${units.map(unitText).join('\n')}
  </file>
</xliff>
`;
}

/** One node as the parser gives it: its name with its children, its attributes under `:@`. */
type XmlNode = Readonly<Record<string, unknown>>;

const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: false,
  processEntities: true,
  // Numeric references are read with these only; names that XML does not have are refused before.
  htmlEntities: true,
  ignoreDeclaration: true,
});

const nameOf = (node: XmlNode): string => Object.keys(node).find((key) => key !== ':@') ?? '';
const local = (node: XmlNode): string => nameOf(node).replace(/^.*:(?=[a-z])/i, '');
const childrenOf = (node: XmlNode): readonly XmlNode[] => {
  const children = node[nameOf(node)];
  return Array.isArray(children) ? (children as XmlNode[]) : [];
};
const attributesOf = (node: XmlNode): Readonly<Record<string, string>> =>
  (node[':@'] ?? {}) as Record<string, string>;
const named = (node: XmlNode, name: string): XmlNode[] =>
  childrenOf(node).filter((child) => local(child) === name);

/** A unit that would lose or change something if it were read. */
class UnitError extends Error {}

/**
 * The character of a `cp` element (XLIFF 2.1 section 4.3.1.1); what is none must not become
 * another.
 */
function characterOf(hex: string): string {
  const code = /^[0-9a-f]{1,6}$/i.test(hex) ? Number.parseInt(hex, 16) : NaN;
  if (!(code <= 0x10ffff) || (code >= 0xd800 && code <= 0xdfff))
    throw new UnitError(`<cp hex="${hex.slice(0, 20)}"/> is no character`);
  return String.fromCodePoint(code);
}

/** What ends a part in which nothing is markup. */
const UNTIL: ReadonlyMap<string, string> = new Map([
  ['<![CDATA[', ']]>'],
  ['<!--', '-->'],
]);

/** Nesting that no tool writes. */
const DEEPEST = 100;

/**
 * What makes a text no XML that can be read as it stands, with its offset: entities that nobody
 * declared, and endless nesting.
 */
function xmlTrouble(
  text: string,
): { readonly offset: number; readonly sentence: string } | undefined {
  let depth = 0;
  const token = /<!\[CDATA\[|<!--|<\/?[A-Za-z_][^<>]*>|&[^;\s<&]*;?/g;
  for (let found = token.exec(text); found; found = token.exec(text)) {
    const { 0: tag, index } = found;
    const end = UNTIL.get(tag);
    if (end !== undefined) {
      const at = text.indexOf(end, token.lastIndex);
      if (at < 0) return { offset: index, sentence: `${tag} is not closed with ${end}` };
      token.lastIndex = at + end.length;
      continue;
    }
    if (tag.startsWith('&')) {
      const number = /^&#(?:x([0-9a-f]{1,6})|(\d{1,7}));$/i.exec(tag);
      const code = number
        ? Number.parseInt(number[1] ?? number[2] ?? '', number[1] === undefined ? 10 : 16)
        : undefined;
      const known =
        code === undefined
          ? /^&(?:amp|lt|gt|quot|apos);$/.test(tag)
          : code > 0 && code <= 0x10ffff && !(code >= 0xd800 && code <= 0xdfff);
      if (!known)
        return {
          offset: index,
          sentence: `"${tag.slice(0, 40)}" is no entity of XML; write the character itself`,
        };
    } else if (tag.startsWith('</')) depth -= 1;
    else if (/^<[A-Za-z_]/.test(tag) && !tag.endsWith('/>') && ++depth > DEEPEST)
      return { offset: index, sentence: `this is nested deeper than ${DEEPEST} elements` };
  }
  return undefined;
}

const lineAt = (text: string, offset: number): number => text.slice(0, offset).split('\n').length;

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
        throw new UnitError('the order of a target is no position from 1');
      const text = textOf(
        node ?? (local(one) === 'ignorable' ? (named(one, 'source')[0] ?? {}) : {}),
        data,
      );
      return { order, text };
    });
    return inOrder(placed).join('');
  };
  const states = parts.flatMap((part) =>
    local(part) === 'segment' ? [attributesOf(part).state ?? 'initial'] : [],
  );
  return {
    key: name ?? id,
    source: side('source'),
    target: side('target'),
    state: stateOf(states[0]),
  };
}

function unitsIn(node: XmlNode): XmlNode[] {
  return childrenOf(node).flatMap((child) =>
    local(child) === 'unit' ? [child] : local(child) === 'group' ? unitsIn(child) : [],
  );
}

function parsed(text: string): XmlNode[] {
  try {
    return parser.parse(text) as XmlNode[];
  } catch (error) {
    // It has names that it refuses, and limits of its own.
    throw new TranslationFileError(
      `this is no XLIFF: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
}

function read(text: string): { locale?: string; units: ReadUnit[] } {
  const trouble = xmlTrouble(text);
  if (trouble) {
    const line = lineAt(text, trouble.offset);
    throw new TranslationFileError(
      `this is no XML: ${trouble.sentence}`,
      line,
      trouble.offset - text.lastIndexOf('\n', trouble.offset - 1),
    );
  }
  try {
    new SyntaxValidator().validate(text);
  } catch (error) {
    const { message, line, col } = error as Error & { line?: number; col?: number };
    throw new TranslationFileError(`this is no XML: ${message.replace(/\.$/, '')}`, line, col);
  }
  const nodes = parsed(text);
  const root = nodes.find((node) => local(node) === 'xliff');
  if (!root)
    throw new TranslationFileError('this is no XLIFF: its outermost element is not "xliff"', 1, 1);
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
