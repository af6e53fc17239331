import { LocaleError, parseLocale, type Locale } from '../../core/locale/tag.js';
import type { Concept, Term } from '../../core/texts/terms.js';
import { TranslationFileError } from '../translations/unit.js';
import {
  attribute,
  attributesOf,
  childrenOf,
  escaped,
  local,
  named,
  readXml,
  withoutControls,
  type XmlNode,
} from '../translations/xml.js';

// TBX-Basic (ISO 30042:2019, in the style of categories as attributes, DCA). Read are also the
// style of categories as tags (DCT), and files of the edition of 2008 (martif).
const NAMESPACE = 'urn:iso:std:iso:30042:ed-2';
const STATUS = 'administrativeStatus';
/** The status words of TBX-Basic for terms that must not be used. */
const AVOIDED = /^(?:deprecated|superseded)Term/;
/** The first term of a language that is not said to be merely admitted is the term. */
const ADMITTED = /^admittedTerm/;

const content = (text: string): string => escaped(withoutControls(text));

function termSec(text: string, status: string, type?: string): string {
  const note = (category: string, value: string): string =>
    `\n          <termNote type="${category}">${value}</termNote>`;
  return `        <termSec>
          <term>${content(text)}</term>${type === undefined ? '' : note('termType', type)}${note(STATUS, `${status}-admn-sts`)}
        </termSec>`;
}

function langSec(locale: string, { text, forms, never }: Term): string {
  const terms = [
    termSec(text, 'preferredTerm'),
    ...forms.map((form) => termSec(form, 'admittedTerm', 'variant')),
    ...never.map((word) => termSec(word, 'deprecatedTerm')),
  ];
  return `      <langSec xml:lang="${attribute(locale)}">\n${terms.join('\n')}\n      </langSec>`;
}

/** An id as XML allows it. */
const idOf = (id: string): string =>
  /^[\p{L}_][\p{L}\p{N}_.-]*$/u.test(id) ? id : `c-${Buffer.from(id).toString('hex')}`;

/** Writes concepts as TBX-Basic. */
export function writeTbx(concepts: readonly Concept[], original: Locale): string {
  const entries = concepts.map(
    ({ id, note, terms }) => `    <conceptEntry id="${attribute(idOf(id))}">
${note === undefined ? '' : `      <note>${content(note)}</note>\n`}${Array.from(terms, ([locale, term]) => langSec(locale, term)).join('\n')}
    </conceptEntry>`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>
<tbx type="TBX-Basic" style="dca" xml:lang="${attribute(original)}" xmlns="${NAMESPACE}">
  <tbxHeader><fileDesc><sourceDesc><p>Terms of the validation texts of an API.</p></sourceDesc></fileDesc></tbxHeader>
  <text><body>
${entries.join('\n')}
  </body></text>
</tbx>
`;
}

const textIn = (node: XmlNode): string =>
  childrenOf(node)
    .map((child) => ('#text' in child ? String(child['#text']) : textIn(child)))
    .join('');

/** All elements of some names below one. */
function below(node: XmlNode, names: readonly string[]): XmlNode[] {
  return childrenOf(node).flatMap((child) =>
    names.includes(local(child)) ? [child] : below(child, names),
  );
}

/** The administrative status of a term, in either style; empty where nothing is said. */
function statusOf(section: XmlNode): string {
  const dca = below(section, ['termNote']).find((one) => attributesOf(one).type === STATUS);
  const said = dca ?? below(section, [STATUS])[0];
  return said ? textIn(said).trim() : '';
}

function termOf(section: XmlNode): Term | undefined {
  const all = below(section, ['termSec', 'tig', 'ntig']).flatMap((one) => {
    const [term] = below(one, ['term']);
    const text = term ? textIn(term).replace(/\s+/g, ' ').trim() : '';
    return text === '' ? [] : [{ text, status: statusOf(one) }];
  });
  const never = all.filter(({ status }) => AVOIDED.test(status)).map(({ text }) => text);
  const good = all.filter(({ status }) => !AVOIDED.test(status));
  const first = good.find(({ status }) => !ADMITTED.test(status)) ?? good[0];
  if (!first) return undefined;
  return {
    text: first.text,
    forms: good.filter((one) => one !== first).map(({ text }) => text),
    never,
  };
}

function localeOf(tag: string): Locale {
  try {
    return parseLocale(tag.replaceAll('_', '-'));
  } catch (error) {
    throw error instanceof LocaleError ? new TranslationFileError(error.message) : error;
  }
}

/**
 * Reads concepts out of TBX.
 * @throws {TranslationFileError}
 */
export function readTbx(text: string): Concept[] {
  const nodes = readXml(text, 'TBX');
  const root = nodes.find((node) => ['tbx', 'martif'].includes(local(node)));
  if (!root)
    throw new TranslationFileError(
      'this is not TBX: its outermost element is neither "tbx" nor "martif"',
      1,
      1,
    );
  return below(root, ['conceptEntry', 'termEntry']).map((entry, at): Concept => {
    const sections = childrenOf(entry).filter((one) => ['langSec', 'langSet'].includes(local(one)));
    const terms = sections.flatMap((section) => {
      const term = termOf(section);
      const tag = attributesOf(section)['xml:lang'];
      return term && tag !== undefined ? [[localeOf(tag), term] as const] : [];
    });
    const [note] = [...named(entry, 'note'), ...named(entry, 'descrip')].map((one) =>
      textIn(one).trim(),
    );
    return {
      id: attributesOf(entry).id ?? `concept-${at + 1}`,
      ...(note ? { note } : {}),
      terms: new Map(terms),
    };
  });
}
