import { getOrMake } from '../../core/base/get-or-make.js';
import type { Locale } from '../../core/locale/tag.js';
import type { Unit, UnitFile } from '../../exchange/translations/unit.js';
import type { Workspace } from '../reading/workspace.js';
import { unitsFor } from './exporting.js';
import type { Returned } from './importing.js';

/** Why rows go back, in words for their translator, by key. */
function reasons({ refused, remarks, both, notes }: Returned): Map<string, string[]> {
  const found = new Map<string, string[]>();
  const tell = (key: string, why: string): void => {
    getOrMake(found, key, () => []).push(why);
  };
  for (const { key, why } of refused)
    tell(key, `This was not taken in: ${why.replace(/^refused at/, 'at')}.`);
  for (const { key, kept } of both)
    tell(
      key,
      `This was not taken in, since somebody changed it meanwhile${kept === undefined ? '' : ` to: ${kept}`}`,
    );
  for (const { key, why } of remarks) tell(key, `Please look at this again: ${why}.`);
  for (const { key, why } of notes) if (found.has(key)) tell(key, `You wrote: ${why}`);
  return found;
}

const ended = (sentence: string): string => sentence.replace(/([.?!。])\.$/u, '$1');

/**
 * The rows of a file that go back to their translator: those that were not taken in, or that
 * somebody should look at, each with the reason and with what the translator wrote.
 * @param workspace as it is after the others went in
 */
export function slipFor(workspace: Workspace, locale: Locale, found: Returned): UnitFile {
  const { original, units } = unitsFor(workspace, locale);
  const known = new Map(units.map((unit) => [unit.key, unit]));
  const back = Array.from(reasons(found), ([key, why]): Unit => {
    const row = found.rows.get(key);
    const unit = known.get(key) ?? { key, source: row?.source ?? '' };
    const sent = row?.target?.trim() ? row.target : undefined;
    return {
      ...unit,
      target: sent ?? unit.target,
      about: [...why.map(ended), ...(unit.about === undefined ? [] : [unit.about])].join('\n'),
    };
  });
  return { original, locale, units: back };
}
