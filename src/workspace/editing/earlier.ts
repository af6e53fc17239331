import path from 'node:path';
import { Complaint } from '../../core/complaint.js';
import { getOrMake } from '../../core/base/get-or-make.js';
import { isObject } from '../../core/reading.js';
import type { Locale } from '../../core/locale/tag.js';
import { Purposes } from '../../core/texts/purpose.js';
import { readCatalog } from '../../core/texts/read.js';
import { decodeText } from '../../exchange/decode.js';
import { parseJson } from '../documents/json.js';
import { Repository } from '../git/repository.js';
import { placedFingerprint } from './exported.js';
import { unitKey } from '../reading/address.js';

/** So many commits of a catalog are looked through. */
const MOST_COMMITS = 500;

/** The texts that catalogs had in commits; none where there is no repository. */
export class EarlierTexts {
  private readonly known = new Map<string, ReadonlySet<string>>();

  constructor(
    private readonly folder: string,
    private readonly locale: Locale,
  ) {}

  /** Whether a catalog had a text for a key in some commit. */
  had(file: string, key: string, text: string): boolean {
    const texts = getOrMake(this.known, file, () => new Set(this.texts(file)));
    return texts.has(placedFingerprint(this.locale, key, text));
  }

  private *texts(file: string): Generator<string> {
    const { locale } = this;
    for (const bytes of this.versions(file)) {
      const root = orNothing(() => parseJson(decodeText(bytes) ?? '', file, true));
      if (!isObject(root)) continue;
      const { catalog } = readCatalog(root, file, locale, 'written', new Purposes());
      for (const { purpose, text, inflections, details } of catalog.texts) {
        const { kind, form, path: field, key } = purpose;
        const of = (name: string, one: string): string =>
          placedFingerprint(locale, unitKey({ kind, form, path: field, key: name }), one);
        yield of(key, text);
        for (const [name, entry] of inflections) yield of(name, entry.text);
        if (details.gender !== undefined) yield of('gender', details.gender);
      }
    }
  }

  private versions(file: string): readonly Buffer[] {
    const found = orNothing(() => {
      const repository = Repository.around(this.folder, 'what a catalog was');
      const folder = repository.nameOf(this.folder);
      return folder === undefined
        ? undefined
        : repository.versions(path.posix.join(folder, file), MOST_COMMITS);
    });
    return found ?? [];
  }
}

/** Returns nothing where reading fails: without git, or for a version that is not JSON. */
function orNothing<T>(read: () => T): T | undefined {
  try {
    return read();
  } catch (error) {
    if (error instanceof Complaint) return undefined;
    throw error;
  }
}
