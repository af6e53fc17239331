import type { Locale } from '../../core/locale/tag.js';
import { termsFor } from '../../core/texts/terms.js';
import { titleOf } from '../../core/texts/titles.js';
import { stateWord, type Unit, type UnitFile } from '../../exchange/translations/unit.js';
import { termsOf } from '../reading/terms.js';
import { concerns } from '../reading/concerns.js';
import { unitKey } from '../reading/address.js';
import type { Workspace } from '../reading/workspace.js';
import type { Address } from '../../core/texts/purpose.js';
import { exportedWord } from './exported.js';
import { lackingAgainst } from './fill.js';
import { inflectionsOf } from './inflections.js';
import { translationsOf, type Translation } from './reviewing.js';
import { Briefings } from './briefing.js';

/** Returns the note for translators about an inflection of a label. */
export const inflectionNote = (name: string): string =>
  name === 'gender'
    ? 'The gender of this label as one word of letters, such as feminine; messages choose by it.'
    : `The "${name}" of this label, as sentences of this language need it.`;

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
  const isOfForms = form === undefined ? (): boolean => true : concerns(workspace, form);
  const about = (address: Address): string | undefined => {
    const entry = workspace.table.at(original, address) ?? titleOf(workspace.table, address);
    return entry && briefings.of(address, entry);
  };
  const isWanted = ({ state: own, stale: isStale, address }: Translation): boolean =>
    (stale ? isStale : !missing) && (state === undefined || own === state) && isOfForms(address);
  const translated = translationsOf(workspace).filter((one) => one.locale === locale);
  const known: Unit[] = translated
    .filter(isWanted)
    .map(({ address, original: source, text, state: own, stale: isStale, before, note, room }) => ({
      key: unitKey(address),
      address,
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
          .filter(({ address }) => isOfForms(address))
          .map(({ address, entry }) => ({
            key: unitKey(address),
            address,
            source: entry.text,
            note: entry.details.note,
            room: entry.details.room,
            about: briefings.of(address, entry),
          }))
      : [];
  const inflections = inflectionsOf(workspace, locale)
    .filter(({ address }) => isOfForms(address))
    .filter(({ text }) =>
      text === undefined
        ? state === undefined || state === 'initial'
        : !missing && !stale && state === undefined,
    )
    .map((inflection): Unit => ({
      key: unitKey(inflection.address),
      address: inflection.address,
      isInflection: true,
      source: inflection.label.text,
      target: inflection.text,
      room: undefined,
      note: inflectionNote(inflection.address.key),
      about: briefings.ofInflection(inflection) || undefined,
    }));
  const terms = termsOf(workspace);
  const units = withInflections([...known, ...lacking], inflections).map((unit) => ({
    ...unit,
    terms: termsFor(terms, unit.source, original, locale),
    exported: exportedWord(locale, unit.key, unit.target, stateWord(unit)),
  }));
  return { original, locale, units };
}
