import { keyed } from '../base/keyed.js';
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
 * The reserved members of a body (RFC 9457 section 3.1, and those that shapes add): no extension
 * may have these names.
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
 * Returns why a name cannot be an extension member, as half a sentence; nothing where it can.
 * @param shape the name of the body's shape
 */
export function memberTrouble(name: string, shape: string): string | undefined {
  if (STANDARD_MEMBERS.has(name)) return `the member "${name}" is reserved; choose another name`;
  // RFC 9457 section 3.2 asks for names that XML can hold, for this very reason.
  if (shape === 'problem-xml' && !/^[A-Za-z_][\w.-]*$/.test(name))
    return `XML has no element "${name}"; choose another name`;
  return undefined;
}

/** Keys that are `yes` or `no`: whether another argument is there. */
export const TELLS_WHETHER: Readonly<Record<string, string>> = keyed({
  located: 'line',
  timed: 'seconds',
});

/**
 * Problems after which a client may try again, in `seconds` where these are given (RFC 9110 section
 * 10.2.3).
 */
export const TO_TRY_AGAIN: ReadonlySet<string> = new Set([
  'too-many-requests',
  'unavailable',
  'not-validated',
]);
