/** The parts of a URI reference (RFC 3986 appendix B). */
const PARTS = /^(?:([a-z][a-z0-9+.-]*):)?(?:\/\/([^/?#]*))?([^?#]*)(?:\?([^#]*))?(?:#(.*))?$/is;

// Sets of characters of RFC 3986 section 2 and appendix A; each is one loop over single characters, so time grows with length only.
const USER = /^(?:[a-z0-9._~!$&'()*+,;=:-]|%[0-9a-f]{2})*$/i;
const NAME = /^(?:[a-z0-9._~!$&'()*+,;=-]|%[0-9a-f]{2})*$/i;
const PATH = /^(?:[a-z0-9._~!$&'()*+,;=:@/-]|%[0-9a-f]{2})*$/i;
const REST = /^(?:[a-z0-9._~!$&'()*+,;=:@/?-]|%[0-9a-f]{2})*$/i;
const FUTURE = /^v[0-9a-f]+\.[a-z0-9._~!$&'()*+,;=:-]+$/i;

function isHost(host: string, isIpv6: (text: string) => boolean): boolean {
  if (!host.startsWith('[')) return NAME.test(host);
  if (!host.endsWith(']')) return false;
  const inner = host.slice(1, -1);
  return FUTURE.test(inner) || isIpv6(inner);
}

function isAuthority(authority: string, isIpv6: (text: string) => boolean): boolean {
  const at = authority.lastIndexOf('@');
  if (at >= 0 && !USER.test(authority.slice(0, at))) return false;
  const hostAndPort = authority.slice(at + 1);
  const port = /:\d*$/.exec(hostAndPort.slice(-12));
  const host = port && !hostAndPort.endsWith(']') ? hostAndPort.slice(0, -port[0].length) : hostAndPort;
  return isHost(host, isIpv6);
}

/**
 * Whether a text is a URI reference, or with `absolute` a URI, which has a scheme (RFC 3986 sections 3 and 4.1). Spelt out,
 * since one expression for all of it takes time with the square of a text's length.
 */
export function isUri(text: string, absolute: boolean, isIpv6: (text: string) => boolean): boolean {
  const parts = PARTS.exec(text);
  if (!parts) return false;
  const [, scheme, authority, path = '', query = '', fragment = ''] = parts;
  if (absolute && scheme === undefined) return false;
  if (!PATH.test(path) || !REST.test(query) || !REST.test(fragment)) return false;
  if (authority !== undefined) return isAuthority(authority, isIpv6);
  // Without a scheme the first segment has no colon, or it would be one (section 4.2).
  return scheme !== undefined || !(path.split('/', 1)[0] ?? '').includes(':');
}
