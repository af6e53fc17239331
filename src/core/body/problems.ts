import { keyed } from '../base/keyed.js';
/**
 * The error statuses of the IANA HTTP Status Code Registry (RFC 9110 section 16.2.1) with their
 * phrases; 418 is reserved.
 */
export const ERROR_STATUSES: ReadonlyMap<number, string> = new Map([
  [400, 'Bad Request'],
  [401, 'Unauthorized'],
  [402, 'Payment Required'],
  [403, 'Forbidden'],
  [404, 'Not Found'],
  [405, 'Method Not Allowed'],
  [406, 'Not Acceptable'],
  [407, 'Proxy Authentication Required'],
  [408, 'Request Timeout'],
  [409, 'Conflict'],
  [410, 'Gone'],
  [411, 'Length Required'],
  [412, 'Precondition Failed'],
  [413, 'Content Too Large'],
  [414, 'URI Too Long'],
  [415, 'Unsupported Media Type'],
  [416, 'Range Not Satisfiable'],
  [417, 'Expectation Failed'],
  [421, 'Misdirected Request'],
  [422, 'Unprocessable Content'],
  [423, 'Locked'],
  [424, 'Failed Dependency'],
  [425, 'Too Early'],
  [426, 'Upgrade Required'],
  [428, 'Precondition Required'],
  [429, 'Too Many Requests'],
  [431, 'Request Header Fields Too Large'],
  [451, 'Unavailable For Legal Reasons'],
  [500, 'Internal Server Error'],
  [501, 'Not Implemented'],
  [502, 'Bad Gateway'],
  [503, 'Service Unavailable'],
  [504, 'Gateway Timeout'],
  [505, 'HTTP Version Not Supported'],
  [506, 'Variant Also Negotiates'],
  [507, 'Insufficient Storage'],
  [508, 'Loop Detected'],
  [510, 'Not Extended'],
  [511, 'Network Authentication Required'],
]);

/** The errors of a whole request that Zeitwort knows, with their statuses. */
export const PROBLEM_STATUSES: ReadonlyMap<string, number> = new Map([
  ['invalid-fields', 422],
  ['malformed-body', 400],
  ['empty-body', 400],
  ['wrong-media-type', 415],
  ['wrong-encoding', 415],
  ['wrong-method', 405],
  ['not-acceptable', 406],
  ['too-large', 413],
  ['not-signed-in', 401],
  ['not-allowed', 403],
  ['not-found', 404],
  ['gone', 410],
  ['conflict', 409],
  ['condition-failed', 412],
  ['condition-missing', 428],
  ['too-many-requests', 429],
  // What a status says that no other problem is for.
  ['refused', 400],
  ['failed', 500],
  ['unexpected', 500],
  ['unavailable', 503],
  ['timed-out', 504],
  // The service has limits for what one request may ask of it; what was not judged is neither valid
  // nor invalid.
  ['not-validated', 503],
]);

/**
 * The members of a body that are ours to tell (RFC 9457 section 3.1, and what the shapes add): no
 * extension may say otherwise.
 */
const STANDARD_MEMBERS = new Set([
  'type',
  'title',
  'status',
  'detail',
  'instance',
  'errors',
  'more',
]);

/**
 * What keeps a name from being one of an extension member, as half a sentence; nothing where it may
 * be.
 * @param shape the name of the body's shape
 */
export function memberTrouble(name: string, shape: string): string | undefined {
  if (STANDARD_MEMBERS.has(name))
    return `the member "${name}" has a meaning of its own; choose another name`;
  // RFC 9457 section 3.2 asks for names that XML can hold, for this very reason.
  if (shape === 'problem-xml' && !/^[A-Za-z_][\w.-]*$/.test(name))
    return `XML has no element "${name}"; choose another name`;
  return undefined;
}

/** What the texts of a problem can say besides words, by the problem's name. */
export const PROBLEM_ARGUMENTS: Readonly<Record<string, readonly string[]>> = keyed({
  // `fields` counts those of the violations that were read, which are not all where there are very
  // many.
  'invalid-fields': ['count', 'fields'],
  // Not every reader of JSON can tell the place.
  'malformed-body': ['located', 'line', 'column'],
  'too-many-requests': ['timed', 'seconds'],
  unavailable: ['timed', 'seconds'],
});

/** Keys that tell, as `yes` or `no`, whether another argument is there. */
export const TELLS_WHETHER: Readonly<Record<string, string>> = keyed({
  located: 'line',
  timed: 'seconds',
});

/**
 * Problems after which a client may try again, in `seconds` where that is told (RFC 9110 section
 * 10.2.3).
 */
export const TO_TRY_AGAIN: ReadonlySet<string> = new Set([
  'too-many-requests',
  'unavailable',
  'not-validated',
]);
