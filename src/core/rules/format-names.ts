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
  'ipv4-range': named('CIDR (IPv4)', '192.0.2.0/24'),
  'ipv6-range': named('CIDR (IPv6)', '2001:db8::/32'),
  mac: named('MAC', '00:00:5e:00:53:2a'),
  // No country has the code 999.
  e164: named('E.164', '+9995550142'),
  jwt: named('JWT', 'eyJhbGciOiJFUzI1NiJ9.eyJkb21lIjoyfQ.c2ln'),
  'json-text': named('JSON', '{"magnitude":12}'),
  emoji: named('Emoji', '🔭'),
  'currency-code': named('ISO 4217', 'EUR'),
  // No industry issues numbers that begin with 0.
  'credit-card': named('ISO/IEC 7812', '0999000123456785'),
  // No country has the code XZ.
  iban: named('IBAN', 'XZ38DOME00001234567890'),
  ulid: named('ULID', '01J8D0ME5TARGA7E00D0ME0042'),
  nanoid: named('Nano ID', 'dome_2-slit_4-night_7'),
  cuid: named('CUID', 'cdome2slit4night7plate11'),
  cuid2: named('CUID2', 'dome2slit4night7plate11a'),
  xid: named('XID', 'd0me2s1it4n1ght7p1a0'),
  ksuid: named('KSUID', '1dome2Slit4Night7Plate11Abc'),
});

/** Digests: what they are called, and their lengths in bytes. */
export const DIGESTS = {
  md5: ['MD5', 16],
  'sha-1': ['SHA-1', 20],
  'sha-256': ['SHA-256', 32],
  'sha-384': ['SHA-384', 48],
  'sha-512': ['SHA-512', 64],
} as const;

/** How digests are written, and what that is called. */
export const ENCODINGS = { hex: 'Base16', base64: 'Base64', base64url: 'Base64url' } as const;

/** The format of digests; `algorithm` and `encoding` say which. */
const DIGEST = 'digest';

/** How a digest of so many bytes looks: three bytes make four characters. */
function digestExample(bytes: number, encoding: string): string {
  if (encoding === 'hex') return '5a'.repeat(bytes);
  const full = 'Wlpa'.repeat(Math.floor(bytes / 3));
  const rest = ['', 'Wg==', 'Wlo='][bytes % 3] ?? '';
  return encoding === 'base64' ? full + rest : (full + rest).replaceAll('=', '');
}

const DIGEST_FORMATS = Object.entries(DIGESTS).flatMap(([algorithm, [name, bytes]]) =>
  Object.entries(ENCODINGS).map(([encoding, said]): [string, FormatName] => [
    `${algorithm} ${encoding}`,
    named(`${name} (${said})`, digestExample(bytes, encoding)),
  ]),
);

const FORMATS: ReadonlyMap<string, FormatName> = new Map([
  ...Object.entries(STANDARD),
  ...Object.entries(FURTHER),
  ...DIGEST_FORMATS,
]);

/** The formats that a sheet can ask for, each asserted. */
export const FORMAT_NAMES: readonly string[] = [
  ...Object.keys(STANDARD),
  ...Object.keys(FURTHER),
  DIGEST,
];

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
  cidrv4: 'ipv4-range',
  cidrv6: 'ipv6-range',
  'json-string': 'json-text',
});

/** A format as we write it: `credit_card` is `credit-card`. What nobody knows stays as it is. */
function formatName(name: string): string {
  const written = name.replaceAll('_', '-');
  return FORMATS.has(written) ? written : name;
}

/** The format that a library means by a name of its own: `datetime` is `date-time`. */
export function formatMeant(name: string): string {
  const written = formatName(name);
  const dashed = name.replaceAll('_', '-');
  return FORMATS.has(written) || !Object.hasOwn(ALIASES, dashed)
    ? written
    : (ALIASES[dashed] ?? written);
}

/** What stands of a format in a rule. */
interface FormatParams {
  readonly format: string;
  readonly algorithm?: string;
  readonly encoding?: string;
}

/** The parameters of the format that schemas and libraries call so: `sha256_hex` is a digest. */
export function formatParams(name: string, meant = formatMeant): FormatParams {
  const [, first = '', bits = '', encoding] =
    /^(md5|sha)(1|256|384|512)?[_-](hex|base64|base64url)$/.exec(name) ?? [];
  const algorithm = bits === '' ? first : `${first}-${bits}`;
  return encoding !== undefined && Object.hasOwn(DIGESTS, algorithm)
    ? { format: DIGEST, algorithm, encoding }
    : { format: meant(name) };
}

/** The same as it stands in a schema: only the sign between words is ours. */
export const formatStated = (name: string): FormatParams => formatParams(name, formatName);

/** One name for a format with its parameters, as validators and words know it. */
export function formatKey({
  format,
  algorithm = 'sha-256',
  encoding = 'hex',
}: {
  readonly format?: unknown;
  readonly algorithm?: unknown;
  readonly encoding?: unknown;
}): string {
  return format === DIGEST ? `${String(algorithm)} ${String(encoding)}` : String(format);
}

/** What can be said of a format. */
export const formatSaid = (key: string): FormatName | undefined => FORMATS.get(formatMeant(key));
