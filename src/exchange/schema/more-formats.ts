import { DIGESTS } from '../../core/rules/format-names.js';
import { keyed } from '../../core/base/keyed.js';

type Asks = (text: string) => boolean;

const shaped =
  (shape: RegExp): Asks =>
  (text) =>
    shape.test(text);

/** Four characters for three bytes, the last group filled up (RFC 4648 section 4). */
const isBase64: Asks = (text) =>
  text.length % 4 === 0 && /^[A-Za-z0-9+/]*={0,2}$/.test(text) && !/[^=]=[^=]/.test(text);

/** Without filling (RFC 4648 section 5, as RFC 7515 has it); no byte needs a single character. */
const isBase64Url: Asks = (text) => /^[A-Za-z0-9_-]*$/.test(text) && text.length % 4 !== 1;

function asJson(text: string): { readonly value: unknown } | undefined {
  try {
    return { value: JSON.parse(text) as unknown };
  } catch {
    return undefined;
  }
}

/** RFC 7519: three parts, the first of them an object that names the way of signing. */
function isJwt(text: string): boolean {
  const [header = '', claims, signature, ...more] = text.split('.');
  if (claims === undefined || signature === undefined || more.length > 0) return false;
  if (header === '' || ![header, claims, signature].every(isBase64Url)) return false;
  const binary = atob(header.replaceAll('-', '+').replaceAll('_', '/'));
  const read = asJson(
    new TextDecoder().decode(Uint8Array.from(binary, (byte) => byte.charCodeAt(0))),
  )?.value;
  return (
    typeof read === 'object' &&
    read !== null &&
    'alg' in read &&
    typeof read.alg === 'string' &&
    read.alg !== ''
  );
}

/** ISO/IEC 7812: 12 to 19 digits, in groups or not, the last of them a check (Luhn). */
function isCardNumber(text: string): boolean {
  if (!/^\d(?:[ -]?\d){11,18}$/.test(text)) return false;
  const digits = Array.from(text.replaceAll(/[ -]/g, ''), Number).reverse();
  const sum = digits.reduce(
    (all, digit, at) => all + (at % 2 === 0 ? digit : digit > 4 ? 2 * digit - 9 : 2 * digit),
    0,
  );
  return sum % 10 === 0;
}

/** ISO 13616: the remainder by 97 of the number that its characters stand for is 1. */
function isIban(text: string): boolean {
  if (!/^[A-Z]{2}\d{2}[A-Z0-9]{11,30}$/.test(text)) return false;
  let remainder = 0;
  for (const character of text.slice(4) + text.slice(0, 4)) {
    const value = Number.parseInt(character, 36);
    remainder = (remainder * (value > 9 ? 100 : 10) + value) % 97;
  }
  return remainder === 1;
}

const withPrefix = (isAddress: Asks, longest: number): Asks => {
  return (text) => {
    const [address = '', length = '', ...more] = text.split('/');
    return (
      more.length === 0 &&
      isAddress(address) &&
      /^(0|[1-9]\d{0,2})$/.test(length) &&
      Number(length) <= longest
    );
  };
};

/** Pictures only, and one at least: digits and joiners are parts of some. */
const isEmoji: Asks = (text) =>
  /[\p{Extended_Pictographic}\p{Regional_Indicator}\u20e3]/u.test(text) &&
  /^[\p{Extended_Pictographic}\p{Emoji_Component}]+$/u.test(text);

let currencies: ReadonlySet<string> | undefined;

const ENCODED: Readonly<Record<string, (bytes: number) => Asks>> = keyed({
  hex: (bytes) => shaped(new RegExp(`^[0-9a-fA-F]{${2 * bytes}}$`)),
  base64: (bytes) => (text) => text.length === 4 * Math.ceil(bytes / 3) && isBase64(text),
  base64url: (bytes) => (text) => text.length === Math.ceil((8 * bytes) / 6) && isBase64Url(text),
});

const digests = Object.entries(DIGESTS).flatMap(([algorithm, [, bytes]]) =>
  Object.entries(ENCODED).map(([encoding, make]): [string, Asks] => [
    `${algorithm} ${encoding}`,
    make(bytes),
  ]),
);

/** Formats that no standard of JSON Schema names, and that validators of several languages have. */
export const moreFormats = (isIpv4: Asks, isIpv6: Asks): Readonly<Record<string, Asks>> => ({
  base64: isBase64,
  base64url: isBase64Url,
  hex: shaped(/^[0-9a-fA-F]*$/),
  'ipv4-range': withPrefix(isIpv4, 32),
  'ipv6-range': withPrefix(isIpv6, 128),
  // IEEE 802, six pairs with one sign between all of them.
  mac: shaped(/^[0-9a-fA-F]{2}([:-])(?:[0-9a-fA-F]{2}\1){4}[0-9a-fA-F]{2}$/),
  // ITU-T E.164: at most 15 digits, no country's code begins with 0.
  e164: shaped(/^\+[1-9]\d{6,14}$/),
  jwt: isJwt,
  'json-text': (text) => asJson(text) !== undefined,
  emoji: isEmoji,
  // ISO 4217, withdrawn ones too.
  'currency-code': (text) => (currencies ??= new Set(Intl.supportedValuesOf('currency'))).has(text),
  'credit-card': isCardNumber,
  iban: isIban,
  ulid: shaped(/^[0-7][0-9A-HJKMNP-TV-Za-hjkmnp-tv-z]{25}$/),
  nanoid: shaped(/^[\w-]{21}$/),
  cuid: shaped(/^c[0-9a-z]{6,}$/i),
  cuid2: shaped(/^[a-z][0-9a-z]{1,31}$/),
  xid: shaped(/^[0-9a-vA-V]{20}$/),
  ksuid: shaped(/^[A-Za-z0-9]{27}$/),
  ...Object.fromEntries(digests),
});
