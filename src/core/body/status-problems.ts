/** The problems that statuses of their own stand for (RFC 9110 section 15, RFC 6585). */
const BY_STATUS: Readonly<Record<number, string>> = {
  401: 'not-signed-in',
  403: 'not-allowed',
  404: 'not-found',
  405: 'wrong-method',
  406: 'not-acceptable',
  409: 'conflict',
  410: 'gone',
  412: 'condition-failed',
  413: 'too-large',
  415: 'wrong-media-type',
  428: 'condition-missing',
  429: 'too-many-requests',
  500: 'unexpected',
  503: 'unavailable',
  504: 'timed-out',
};

/**
 * The problem that an error status is where nothing else is known. 400 and 422 say only that a
 * request is refused, not why.
 */
export const problemOfStatus = (status: number): string =>
  BY_STATUS[status] ?? (status < 500 ? 'refused' : 'failed');
