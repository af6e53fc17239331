import { readFileSync, realpathSync } from 'node:fs';
import path from 'node:path';
import { complaint } from './complaint.js';

const code = (error: unknown): string => (error instanceof Error && 'code' in error ? String(error.code) : String(error));

/** Turns what the file system refused into a complaint about the file. */
export function readingFailed(file: string, error: unknown): Error {
  switch (code(error)) {
    case 'ENOENT':
    case 'ENOTDIR':
      return complaint('not-found', [file]);
    case 'EISDIR':
      return complaint('is-folder', [file]);
    default:
      return complaint('not-readable', [file, code(error)]);
  }
}

/**
 * Reads the bytes of a file.
 * @param file its path on disk, or `-` for standard input
 * @param named what it is called in sentences
 * @throws {Complaint}
 */
export function readBytes(file: string, named: string): Buffer {
  try {
    return readFileSync(file === '-' ? 0 : file);
  } catch (error) {
    throw readingFailed(named, error);
  }
}

/** The text of bytes in UTF-8, a byte order mark dropped; nothing where they are none. */
export function decodeText(bytes: Buffer): string | undefined {
  try {
    return utf8.decode(bytes);
  } catch {
    return undefined;
  }
}

const utf8 = new TextDecoder('utf-8', { fatal: true });

/**
 * Reads a text file in UTF-8; a byte order mark is dropped.
 * @param file its path on disk, or `-` for standard input
 * @param named what it is called in sentences
 * @param holds what it should hold, for the sentence about an empty one
 * @throws {Complaint}
 */
export function readText(file: string, named: string, holds: string): string {
  const text = decodeText(readBytes(file, named));
  if (text === undefined) throw complaint('not-utf8', [], { file: named });
  if (text.trim() === '') throw complaint('empty', [holds], { file: named });
  return text;
}

/** A file's name in sentences: relative to where one stands if that is shorter to read, with forward slashes. */
export function displayName(file: string, from: string): string {
  const relative = path.relative(from, file);
  const shown = relative === '' ? '.' : relative.startsWith(`..${path.sep}..${path.sep}..`) ? file : relative;
  return shown.split(path.sep).join('/');
}

/** Whether a file is there and lies in the folder, links followed. */
export function isInside(folder: string, file: string): boolean {
  try {
    const relative = path.relative(realpathSync(folder), realpathSync(path.join(folder, file)));
    return relative !== '' && !relative.startsWith('..') && !path.isAbsolute(relative);
  } catch {
    return false;
  }
}

/** The file of a catalog's review, beside it. */
export const reviewFileOf = (catalog: string): string => catalog.replace(/\.jsonc?$/i, '') + '.review.jsonl';
