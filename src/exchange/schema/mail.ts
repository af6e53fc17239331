import { domainToASCII, domainToUnicode } from 'node:url';

/** The signs of RFC 5322's `atext`, which one part of a local part may be made of. */
const ATOM = /^[a-z0-9!#$%&'*+/=?^_`{|}~-]+$/i;
/** Matches an atom with characters beyond ASCII (RFC 6531, section 3.3). */
const WIDE_ATOM = /^(?:[a-z0-9!#$%&'*+/=?^_`{|}~-]|[^\0-\x7f])+$/iu;
const QUOTED = /^"(?:[ !#-[\]-~]|\\[ -~])*"$/;
const WIDE_QUOTED = /^"(?:[ !#-[\]-~]|[^\0-\x7f]|\\[ -~])*"$/u;

const DOTS = /[.\u3002\uff0e\uff61]/u;

/**
 * The parts of RFC 5321 and RFC 6531 that other formats know: names of hosts and addresses of
 * theirs.
 */
export interface Hosts {
  readonly isHostname: (text: string) => boolean;
  readonly isIpv4: (text: string) => boolean;
  readonly isIpv6: (text: string) => boolean;
}

/** `[192.0.2.1]`, `[IPv6:2001:db8::1]` (RFC 5321, section 4.1.3). */
function isLiteral(domain: string, { isIpv4, isIpv6 }: Hosts): boolean {
  const inner = /^\[(.*)\]$/s.exec(domain)?.[1];
  if (inner === undefined) return false;
  const six = /^IPv6:(.*)$/is.exec(inner)?.[1];
  return six === undefined ? isIpv4(inner) : isIpv6(six);
}

function isMailbox(
  text: string,
  atom: RegExp,
  quoted: RegExp,
  isDomain: (text: string) => boolean,
  hosts: Hosts,
): boolean {
  const at = text.lastIndexOf('@');
  if (at < 1) return false;
  const [local, domain] = [text.slice(0, at), text.slice(at + 1)];
  const isLocal = local.startsWith('"')
    ? quoted.test(local)
    : local.split('.').every((part) => atom.test(part));
  // Section 4.5.3.1.1 counts octets.
  const isShort = new TextEncoder().encode(local).length <= 64;
  // A name without a dot is one of a single network; who writes one in a form has mostly forgotten
  // the rest.
  return (
    isLocal && isShort && (isLiteral(domain, hosts) || (DOTS.test(domain) && isDomain(domain)))
  );
}

/** A mailbox (RFC 5321, section 4.1.2): quoted local parts and address literals are some, too. */
export const isEmail = (text: string, hosts: Hosts): boolean =>
  isMailbox(text, ATOM, QUOTED, hosts.isHostname, hosts);

/** Whether a text is an email address, also with letters beyond ASCII (RFC 6531). */
export const isIdnEmail = (text: string, hosts: Hosts): boolean =>
  isMailbox(
    text,
    WIDE_ATOM,
    WIDE_QUOTED,
    (domain) => isIdnHostname(domain, hosts.isHostname),
    hosts,
  );

const LONGEST_LABEL = 63;

/**
 * Signs that RFC 5892 (section 2.6) allows or forbids by itself, against what their classes would
 * say.
 */
const ALLOWED = /^[\u00df\u03c2\u06fd\u06fe\u0f0b\u3007]$/u;
const FORBIDDEN = /[\u0640\u07fa\u302e\u302f\u3031-\u3035\u303b]/u;
const LETTER_OR_DIGIT = /^[\p{Ll}\p{Lo}\p{Lm}\p{Mn}\p{Mc}\p{Nd}-]$/u;

/** The contexts in which RFC 5892 (appendix A) allows some characters. */
const CONTEXTS: readonly (readonly [
  RegExp,
  (before: string, after: string, label: string) => boolean,
])[] = [
  // What letters join has a table of its own, which the platform has.
  [/[\u200c\u200d]/gu, () => true],
  [/\u00b7/gu, (before, after) => before.endsWith('l') && after.startsWith('l')],
  [/\u0375/gu, (_, after) => /^\p{Script=Greek}/u.test(after)],
  [/[\u05f3\u05f4]/gu, (before) => /\p{Script=Hebrew}$/u.test(before)],
  [
    /\u30fb/gu,
    (_before, _after, label) =>
      /[\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Han}]/u.test(
        label.replaceAll('\u30fb', ''),
      ),
  ],
  [/[\u0660-\u0669]/gu, (_before, _after, label) => !/[\u06f0-\u06f9]/u.test(label)],
];

const inContext = (label: string): boolean =>
  CONTEXTS.every(([sign, fits]) =>
    [...label.matchAll(sign)].every(({ 0: found, index }) =>
      fits(label.slice(0, index), label.slice(index + found.length), label),
    ),
  );

const isContextual = (sign: string): boolean =>
  CONTEXTS.some(([shape]) => new RegExp(shape.source, 'u').test(sign));

/** A label in letters of its own (RFC 5891, section 5.4; RFC 5892). */
function isUnicodeLabel(label: string): boolean {
  if (
    label.normalize('NFC') !== label ||
    /^-|-$|^..--/u.test(label) ||
    /^\p{M}/u.test(label) ||
    FORBIDDEN.test(label)
  )
    return false;
  const signs = Array.from(label);
  if (signs.length === 0) return false;
  if (
    !signs.every((sign) => LETTER_OR_DIGIT.test(sign) || ALLOWED.test(sign) || isContextual(sign))
  )
    return false;
  return inContext(label);
}

function isLabel(label: string, isHostname: (text: string) => boolean): boolean {
  if (label === '') return false;
  const lower = label.toLowerCase();
  if (/^[\0-\x7f]*$/.test(lower))
    return (
      isHostname(lower) && (!lower.startsWith('xn--') || isUnicodeLabel(domainToUnicode(lower)))
    );
  // The tables of the platform have the rest: what is not assigned, the rule of right-to-left
  // labels, the length.
  const ascii = domainToASCII(lower);
  return isUnicodeLabel(lower) && ascii !== '' && ascii.length <= LONGEST_LABEL;
}

/**
 * A host's name in letters of any script (RFC 5890, section 2.3.2.3); `hostname` is one as well.
 */
export function isIdnHostname(text: string, isHostname: (text: string) => boolean): boolean {
  const labels = text.split(DOTS);
  return domainToASCII(text).length <= 253 && labels.every((label) => isLabel(label, isHostname));
}
