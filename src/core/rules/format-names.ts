import { keyed } from '../base/keyed.js';
/**
 * What is told of a format: its name in the trade, the same in all languages, and a text that has
 * it.
 */
export interface FormatName {
  readonly name: string;
  readonly example: string;
}

const named = (name: string, example: string): FormatName => ({ name, example });

/** The formats of JSON Schema (Validation section 7.3), each asserted. */
const STANDARD: Readonly<Record<string, FormatName>> = keyed({
  date: named('RFC 3339 full-date', '2027-03-09'),
  time: named('RFC 3339 full-time', '21:30:00Z'),
  'date-time': named('RFC 3339 date-time', '2027-03-09T21:30:00Z'),
  duration: named('ISO 8601 duration', 'PT45M'),
  email: named('RFC 5321 Mailbox', 'name@domain.example'),
  hostname: named('RFC 1123 host name', 'dome.domain.example'),
  ipv4: named('IPv4', '192.0.2.7'),
  ipv6: named('IPv6', '2001:db8::7'),
  uri: named('URI', 'https://domain.example/page'),
  'uri-reference': named('URI reference', '/page'),
  uuid: named('UUID', '2f1c9e0a-51d3-4c8e-9b7a-0d6f3e2a4b18'),
  'json-pointer': named('JSON Pointer', '/title'),
  regex: named('ECMA-262', '^[a-z]+$'),
  'idn-email': named('RFC 6531 Mailbox', 'sternwarte@küste.example'),
  'idn-hostname': named('IDNA2008', 'küste.example'),
  iri: named('IRI', 'https://küste.example/seite'),
  'iri-reference': named('IRI reference', '/küste'),
  'uri-template': named('URI Template', '/targets/{name}'),
  'relative-json-pointer': named('Relative JSON Pointer', '1/title'),
});

/** What validators of several languages have besides; their names as these write them, with `-`. */
const FURTHER: Readonly<Record<string, FormatName>> = keyed({
  base64: named('Base64', 'WmVpdHdvcnQ='),
  base64url: named('Base64url', 'WmVpdHdvcnQ'),
  hex: named('Base16', '5a656974'),
  cidrv4: named('CIDR (IPv4)', '192.0.2.0/24'),
  cidrv6: named('CIDR (IPv6)', '2001:db8::/32'),
  mac: named('MAC', '00:00:5e:00:53:2a'),
  e164: named('E.164', '+12025550142'),
  jwt: named('JWT', 'eyJhbGciOiJIUzI1NiJ9.e30.c2ln'),
  'json-string': named('JSON', '{"magnitude":12}'),
  emoji: named('Emoji', '🔭'),
  'currency-code': named('ISO 4217', 'EUR'),
  'credit-card': named('ISO/IEC 7812', '4000000000000002'),
  iban: named('IBAN', 'GB33BUKB20201555555555'),
  ulid: named('ULID', '01HZX3J9Q5T8V2W4Y6B7C8D9E0'),
  nanoid: named('Nano ID', 'V1StGXR8_Z5jdHi6B-myT'),
  cuid: named('CUID', 'ck9x2m4t00001qzrmn831i7rn'),
  cuid2: named('CUID2', 'tz4a98xxat96iws9zmbrgj3a'),
  xid: named('XID', '9m4e2mr0ui3e8a215n4g'),
  ksuid: named('KSUID', '0ujtsYcgvSTl8PAuAdqWYSMnLOv'),
});

/** Lengths of digests in bytes. */
export const DIGESTS = { md5: 16, sha1: 20, sha256: 32, sha384: 48, sha512: 64 } as const;
const DIGEST_NAMES = {
  md5: 'MD5',
  sha1: 'SHA-1',
  sha256: 'SHA-256',
  sha384: 'SHA-384',
  sha512: 'SHA-512',
} as const;

/** How a digest of so many bytes looks: three bytes make four characters. */
function digestExample(bytes: number, encoding: string): string {
  if (encoding === 'hex') return '5a'.repeat(bytes);
  const full = 'Wlpa'.repeat(Math.floor(bytes / 3));
  const rest = ['', 'Wg==', 'Wlo='][bytes % 3] ?? '';
  return encoding === 'base64' ? full + rest : (full + rest).replaceAll('=', '');
}

const DIGEST_FORMATS = Object.entries(DIGESTS).flatMap(([hash, bytes]) =>
  [
    ['hex', 'Base16'] as const,
    ['base64', 'Base64'] as const,
    ['base64url', 'Base64url'] as const,
  ].map(([encoding, said]): [string, FormatName] => [
    `${hash}-${encoding}`,
    named(
      `${DIGEST_NAMES[hash as keyof typeof DIGESTS]} (${said})`,
      digestExample(bytes, encoding),
    ),
  ]),
);

const FORMATS: ReadonlyMap<string, FormatName> = new Map([
  ...Object.entries(STANDARD),
  ...Object.entries(FURTHER),
  ...DIGEST_FORMATS,
]);

/** The formats that a sheet can ask for, each asserted. */
export const FORMAT_NAMES: readonly string[] = [...FORMATS.keys()];

/** What other libraries call some of them. */
const ALIASES: Readonly<Record<string, string>> = keyed({
  url: 'uri',
  datetime: 'date-time',
  guid: 'uuid',
  uuidv4: 'uuid',
  uuidv6: 'uuid',
  uuidv7: 'uuid',
  ip: 'ipv4',
  'iso-time': 'time',
  'iso-date-time': 'date-time',
  'http-url': 'uri',
  'e-mail': 'email',
  phone: 'e164',
});

/** A format as we write it: `credit_card` is `credit-card`. What nobody knows stays as it is. */
export function formatName(name: string): string {
  if (!name.includes('_')) return name;
  const written = name.replaceAll('_', '-');
  return FORMATS.has(written) ? written : name;
}

/** The format that a library means by a name of its own: `datetime` is `date-time`. */
export function formatMeant(name: string): string {
  const written = formatName(name);
  return FORMATS.has(written) || !Object.hasOwn(ALIASES, written)
    ? written
    : (ALIASES[written] ?? written);
}

/** What can be said of a format. */
export const formatSaid = (name: string): FormatName | undefined => FORMATS.get(formatMeant(name));
