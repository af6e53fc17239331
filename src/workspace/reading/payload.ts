import { complaint, Complaint } from '../disk/complaint.js';
import { decodeText } from '../../exchange/decode.js';
import { readBytes } from '../disk/files.js';
import { parseJson } from '../documents/json.js';
import { DEEPEST_PAYLOAD, tooDeepAt } from '../../core/text/nesting.js';
import { positionAt } from '../documents/position.js';

/** A payload, or the problem that answers a request whose body is none. */
export type Payload =
  | { readonly value: unknown; readonly text: string }
  | {
      readonly problem: 'empty-body' | 'malformed-body' | 'too-large';
      /** The reason as half a sentence, for the person who sent it. */
      readonly reason: string;
      readonly line?: number | undefined;
      readonly column?: number | undefined;
    };

/** Returns the reason why a payload cannot be read, with its place. */
export const reasonOf = ({
  reason,
  line,
  column,
}: Extract<Payload, { problem: string }>): string =>
  line === undefined ? reason : `${reason} (line ${line}, column ${column ?? 1})`;

/** Reads a request's body as JSON (RFC 8259). */
export function parsePayload(text: string): Payload {
  if (text.trim() === '') return { problem: 'empty-body', reason: 'the payload is empty' };
  const deep = tooDeepAt(text, DEEPEST_PAYLOAD);
  if (deep !== undefined) {
    const reason = `the payload is nested deeper than ${DEEPEST_PAYLOAD} levels`;
    return { problem: 'too-large', reason, ...positionAt(text, deep) };
  }
  try {
    return { value: parseJson(text, 'the payload', false), text };
  } catch (error) {
    if (!(error instanceof Complaint)) throw error;
    const { line, column } = error.location ?? {};
    return { problem: 'malformed-body', reason: error.sentence, line, column };
  }
}

/**
 * Reads a payload from a file, or from standard input for `-`.
 * @throws {Complaint} when the file cannot be read
 */
export function readPayload(file: string): Payload {
  const bytes = readBytes(file, file === '-' ? 'standard input' : file);
  const text = decodeText(bytes);
  return text === undefined
    ? { problem: 'malformed-body', reason: 'the payload is not in UTF-8' }
    : parsePayload(text);
}

/** The sentence about a payload that is none, with its place. */
export function payloadComplaint(
  payload: Extract<Payload, { problem: string }>,
  file: string,
): Complaint {
  return complaint('wrong-content', [payload.reason], {
    file: file === '-' ? 'standard input' : file,
    ...(payload.line === undefined ? {} : { line: payload.line }),
    ...(payload.column === undefined ? {} : { column: payload.column }),
  });
}
