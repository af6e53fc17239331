import { fullFormats } from 'ajv-formats/dist/formats.js';
import type { Format } from 'ajv';
import { DIGESTS, ENCODINGS, formatKey, formatParams } from '../../core/rules/format-names.js';
import { isEmail, isIdnEmail, isIdnHostname, type Hosts } from './mail.js';
import { moreFormats } from './more-formats.js';
import { isRegex } from './shapes.js';
import { isUri } from './uri.js';
import { keyed } from '../../core/base/keyed.js';

/** Longer texts have none of the formats; a regular expression is not even tried on them. */
const LONGEST = 65_536;

/**
 * The longest texts of formats with a limit in their grammar or standard: RFC 3339, 5321 (section
 * 4.5.3.1), 1035 (2.3.4), 4291 (2.2), 9562.
 */
const LONGEST_OF: Readonly<Record<string, number>> = keyed({
  date: 10,
  time: 64,
  'date-time': 80,
  'iso-time': 64,
  'iso-date-time': 80,
  duration: 256,
  email: 320,
  'idn-email': 1280,
  hostname: 253,
  'idn-hostname': 1012,
  ipv4: 15,
  ipv6: 45,
  uuid: 45,
  url: 2048,
});

const isIpv6 = (text: string): boolean => hasFormat('ipv6', text);
const isHostname = (text: string): boolean => hasFormat('hostname', text);
const HOSTS: Hosts = { isHostname, isIpv4: (text) => hasFormat('ipv4', text), isIpv6 };

/**
 * Formats that the package lacks, takes too narrowly, or has expressions for that take time with
 * the square of the length.
 */
const SPELT_OUT: Readonly<Record<string, (text: string) => boolean>> = keyed({
  uri: (text) => isUri(text, { absolute: true, wide: false }, isIpv6),
  'uri-reference': (text) => isUri(text, { absolute: false, wide: false }, isIpv6),
  iri: (text) => isUri(text, { absolute: true, wide: true }, isIpv6),
  'iri-reference': (text) => isUri(text, { absolute: false, wide: true }, isIpv6),
  email: (text) => isEmail(text, HOSTS),
  'idn-email': (text) => isIdnEmail(text, HOSTS),
  'idn-hostname': (text) => isIdnHostname(text, isHostname),
  regex: (text) => isRegex(text, 'u'),
  ...moreFormats(HOSTS.isIpv4, isIpv6),
});

function test(format: Format, text: string): boolean {
  if (format instanceof RegExp) return format.test(text);
  if (typeof format === 'function') return format(text);
  if (typeof format === 'string') return new RegExp(format, 'u').test(text);
  if (typeof format === 'boolean') return format;
  const { validate } = format;
  // Formats of numbers and asynchronous ones are none that a text can break.
  if (typeof validate === 'string') return new RegExp(validate, 'u').test(text);
  if (validate instanceof RegExp) return validate.test(text);
  return typeof validate !== 'function' || (validate as (value: string) => unknown)(text) === true;
}

/** Libraries' names of formats that have other names here. */
const OTHER_NAMES = ['cidrv4', 'cidrv6', 'json-string', 'json_string'].concat(
  Object.keys(DIGESTS).flatMap((algorithm) => {
    const hash = algorithm.replace('-', '');
    return Object.keys(ENCODINGS).flatMap((encoding) => [
      `${hash}-${encoding}`,
      `${hash}_${encoding}`,
    ]);
  }),
);

const known: ReadonlyMap<string, Format> = new Map(Object.entries(fullFormats));

/**
 * Whether a text has a format; one that nobody knows is not asserted (JSON Schema Validation
 * section 7.2.3).
 */
export function hasFormat(named: string, text: string): boolean {
  const name = known.has(named) ? named : formatKey(formatParams(named));
  const format = known.get(name);
  const own = Object.hasOwn(SPELT_OUT, name) ? SPELT_OUT[name] : undefined;
  if (format === undefined && !own) return true;
  if (typeof format === 'object' && !(format instanceof RegExp) && format.type === 'number')
    return true;
  if (text.length > (LONGEST_OF[name] ?? LONGEST)) return false;
  return own ? own(text) : test(format ?? true, text);
}

/** The formats of texts by name, each bounded, for a validator. */
export const FORMATS: readonly string[] = [
  ...new Set([
    ...[...known].flatMap(([name, format]) =>
      typeof format === 'object' && !(format instanceof RegExp) && format.type === 'number'
        ? []
        : [name],
    ),
    ...Object.keys(SPELT_OUT),
    // Libraries have names of their own for some, or another sign between words.
    ...Object.keys(SPELT_OUT).map((name) => name.replaceAll('-', '_')),
    ...OTHER_NAMES,
  ]),
];

export const NUMBER_FORMATS: readonly (readonly [string, Format])[] = [...known].filter(
  ([name]) => !FORMATS.includes(name),
);
