import { keyed } from '../base/keyed.js';
import { Memo } from '../base/memo.js';
import { parentsAmong, type Parents } from '../locale/chain.js';
import { likely, type Locale } from '../locale/tag.js';

/** Ends a chain: nothing stands in for the tag. */
const NOTHING = 'und';

const LETTERS = Array.from({ length: 26 }, (_, at) => String.fromCharCode(65 + at));

/** Codes that regions may have (ISO 3166-1); those that nobody has are in the usual script. */
const REGIONS = LETTERS.flatMap((first) => LETTERS.map((second) => first + second));

const known = new Memo<readonly (readonly [region: string, script: string])[]>();

/** Returns the regions that write a language in another script than the language alone means. */
const regionsApart = (language: string): readonly (readonly [region: string, script: string])[] =>
  known.getOrMake(language, () => {
    const { script: usual } = likely(language);
    return REGIONS.flatMap((region) => {
      const { script } = likely(`${language}-${region}`);
      return script === undefined || script === usual ? [] : [[region, script] as const];
    });
  });

/**
 * Lists what stands in for a tag where that is not the tag without its last subtag, for readers
 * that know no scripts: CLDR's parents, regions that write a language in another script
 * (`zh-TW`: `zh-Hant`), and `und` for a script that the language alone does not mean.
 */
export function readerParents(locales: readonly Locale[]): Parents {
  const found = keyed<string>({ ...parentsAmong(locales) });
  const offered = new Set<string>(locales);
  for (const locale of locales) {
    const [language = '', next = ''] = locale.split('-');
    for (const [region, script] of regionsApart(language)) {
      found[`${language}-${region}`] ??= `${language}-${script}`;
      found[`${language}-${script}`] = NOTHING;
    }
    if (next.length !== 4) continue;
    const { script: usual } = likely(language);
    if (next === usual && !offered.has(language)) found[language] = `${language}-${next}`;
    if (next !== usual || !offered.has(language)) found[`${language}-${next}`] = NOTHING;
  }
  // Readers of `no` and `nn` read `nb` too (CLDR, parentLocales).
  if (offered.has('nb') && !offered.has('no')) found.no = found.nn = 'nb';
  return found;
}
