import { XMLParser } from 'fast-xml-parser';
import { SyntaxValidator } from 'fast-xml-validator';
import { keyed } from '../../core/base/keyed.js';
import { TranslationFileError } from './unit.js';

/** Characters that XML 1.0 forbids. */
export const NO_XML = /[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]/;

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

/** A text as XML writes it. */
export const escaped = (text: string, table = ENTITIES): string =>
  text.replace(/[&<>"\r\n\t]/g, (sign) => table[sign] ?? sign);

/** A text without what XML cannot hold. */
export const withoutControls = (text: string): string => text.replace(new RegExp(NO_XML, 'g'), '');

/** Escapes a text for the value of an attribute. */
export const attribute = (text: string): string => escaped(withoutControls(text), ATTRIBUTE);

/** One node as the parser gives it: its name with its children, its attributes under `:@`. */
export type XmlNode = Readonly<Record<string, unknown>>;

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
/** The name of an element without its prefix. */
export const local = (node: XmlNode): string => nameOf(node).replace(/^.*:(?=[a-z])/i, '');
export const childrenOf = (node: XmlNode): readonly XmlNode[] => {
  const children = node[nameOf(node)];
  return Array.isArray(children) ? (children as XmlNode[]) : [];
};
export const attributesOf = (node: XmlNode): Readonly<Record<string, string>> =>
  (node[':@'] ?? {}) as Record<string, string>;
/** The children of a name. */
export const named = (node: XmlNode, name: string): XmlNode[] =>
  childrenOf(node).filter((child) => local(child) === name);

/** The ends of parts in which nothing is markup. */
const UNTIL: ReadonlyMap<string, string> = new Map([
  ['<![CDATA[', ']]>'],
  ['<!--', '-->'],
]);

/** Nesting that no tool writes. */
const DEEPEST = 100;

/**
 * Returns why a text cannot be read as XML, with the offset: undeclared entities, and endless
 * nesting.
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
          sentence: `"${tag.slice(0, 40)}" is not an entity of XML; write the character itself`,
        };
    } else if (tag.startsWith('</')) depth -= 1;
    else if (/^<[A-Za-z_]/.test(tag) && !tag.endsWith('/>') && ++depth > DEEPEST)
      return { offset: index, sentence: `this is nested deeper than ${DEEPEST} elements` };
  }
  return undefined;
}

const lineAt = (text: string, offset: number): number => text.slice(0, offset).split('\n').length;

function parsed(text: string, what: string): XmlNode[] {
  try {
    return parser.parse(text) as XmlNode[];
  } catch (error) {
    // It has names that it refuses, and limits of its own.
    throw new TranslationFileError(
      `invalid ${what}: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
}

/**
 * Reads XML without believing it: entities that nobody declared and endless nesting are refused.
 * @param what what the file should be, as sentences call it
 * @throws {TranslationFileError}
 */
export function readXml(text: string, what: string): XmlNode[] {
  const trouble = xmlTrouble(text);
  if (trouble) {
    const line = lineAt(text, trouble.offset);
    throw new TranslationFileError(
      `this is not XML: ${trouble.sentence}`,
      line,
      trouble.offset - text.lastIndexOf('\n', trouble.offset - 1),
    );
  }
  try {
    new SyntaxValidator().validate(text);
  } catch (error) {
    const { message, line, col } = error as Error & { line?: number; col?: number };
    throw new TranslationFileError(`this is not XML: ${message.replace(/\.$/, '')}`, line, col);
  }
  return parsed(text, what);
}
