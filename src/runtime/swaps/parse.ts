import { parseSimple } from '../../core/message/simple.js';
import { MessageError } from '../../core/message/syntax-error.js';
import type { Message } from '../../core/message/tree.js';

// Stands for core/message/parse.ts: a pack made for this package has its messages parsed.
export function readMessage(text: string): Message {
  const simple = parseSimple(text);
  if (simple) return simple;
  throw new MessageError('the message is not parsed', 0, 'run "zeitwort pack --module"');
}
