import { isIP } from 'node:net';

const LOOPBACK = /^(?:localhost|(?:.+\.)?localhost|127(?:\.\d{1,3}){3}|::1)\.?$/i;

/** The name in a `Host` header, without its port and brackets. */
const nameIn = (host: string): string => host.replace(/:\d*$/, '').replace(/^\[(.*)\]$/, '$1');

/**
 * Which hosts are answered for. A service that listens on this machine only is meant for this
 * machine: a page from elsewhere can have its own name lead here (DNS rebinding), but not change
 * what the browser says in `Host`.
 * @param listening the address listened at
 * @param allowed names that lead here by right
 * @returns nothing where anybody may ask, since it listens for the network and no names are given
 */
export function hostCheck(
  listening: string,
  allowed: readonly string[],
): ((host: string | undefined) => boolean) | undefined {
  const names = new Set([...allowed, listening].map((name) => name.toLowerCase()));
  if (!LOOPBACK.test(listening) && allowed.length === 0) return undefined;
  return (host) => {
    // HTTP/1.0 knows no hosts, and browsers do not speak it.
    if (host === undefined) return true;
    const name = nameIn(host).toLowerCase();
    if (LOOPBACK.test(name) || names.has(name)) return true;
    // An address cannot be made to lead elsewhere, and no page has one of this machine's for its
    // name.
    return !LOOPBACK.test(listening) && isIP(name) !== 0;
  };
}
