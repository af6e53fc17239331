import { getOrMake } from '../base/get-or-make.js';
import { closest } from '../text/closest.js';
import { LANGUAGES, REGIONS, SCRIPTS, VARIANTS } from './subtags.js';

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
 * What each subtag of a tag is by its place and form (RFC 5646 section 2.1); stops where extensions
 * or private use begin. Extended languages are not met: Intl takes only tags in which the language
 * itself has replaced them (`yue`, not `zh-yue`).
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

/** Whether all subtags of a tag are in the IANA registry. */
export const isRegisteredTag = (text: string): boolean =>
  kindsOf(text).every(([subtag, kind]) => isRegistered(subtag, kind));

/**
 * What is wrong with the subtags of a tag that are not all in the IANA registry, in a sentence.
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
