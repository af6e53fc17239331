import { parseLines, stringify } from 'dot-properties';
import {
  TranslationFileError,
  type ReadUnits,
  type TranslationFormat,
  type UnitFile,
  type WriteOptions,
} from './unit.js';

type Line = string | string[];

/** What a reader of lines or of another character set would take for something else. */
const CONTROL = /[\u0000-\u001F\u007F-\u009F\uFEFF\uFFFE\uFFFF]/g;
const hex = (sign: string): string => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`;

/** Comments are one line each, and hold nothing that could end them. */
const remark = (name: string, text: string): string =>
  `# ${name}: ${text.replace(/\s+/g, ' ').replace(CONTROL, '').replaceAll('\\', '/')}`;

function write({ units }: UnitFile, { ascii = false }: WriteOptions): string {
  const lines = units.flatMap(
    ({ key, source, target, state, stale, note, about, room }): Line[] => [
      ...(note === undefined ? [] : [remark('note', note)]),
      ...(about ?? '').split('\n').flatMap((line) => (line === '' ? [] : [remark('about', line)])),
      ...(room === undefined ? [] : [remark('room', String(room))]),
      remark('source', source),
      ...(target === undefined ? [] : [remark('state', stale ? 'stale' : (state ?? 'translated'))]),
      // What is not translated yet stands there with nothing behind it.
      [key, target ?? ''],
      '',
    ],
  );
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
      `this is no properties file: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
  const units = lines.flatMap((line) => {
    const [key = '', value = ''] = Array.isArray(line) ? line : [];
    return Array.isArray(line) ? [{ key, target: value === '' ? undefined : value }] : [];
  });
  return { units };
}

export const properties: TranslationFormat = { extension: 'properties', write, read };
