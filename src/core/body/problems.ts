/** The error statuses of the IANA HTTP Status Code Registry (RFC 9110 section 16.2.1), without the reserved 418. */
export const ERROR_STATUSES: ReadonlySet<number> = new Set([
  ...[400, 401, 402, 403, 404, 405, 406, 407, 408, 409, 410, 411, 412, 413, 414, 415, 416, 417],
  ...[421, 422, 423, 424, 425, 426, 428, 429, 431, 451],
  ...[500, 501, 502, 503, 504, 505, 506, 507, 508, 510, 511],
]);

/** The errors of a whole request that Zeitwort knows, with their statuses. */
export const PROBLEM_STATUSES: ReadonlyMap<string, number> = new Map([
  ['invalid-fields', 422],
  ['malformed-body', 400],
  ['empty-body', 400],
  ['wrong-media-type', 415],
  ['too-large', 413],
  ['not-found', 404],
  ['conflict', 409],
  ['not-allowed', 403],
  ['unexpected', 500],
]);
