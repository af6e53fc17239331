import { parseLines, stringify } from 'dot-properties';
import { toldTerm } from '../../core/texts/terms.js';
import {
  stateWord,
  TranslationFileError,
  type ReadUnits,
  type TranslationFormat,
  type UnitFile,
  type WriteOptions,
} from './unit.js';
import { shortId } from './short-id.js';

type Line = string | string[];

/** The entry that is not a text: for each text what it was when it went out. */
const EXPORTED = 'exported';

/** Characters that a reader of lines, or of another character set, would misread. */
const CONTROL = /[\u0000-\u001F\u007F-\u009F\uFEFF\uFFFE\uFFFF]/g;
const hex = (sign: string): string => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`;

/** Comments are one line each, and hold nothing that could end them. */
const remark = (name: string, text: string): string =>
  `# ${name}: ${text.replace(/\s+/g, ' ').replace(CONTROL, '').replaceAll('\\', '/')}`;

function write({ units }: UnitFile, { ascii = false }: WriteOptions): string {
  const exported = units.map(({ key, exported: word = '' }) => `${shortId(key)}:${word}`);
  const lines: Line[] = units.flatMap((unit): Line[] => {
    const { key, source, before, target, note, about, room, terms = [] } = unit;
    return [
      ...(note === undefined ? [] : [remark('note', note)]),
      ...(about ?? '').split('\n').flatMap((line) => (line === '' ? [] : [remark('about', line)])),
      ...(room === undefined ? [] : [remark('room', String(room))]),
      ...terms.map((term) => remark('term', toldTerm(term))),
      remark('source', source),
      ...(before === undefined ? [] : [remark('before', before)]),
      ...(target === undefined ? [] : [remark('state', stateWord(unit))]),
      // What is not translated yet stands there with nothing behind it.
      [key, target ?? ''],
      '',
    ];
  });
  // Programs write such files anew without comments and in an order of their own.
  if (units.some((unit) => unit.exported !== undefined))
    lines.push('# what the texts were when they went out', [EXPORTED, exported.join(' ')], '');
  const text = stringify(lines, { latin1: ascii, lineWidth: null, keySep: ' = ', newline: '\n' });
  // The package writes some control characters as they are, and in comments all of Unicode.
  return text
    .split('\n')
    .map((line) => line.replace(CONTROL, hex))
    .map((line) => (ascii ? line.replace(/[^\x00-\x7f]/g, hex) : line))
    .join('\n');
}

function read(text: string): ReadUnits {
  let lines: Line[];
  try {
    lines = parseLines(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    throw new TranslationFileError(
      `this is not a properties file: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
  const pairs = lines.flatMap((line) => {
    const [key = '', value = ''] = Array.isArray(line) ? line : [];
    return Array.isArray(line) ? [{ key, value }] : [];
  });
  const words = new Map(
    pairs
      .filter(({ key }) => key === EXPORTED)
      .flatMap(({ value }) => value.split(/\s+/))
      .map((word): [string, string] => [word.split(':')[0] ?? '', word.replace(/^.*?:/, '')]),
  );
  const units = pairs
    .filter(({ key }) => key !== EXPORTED)
    .map(({ key, value }) => ({ key, target: value, exported: words.get(shortId(key)) }));
  return { units };
}

export const properties: TranslationFormat = { extension: 'properties', write, read };
