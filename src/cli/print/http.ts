import { contentLanguage, type Answer } from '../../core/body/answer.js';
import { ERROR_STATUSES } from '../../core/body/status-phrases.js';

/**
 * Status line and headers of an answer, as they would go over the wire (RFC 9112 section 2.1), and
 * the blank line behind.
 */
export function head(answer: Answer, mediaType: string, body: string): string {
  const { status } = answer;
  return [
    `HTTP/1.1 ${status} ${ERROR_STATUSES.get(status) ?? ''}`,
    `Content-Type: ${mediaType}`,
    `Content-Language: ${contentLanguage(answer)}`,
    ...(answer.retryAfter === undefined ? [] : [`Retry-After: ${answer.retryAfter}`]),
    `Content-Length: ${Buffer.byteLength(body)}`,
    '',
    '',
  ].join('\r\n');
}
