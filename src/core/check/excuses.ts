import { getOrMake } from '../base/get-or-make.js';
import type { Catalog } from '../texts/catalog.js';
import type { Entry } from '../texts/entry.js';
import { kindHint, type Finding, type Remark } from '../finding.js';

const placeOf = (file: string, keys: readonly (string | number)[]): string =>
  JSON.stringify([file, keys.filter((key) => key !== 'text')]);

const known = new WeakMap<Catalog, readonly Entry[]>();

/** The texts of a catalog that have a reason; of most catalogs there are none. */
function excusedIn(catalog: Catalog): readonly Entry[] {
  return getOrMake(known, catalog, () => catalog.texts.filter(({ details }) => details.excused));
}

/** The reasons that catalogs give for leaving something as it is, by entry and kind of finding. */
export class Excuses {
  private readonly byPlace = new Map<string, Entry>();
  private readonly used = new Set<string>();

  constructor(catalogs: readonly Catalog[]) {
    for (const catalog of catalogs)
      for (const entry of excusedIn(catalog))
        this.byPlace.set(placeOf(entry.file, entry.slot.keys), entry);
  }

  /** Whether the entry that a finding is about has a reason for it. */
  covers({ kind, spot }: Finding): boolean {
    if (this.byPlace.size === 0) return false;
    const entry = spot && this.byPlace.get(placeOf(spot.file, spot.keys));
    if (!entry?.details.excused || !Object.hasOwn(entry.details.excused, kind)) return false;
    this.used.add(`${placeOf(entry.file, entry.origin.keys)} ${kind}`);
    return true;
  }

  /** Excuses that excused nothing, once all findings were seen. */
  *unused(kinds: readonly string[]): Generator<Remark> {
    for (const { details, origin, locale } of this.byPlace.values()) {
      for (const kind of Object.keys(details.excused ?? {})) {
        if (this.used.has(`${placeOf(origin.file, origin.keys)} ${kind}`)) continue;
        const message = kinds.includes(kind)
          ? `This text has no finding "${kind}" to excuse. Remove the excuse.`
          : `There is no kind of finding "${kind}"${kindHint(kind)}. Correct the excuse.`;
        const keys = [...origin.keys.filter((key) => key !== 'text'), 'excused', kind];
        yield {
          kind: 'unused-excuse',
          locale,
          message,
          spot: { file: origin.file, keys, at: 'key' },
        };
      }
    }
  }
}
