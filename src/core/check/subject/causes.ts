import { Memo } from '../../base/memo.js';
import type { Finding, Severity } from '../../finding.js';
import type { Locale } from '../../locale/tag.js';

/** Findings that one mistake made: the same said of several languages, or of several places. */
export interface Cause {
  /** The first of them. */
  readonly finding: Finding;
  /** Their message, with all languages in place of one. */
  readonly message: string;
  readonly all: readonly Finding[];
}

const GRAVITY: Readonly<Record<Severity, number>> = { error: 0, warning: 1, info: 2 };

/** Stands for a language in a message. */
const HERE = '\u0000';

const patterns = new Memo<RegExp>();

/** The tag as a word of its own: not what stands in a name or in another tag. */
const tagIn = (locale: Locale): RegExp =>
  patterns.getOrMake(
    locale,
    () => new RegExp(`(?<![\\p{L}\\p{N}_.-])${locale}(?![\\p{L}\\p{N}_-])`, 'gu'),
  );

/** "de", "de and pl", "de, pl and ja". */
const listed = (locales: readonly Locale[]): string =>
  locales.length < 2
    ? locales.join('')
    : `${locales.slice(0, -1).join(', ')} and ${locales.at(-1) ?? ''}`;

/**
 * Puts findings together that say the same, but for the language, and brings the gravest first;
 * else they stay in their order. What is said of one language only, or in other words, stays alone.
 */
export function causesOf(findings: readonly Finding[]): Cause[] {
  const groups = new Map<string, { said: string; all: Finding[]; locales: Locale[] }>();
  for (const finding of findings) {
    const { kind, severity, message, locale } = finding;
    const said = locale === undefined ? message : message.replace(tagIn(locale), HERE);
    const id = `${kind} ${severity} ${said}`;
    const group = groups.get(id);
    if (!group)
      groups.set(id, { said, all: [finding], locales: locale === undefined ? [] : [locale] });
    else {
      group.all.push(finding);
      if (locale !== undefined && !group.locales.includes(locale)) group.locales.push(locale);
    }
  }
  const causes = [...groups.values()].flatMap(({ said, all, locales }): Cause[] => {
    const [finding] = all;
    return finding ? [{ finding, message: said.replaceAll(HERE, () => listed(locales)), all }] : [];
  });
  return causes.sort(
    (one, other) => GRAVITY[one.finding.severity] - GRAVITY[other.finding.severity],
  );
}
