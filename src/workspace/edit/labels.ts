import { parsePattern, type Pattern } from '../../core/path/path.js';
import { isPlaceNumber, lastWord, placesOn } from '../../core/path/places.js';
import type { Locale } from '../../core/locale/tag.js';
import { printMessage } from '../../core/message/print.js';
import { checkWorkspace } from '../checking/check-workspace.js';
import type { Workspace } from '../workspace.js';
import type { Draft } from './fill.js';

/** Where drafts of labels come from, for people. */
const FROM_NAME = 'its name';

/** One of many, as English names are written; anything else stays as it is. */
function singular(words: string): string {
  if (/ies$/.test(words)) return words.replace(/ies$/, 'y');
  if (/(?:ss|us|is)$/.test(words)) return words;
  return words.replace(/(?<=ch|sh|x|z|ss)es$|s$/, '');
}

/** What a field is called by its name: `firstNight` is "first night", an element of `targets` "target {targets_number}". */
export function labelFromName(pattern: Pattern): string {
  const named = pattern.findLastIndex((segment) => typeof segment === 'string');
  const words = lastWord(pattern.slice(named, named + 1).filter((segment) => typeof segment === 'string'));
  const text = (said: string): string => printMessage([{ kind: 'text', text: said, start: 0, end: 0 }]);
  const own = placesOn(pattern).filter(({ at }) => at > named);
  if (own.length === 0) return text(words || 'request');
  const of = own.map(({ argument }) => `{${argument}}`).join(' ');
  return `${text(isPlaceNumber(pattern.at(-1)) ? singular(words) : words)} ${of}`.trim();
}

/** Drafts of the labels that a locale lacks, made of the names of the fields. */
export async function labelDrafts(workspace: Workspace, locale: Locale): Promise<Draft[]> {
  const { findings } = await checkWorkspace(workspace, [locale], { asked: ['missing-label'] });
  const lacking = findings.filter(({ kind, locale: of }) => kind === 'missing-label' && of === locale);
  const paths = new Set(lacking.flatMap(({ path }) => path ?? []));
  return [...paths].map((path) => ({
    address: { kind: 'label', path, key: '' },
    text: labelFromName(parsePattern(path)),
    from: FROM_NAME,
  }));
}
