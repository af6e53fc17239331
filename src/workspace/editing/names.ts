import pluralize from 'pluralize';

// Words that the package does not know.
for (const [one, many] of [
  ['cache', 'caches'],
  ['cookie', 'cookies'],
  ['movie', 'movies'],
  ['axis', 'axes'],
] as const)
  pluralize.addIrregularRule(one, many);
for (const word of ['data', 'media', 'metadata', 'canvas', 'lens', 'alias', 'bias', 'atlas'])
  pluralize.addUncountableRule(word);

/** Words that are written in one way, whatever case a name has them in. */
const WRITTEN = new Map(
  [
    'ID',
    'IDs',
    'URL',
    'URLs',
    'URI',
    'URIs',
    'API',
    'APIs',
    'IP',
    'IPs',
    'UUID',
    'UUIDs',
    'HTTP',
    'HTTPS',
    'HTML',
    'CSS',
    'JSON',
    'XML',
    'YAML',
    'CSV',
    'PDF',
    'SVG',
    'PNG',
    'SQL',
    'SSH',
    'SSL',
    'TLS',
    'DNS',
    'TTL',
    'CPU',
    'RAM',
    'GPU',
    'SMS',
    'VAT',
    'IBAN',
    'BIC',
    'UTC',
    'GPS',
    'ISO',
    'SHA',
    'MD5',
    'SHA1',
    'SHA256',
    'IPv4',
    'IPv6',
    'OAuth',
    'OAuth2',
    'JWT',
    'SSO',
    'SAML',
    'OpenID',
    'LDAP',
    'MIME',
    'FAQ',
    'GmbH',
    'USB',
    'AWS',
    'S3',
    'ISBN',
    'EAN',
    'UTF8',
    'HTTP2',
    'X509',
  ].map((word) => [word.toLowerCase(), word]),
);

/**
 * Where words begin in a name of code: at a capital, and behind a number. `IBANCode` is of two
 * words, `user IDs` too.
 */
function split(name: string): string[] {
  const apart = name
    .replace(/(\p{Ll}|\p{N})(\p{Lu})/gu, '$1 $2')
    // A plural of capitals ends with the small letter: IDs, URLs.
    .replace(/(\p{Lu})(\p{Lu}(?!s(?!\p{Ll}))\p{Ll})/gu, '$1 $2');
  return apart.split(' ').filter((word) => word !== '');
}

/** A part of a name that has no sign in it, as words. */
function wordsIn(part: string): string[] {
  const known = WRITTEN.get(part.toLowerCase());
  if (known !== undefined) return [known];
  // Some known words have capitals inside.
  const special = /^(.*?)(OAuth2?|IPv[46]|OpenID)(.*)$/u.exec(part);
  if (special) {
    const [, before = '', word = '', after = ''] = special;
    return [...wordsIn(before), word, ...wordsIn(after)].filter((one) => one !== '');
  }
  const shouts = !/\p{Ll}/u.test(part);
  return split(part).flatMap((word): string[] => {
    const written = WRITTEN.get(word.toLowerCase());
    if (written !== undefined) return [written];
    // Numbers behind a whole word count things: address line 1.
    const [, letters, digits] = /^(\p{L}{3,})(\p{N}+)$/u.exec(word) ?? [];
    if (letters !== undefined && digits !== undefined) return [...wordsIn(letters), digits];
    // Several capitals are an abbreviation, unless the whole name is in capitals.
    return [!shouts && /^\p{Lu}{2,}s?$/u.test(word) ? word : word.toLowerCase()];
  });
}

/**
 * A name out of code as words: `userIDs` → "user IDs", `IBANCode` → "IBAN code",
 * `x-ratelimit/reset_at` → "ratelimit reset at". Signs before it are left out.
 */
export const wordsOf = (name: string): string =>
  name
    .replace(/^x-/i, '')
    .split(/[^\p{L}\p{N}\p{M}'’]+/u)
    .filter((part) => part !== '')
    .flatMap(wordsIn)
    .join(' ');

/** Whether a name holds anything besides signs. */
export const hasWords = (name: string): boolean =>
  /[\p{L}\p{N}\p{M}'’]/u.test(name.replace(/^x-/i, ''));

/** Returns the singular of English words; an abbreviation stays as it is. */
export function singularOf(words: string): string {
  const [last = '', ...before] = words.split(' ').reverse();
  if (!/^\p{Ll}{4,}$/u.test(last)) return words.replace(/(?<=\p{Lu}\p{Lu})s$/u, '');
  const one = pluralize.singular(last);
  // Where the package does not come back to it, it has not understood the word.
  return [...before.reverse(), pluralize.plural(one) === last ? one : last].join(' ');
}
