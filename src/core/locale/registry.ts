import { getOrMake } from '../base/get-or-make.js';
import { closest } from '../text/closest.js';
import { EXTENDED, GRANDFATHERED, LANGUAGES, REGIONS, SCRIPTS, VARIANTS } from './subtags.js';

interface Kind {
  readonly called: string;
  readonly registered: string;
}

const language: Kind = { called: 'language', registered: LANGUAGES };
const script: Kind = { called: 'script', registered: SCRIPTS };
const region: Kind = { called: 'region', registered: REGIONS };
const variant: Kind = { called: 'variant', registered: VARIANTS };

const known = new Map<Kind, ReadonlySet<string>>();

function isRegistered(subtag: string, kind: Kind): boolean {
  const set = getOrMake(known, kind, () => new Set(kind.registered.split(' ')));
  if (set.has(subtag)) return true;
  return kind.registered.includes('..') && inRange(subtag, set);
}

function inRange(subtag: string, set: ReadonlySet<string>): boolean {
  for (const entry of set) {
    const [first, last] = entry.split('..');
    if (
      first !== undefined &&
      last !== undefined &&
      subtag.length === first.length &&
      subtag >= first &&
      subtag <= last
    )
      return true;
  }
  return false;
}

/**
 * Returns the kind of each subtag by its place and form (RFC 5646 section 2.1), up to extensions or
 * private use. Extended languages do not occur: `preferredTag` writes the language itself in their
 * place (`yue` for `zh-yue`).
 */
function kindsOf(tag: string): [string, Kind][] {
  const [first = '', ...rest] = tag.toLowerCase().split('-');
  const kinds: [string, Kind][] = [[first, language]];
  for (const subtag of rest) {
    if (subtag.length === 1) break;
    if (/^[a-z]{4}$/.test(subtag)) kinds.push([subtag, script]);
    else if (/^([a-z]{2}|\d{3})$/.test(subtag)) kinds.push([subtag, region]);
    else kinds.push([subtag, variant]);
  }
  return kinds;
}

/**
 * A tag as RFC 5646 section 4.5 has it, as far as Intl does not: those that are kept from the time
 * before subtags, and extended languages without the language in front of them.
 */
export function preferredTag(text: string): string {
  const tag = text.toLowerCase();
  if (GRANDFATHERED.has(tag)) return GRANDFATHERED.get(tag) ?? text;
  const [prefix = '', extended = '', ...rest] = tag.split('-');
  return EXTENDED.get(extended) === prefix ? [extended, ...rest].join('-') : text;
}

/** Returns the fault of a text that is not a language tag, in a sentence. */
export function malformed(text: string): string {
  const tag = text.toLowerCase();
  const hint = text.includes('_')
    ? `write "${text.replaceAll('_', '-')}"`
    : 'write one like "de" or "pt-BR"';
  if (/^x(?:-[a-z0-9]{1,8})+$/.test(tag))
    return `"${text}" is a tag of private use and names no language (BCP 47); write the language first, such as "de-${tag}"`;
  return GRANDFATHERED.has(tag)
    ? `"${text}" is an old tag (BCP 47) for which there is no newer one; ${hint}`
    : `"${text}" is no language tag (BCP 47): ${hint}`;
}

/** Whether all subtags of a tag are in the IANA registry. */
export const isRegisteredTag = (text: string): boolean =>
  kindsOf(text).every(([subtag, kind]) => isRegistered(subtag, kind));

/**
 * Returns the fault of a tag with subtags outside of the IANA registry, in a sentence.
 * @param canonical the tag as Intl has it
 */
export function unregistered(text: string, canonical: string): string {
  const [subtag, kind] = kindsOf(text).find(([one, of]) => !isRegistered(one, of)) ?? [
    text,
    language,
  ];
  // Many know a language by its three letters, where the registry has two.
  const short = kind === language ? canonical.split('-')[0] : undefined;
  const near =
    short !== undefined && short !== subtag ? short : closest(subtag, kind.registered.split(' '));
  return (
    `"${text}" names the ${kind.called} "${subtag}", which is not registered (BCP 47)` +
    (near ? `: did you mean "${near}"?` : '')
  );
}
