import type { Locale } from '../../core/locale/tag.js';
import type { Unit, UnitFile } from '../../exchange/translations/unit.js';
import type { Workspace } from '../workspace.js';
import type { Address } from '../../core/texts/purpose.js';
import { lackingAgainst } from './fill.js';
import { translationsOf } from './reviewing.js';

const part = (text: string): string => text.replace(/[\\|]/g, (sign) => `\\${sign}`);

/** What a text is, as one word for other programs: form, path, kind and key, the same in all locales. */
export const unitKey = ({ kind, form, path, key }: Address): string =>
  [part(form ?? ''), path === undefined ? '-' : path === '-' ? '\\-' : part(path), kind, part(key)].join('|');

export interface ExportFilter {
  readonly form?: string | undefined;
  readonly state?: string | undefined;
  /** Only what has no translation yet. */
  readonly missing?: boolean | undefined;
}

/** The texts of a locale beside their originals, as they go to a translator. */
export function unitsFor(workspace: Workspace, locale: Locale, { form, state, missing }: ExportFilter = {}): UnitFile {
  const { original } = workspace.config;
  const translated = translationsOf(workspace).filter((one) => one.locale === locale);
  const known: Unit[] = translated
    .filter(
      (one) => !missing && (state === undefined || one.state === state) && (form === undefined || one.address.form === form),
    )
    .map(({ address, source, text, state: own, stale, before, note, limit }) => ({
      ...{ key: unitKey(address), source, target: text, state: own, stale, before, note, limit },
    }));
  const lacking: Unit[] =
    state === undefined || state === 'initial'
      ? lackingAgainst(workspace, locale, original)
          .filter(({ address }) => form === undefined || address.form === form)
          .map(({ address, entry }) => ({
            key: unitKey(address),
            source: entry.text,
            note: entry.details.note,
            limit: entry.details.limit,
          }))
      : [];
  return { original, locale, units: [...known, ...lacking] };
}
