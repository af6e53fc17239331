/** The name of a format in the trade, the same in all languages, and an example. */
export interface FormatName {
  readonly name: string;
  readonly example: string;
}

/**
 * A format a line, with its name and an example: those of JSON Schema (Validation section 7.3),
 * then what validators of several languages have besides, named as these name them, with `-`. All
 * are asserted. The examples are nobody's: no country has the calling code 999 or the code XZ, and
 * no industry issues numbers that begin with 0.
 */
const NAMED: readonly (readonly [format: string, said: FormatName])[] = `
date|RFC 3339 full-date|2027-03-09
time|RFC 3339 full-time|21:30:00Z
date-time|RFC 3339 date-time|2027-03-09T21:30:00Z
duration|ISO 8601 duration|PT45M
email|RFC 5321 Mailbox|name@domain.example
hostname|RFC 1123 host name|dome.domain.example
ipv4|IPv4|192.0.2.7
ipv6|IPv6|2001:db8::7
uri|URI|https://domain.example/page
uri-reference|URI reference|/page
uuid|UUID|2f1c9e0a-51d3-4c8e-9b7a-0d6f3e2a4b18
json-pointer|JSON Pointer|/title
regex|ECMA-262|^[a-z]+$
idn-email|RFC 6531 Mailbox|sternwarte@küste.example
idn-hostname|IDNA2008|küste.example
iri|IRI|https://küste.example/seite
iri-reference|IRI reference|/küste
uri-template|URI Template|/targets/{name}
relative-json-pointer|Relative JSON Pointer|1/title
base64|Base64|WmVpdHdvcnQ=
base64url|Base64url|WmVpdHdvcnQ
hex|Base16|5a656974
ipv4-range|CIDR (IPv4)|192.0.2.0/24
ipv6-range|CIDR (IPv6)|2001:db8::/32
mac|MAC|00:00:5e:00:53:2a
e164|E.164|+9995550142
jwt|JWT|eyJhbGciOiJFUzI1NiJ9.eyJkb21lIjoyfQ.c2ln
json-text|JSON|{"magnitude":12}
emoji|Emoji|🔭
currency-code|ISO 4217|EUR
credit-card|ISO/IEC 7812|0999000123456785
iban|IBAN|XZ38DOME00001234567890
ulid|ULID|01J8D0ME5TARGA7E00D0ME0042
nanoid|Nano ID|dome_2-slit_4-night_7
cuid|CUID|cdome2slit4night7plate11
cuid2|CUID2|dome2slit4night7plate11a
xid|XID|d0me2s1it4n1ght7p1a0
ksuid|KSUID|1dome2Slit4Night7Plate11Abc
`
  .trim()
  .split('\n')
  .map((line) => {
    const [format = '', name = '', example = ''] = line.split('|');
    return [format, { name, example }];
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
    { name: `${name} (${said})`, example: digestExample(bytes, encoding) },
  ]),
);

const FORMATS: ReadonlyMap<string, FormatName> = new Map([...NAMED, ...DIGEST_FORMATS]);

/** The formats that a sheet can ask for, each asserted. */
export const FORMAT_NAMES: readonly string[] = [...NAMED.map(([format]) => format), DIGEST];

/** Other libraries' names of formats, with ours, a pair a line. */
const ALIASES: ReadonlyMap<string, string> = new Map(
  `
url uri
datetime date-time
guid uuid
uuidv4 uuid
uuidv6 uuid
uuidv7 uuid
ip ipv4
iso-time time
iso-date-time date-time
http-url uri
e-mail email
phone e164
cidrv4 ipv4-range
cidrv6 ipv6-range
json-string json-text
`
    .trim()
    .split('\n')
    .map((line) => line.split(' ') as [string, string]),
);

/** A format as we write it: `credit_card` is `credit-card`. What nobody knows stays as it is. */
function formatName(name: string): string {
  const written = name.replaceAll('_', '-');
  return FORMATS.has(written) ? written : name;
}

/** The format that a library means by a name of its own: `datetime` is `date-time`. */
export function formatMeant(name: string): string {
  const written = formatName(name);
  return FORMATS.has(written) ? written : (ALIASES.get(name.replaceAll('_', '-')) ?? written);
}

/** The parameters of a rule about a format. */
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

/** Returns the parameters for a format of a schema; only the separator between words is ours. */
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

/** Returns the name and example of a format. */
export const formatSaid = (key: string): FormatName | undefined => FORMATS.get(formatMeant(key));
