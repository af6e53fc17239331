import type { Locale } from '../../core/locale/tag.js';
import { titleOf } from '../../core/texts/titles.js';
import type { Unit, UnitFile } from '../../exchange/translations/unit.js';
import type { Workspace } from '../reading/workspace.js';
import type { Address } from '../../core/texts/purpose.js';
import { lackingAgainst } from './fill.js';
import { inflectionsOf } from './inflections.js';
import { translationsOf, type Translation } from './reviewing.js';
import { Briefings } from './briefing.js';

const part = (text: string): string => text.replace(/[\\|]/g, (sign) => `\\${sign}`);

/**
 * What a text is, as one word for other programs: form, path, kind and key, the same in all
 * locales.
 */
export const unitKey = ({ kind, form, path, key }: Address): string =>
  [
    part(form ?? ''),
    path === undefined ? '-' : path === '-' ? '\\-' : part(path),
    kind,
    part(key),
  ].join('|');

const GENDER =
  'The gender of this label as one word of letters, such as feminine; messages choose by it.';

/** Each behind the label that it belongs to. */
function withInflections(units: readonly Unit[], inflections: readonly Unit[]): Unit[] {
  const behind = new Map<string, Unit[]>();
  const labelOf = (key: string): string => key.slice(0, key.lastIndexOf('|') + 1);
  for (const unit of inflections)
    behind.set(labelOf(unit.key), [...(behind.get(labelOf(unit.key)) ?? []), unit]);
  const placed = units.flatMap((unit) => {
    const own = unit.key.endsWith('|label|') ? (behind.get(unit.key) ?? []) : [];
    behind.delete(own.length > 0 ? unit.key : '');
    return [unit, ...own];
  });
  return [...placed, ...[...behind.values()].flat()];
}

export interface ExportFilter {
  readonly form?: string | undefined;
  readonly state?: string | undefined;
  /** Only what has no translation yet. */
  readonly missing?: boolean | undefined;
  /** Only what has no translation yet, and what has one of an original that is another by now. */
  readonly stale?: boolean | undefined;
}

/** The texts of a locale beside their originals, as they go to a translator. */
export function unitsFor(
  workspace: Workspace,
  locale: Locale,
  { form, state, missing, stale }: ExportFilter = {},
): UnitFile {
  const { original } = workspace.config;
  const briefings = new Briefings(workspace);
  const about = (address: Address): string | undefined => {
    const entry = workspace.table.at(original, address) ?? titleOf(workspace.table, address);
    return entry && briefings.of(address, entry);
  };
  const isWanted = ({ state: own, stale: isStale, address }: Translation): boolean =>
    (stale ? isStale : !missing) &&
    (state === undefined || own === state) &&
    (form === undefined || address.form === form);
  const translated = translationsOf(workspace).filter((one) => one.locale === locale);
  const known: Unit[] = translated
    .filter(isWanted)
    .map(({ address, original: source, text, state: own, stale: isStale, before, note, room }) => ({
      key: unitKey(address),
      source,
      target: text,
      state: own,
      stale: isStale,
      before,
      note,
      room,
      about: about(address),
    }));
  const lacking: Unit[] =
    state === undefined || state === 'initial'
      ? lackingAgainst(workspace, locale, original)
          .filter(({ address }) => form === undefined || address.form === form)
          .map(({ address, entry }) => ({
            key: unitKey(address),
            source: entry.text,
            note: entry.details.note,
            room: entry.details.room,
            about: briefings.of(address, entry),
          }))
      : [];
  const inflections = inflectionsOf(workspace, locale)
    .filter(({ address }) => form === undefined || address.form === form)
    .filter(({ text }) =>
      text === undefined
        ? state === undefined || state === 'initial'
        : !missing && !stale && state === undefined,
    )
    .map(({ address, label, text }): Unit => ({
      key: unitKey(address),
      source: label.text,
      target: text,
      room: undefined,
      note:
        address.key === 'gender'
          ? GENDER
          : `The "${address.key}" of this label, as sentences of this language need it.`,
    }));
  return { original, locale, units: withInflections([...known, ...lacking], inflections) };
}
