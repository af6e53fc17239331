/** The parts of a URI reference (RFC 3986 appendix B). */
const PARTS = /^(?:([a-z][a-z0-9+.-]*):)?(?:\/\/([^/?#]*))?([^?#]*)(?:\?([^#]*))?(?:#(.*))?$/is;

// Sets of characters of RFC 3986 section 2 and appendix A; each is one loop over single characters,
// so time grows with length only.
const SETS = {
  user: "a-z0-9._~!$&'()*+,;=:-",
  name: "a-z0-9._~!$&'()*+,;=-",
  path: "a-z0-9._~!$&'()*+,;=:@/-",
  rest: "a-z0-9._~!$&'()*+,;=:@/?-",
};
/** The `ucschar` of RFC 3987, and its `iprivate`, which queries alone may have. */
const WIDE = '\\u00a0-\\ud7ff\\uf900-\\ufdcf\\ufdf0-\\uffef\\u{10000}-\\u{efffd}';
const PRIVATE = '\\ue000-\\uf8ff\\u{f0000}-\\u{10fffd}';

const madeOf = (set: string): RegExp => new RegExp(`^(?:[${set}]|%[0-9a-f]{2})*$`, 'iu');

interface Alphabet {
  readonly user: RegExp;
  readonly name: RegExp;
  readonly path: RegExp;
  readonly query: RegExp;
  readonly fragment: RegExp;
}

const alphabet = (more: string, inQueries: string): Alphabet => ({
  user: madeOf(more + SETS.user),
  name: madeOf(more + SETS.name),
  path: madeOf(more + SETS.path),
  query: madeOf(inQueries + more + SETS.rest),
  fragment: madeOf(more + SETS.rest),
});

let narrow: Alphabet | undefined;
let wide: Alphabet | undefined;

const FUTURE = /^v[0-9a-f]+\.[a-z0-9._~!$&'()*+,;=:-]+$/i;

function isHost(host: string, { name }: Alphabet, isIpv6: (text: string) => boolean): boolean {
  if (!host.startsWith('[')) return name.test(host);
  if (!host.endsWith(']')) return false;
  const inner = host.slice(1, -1);
  return FUTURE.test(inner) || isIpv6(inner);
}

function isAuthority(
  authority: string,
  letters: Alphabet,
  isIpv6: (text: string) => boolean,
): boolean {
  const at = authority.lastIndexOf('@');
  if (at >= 0 && !letters.user.test(authority.slice(0, at))) return false;
  const hostAndPort = authority.slice(at + 1);
  const port = /:\d*$/.exec(hostAndPort.slice(-12));
  const host =
    port && !hostAndPort.endsWith(']') ? hostAndPort.slice(0, -port[0].length) : hostAndPort;
  return isHost(host, letters, isIpv6);
}

/**
 * Whether a text is a URI reference, or with `absolute` a URI, which has a scheme (RFC 3986
 * sections 3 and 4.1); with `wide` letters of all scripts are taken as they are (RFC 3987). Spelt
 * out, since one expression for all of it takes time with the square of a text's length.
 */
export function isUri(
  text: string,
  wanted: { readonly absolute: boolean; readonly wide: boolean },
  isIpv6: (text: string) => boolean,
): boolean {
  const letters = wanted.wide ? (wide ??= alphabet(WIDE, PRIVATE)) : (narrow ??= alphabet('', ''));
  const parts = PARTS.exec(text);
  if (!parts) return false;
  const [, scheme, authority, path = '', query = '', fragment = ''] = parts;
  if (wanted.absolute && scheme === undefined) return false;
  if (!letters.path.test(path) || !letters.query.test(query) || !letters.fragment.test(fragment))
    return false;
  if (authority !== undefined) return isAuthority(authority, letters, isIpv6);
  // Without a scheme the first segment has no colon, or it would be one (section 4.2).
  return scheme !== undefined || !(path.split('/', 1)[0] ?? '').includes(':');
}
