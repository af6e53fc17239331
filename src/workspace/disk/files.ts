import {
  closeSync,
  constants,
  fstatSync,
  lstatSync,
  openSync,
  readFileSync,
  realpathSync,
} from 'node:fs';
import path from 'node:path';
import { decodeText } from '../../exchange/decode.js';
import { streams } from '../../exchange/streams.js';
import { complaint, Complaint } from './complaint.js';
import { systemCodeOf } from './system-error.js';

export const isYaml = (file: string): boolean => /\.ya?ml$/i.test(file);

/** Turns what the file system refused into a complaint about the file. */
export function readingFailed(file: string, error: unknown): Error {
  switch (systemCodeOf(error)) {
    case 'ENOENT':
    case 'ENOTDIR':
      return complaint('not-found', [file]);
    case 'ENXIO':
      return complaint('no-file', [file]);
    case 'ELOOP':
      return complaint('not-readable', [file, 'it is a link that leads to itself']);
    case 'EISDIR':
      return complaint('is-folder', [file]);
    default:
      return complaint('not-readable', [file, systemCodeOf(error) || String(error)]);
  }
}

/**
 * The files that may be read: any where a person named the file, plain files only where a workspace
 * does.
 */
export type Kind = 'any' | 'plain';

/** The largest file of a workspace, in MiB. */
const MOST_MIB = 256;

/** Reads a file that is one: a pipe would be waited for, and a device has no end. */
function readPlain(file: string, named: string): Buffer {
  const handle = openSync(file, constants.O_RDONLY | constants.O_NONBLOCK);
  try {
    const stat = fstatSync(handle);
    if (stat.isDirectory()) throw complaint('is-folder', [named]);
    if (!stat.isFile()) throw complaint('no-file', [named]);
    if (stat.size > MOST_MIB * 1024 * 1024)
      throw complaint('too-large-file', [named, `${MOST_MIB} MiB`]);
    return readFileSync(handle);
  } finally {
    closeSync(handle);
  }
}

/**
 * Reads the bytes of a file.
 * @param file its path on disk, or `-` for standard input
 * @param named what it is called in sentences
 * @throws {Complaint}
 */
export function readBytes(file: string, named: string, kind: Kind = 'any'): Buffer {
  try {
    return kind === 'plain'
      ? readPlain(file, named)
      : file === '-'
        ? streams().inputBytes()
        : readFileSync(file);
  } catch (error) {
    throw error instanceof Complaint ? error : readingFailed(named, error);
  }
}

/**
 * The text of bytes that begin with a byte order mark of UTF-16, as some tools of translators and
 * spreadsheets write it.
 */
export function decodeUtf16(bytes: Buffer): string | undefined {
  const label =
    bytes[0] === 0xff && bytes[1] === 0xfe
      ? 'utf-16le'
      : bytes[0] === 0xfe && bytes[1] === 0xff
        ? 'utf-16be'
        : undefined;
  return label && new TextDecoder(label).decode(bytes);
}

/**
 * Reads a text file in UTF-8; a byte order mark is dropped.
 * @param file its path on disk, or `-` for standard input
 * @param named what it is called in sentences
 * @param holds what it should hold, for the sentence about an empty one
 * @throws {Complaint}
 */
export function readText(file: string, named: string, holds: string, kind: Kind = 'any'): string {
  return textFrom(readBytes(file, named, kind), named, holds);
}

/** The text of bytes in UTF-8, if there is anything in them. @throws {Complaint} */
export function textFrom(bytes: Buffer, named: string, holds: string): string {
  const text = decodeText(bytes);
  if (text === undefined) throw complaint('not-utf8', [], { file: named });
  return heldText(text, named, holds);
}

/**
 * The text of a file, if there is anything in it.
 * @throws {Complaint} with what it should hold
 */
export function heldText(text: string, named: string, holds: string): string {
  if (text.trim() === '') throw complaint('empty', [holds], { file: named });
  return text;
}

/** Reads a text that another program wrote, which may be UTF-16 with a byte order mark. */
export function readTextOrUtf16(file: string, named: string, holds: string): string {
  const bytes = readBytes(file, named);
  return decodeUtf16(bytes) ?? textFrom(bytes, named, holds);
}

/**
 * A file's name in sentences: relative to where one stands if that is shorter to read, with forward
 * slashes.
 */
export function displayName(file: string, from: string): string {
  if (path.sep === '/' && file.startsWith(`${from}/`)) return file.slice(from.length + 1);
  const relative = path.relative(from, file);
  const shown =
    relative === '' ? '.' : relative.startsWith(`..${path.sep}..${path.sep}..`) ? file : relative;
  return shown.split(path.sep).join('/');
}

/** Whether a path lies inside a folder; both are real paths, links followed. */
export function isBelow(folder: string, real: string): boolean {
  const relative = path.relative(folder, real);
  return relative !== '' && relative.split(path.sep)[0] !== '..' && !path.isAbsolute(relative);
}

/** Whether a file is there and lies below a folder, links followed. */
export function isInside(root: string, file: string): boolean {
  try {
    return isBelow(realpathSync(root), realpathSync(file));
  } catch {
    return false;
  }
}

/** Whether a file is there and does not lie below a folder, links followed. */
export function leadsOut(root: string, file: string): boolean {
  return (
    lstatSync(file, { throwIfNoEntry: false }) !== undefined &&
    existsThere(file) &&
    !isInside(root, file)
  );
}

function existsThere(file: string): boolean {
  try {
    return realpathSync(file) !== '';
  } catch {
    return false;
  }
}

/** The file of a catalog's review, beside it. */
export const reviewFileOf = (catalog: string): string =>
  catalog.replace(/\.jsonc?$/i, '') + '.review.jsonl';
