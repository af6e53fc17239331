import path from 'node:path';
import type { DeskCatalog, DeskData, DeskText } from '../../core/desk/data.js';
import { frozenForm } from '../../core/desk/frozen.js';
import type { Locale } from '../../core/locale/tag.js';
import { printPath } from '../../core/path/path.js';
import { isObject } from '../../core/reading.js';
import type { UnitFile } from '../../exchange/translations/unit.js';
import { starterText } from '../disk/installed.js';
import { parseJson } from '../documents/json.js';
import { termsOf } from '../reading/terms.js';
import type { Workspace } from '../reading/workspace.js';

/** Returns the data of a file of texts. */
function catalogOf(
  layer: DeskCatalog['layer'],
  file: string,
  locale: Locale,
  text: string | undefined,
): DeskCatalog[] {
  const root = text === undefined ? undefined : parseJson(text, file, true);
  return isObject(root) ? [{ layer, file, locale, root }] : [];
}

/**
 * Returns the data of the page for translators: the texts of one language, and what is needed to
 * say and check them.
 * @param units the texts to translate
 */
export function deskData(workspace: Workspace, locale: Locale, { units }: UnitFile): DeskData {
  const { config, catalogFiles, texts, table, sources, forms } = workspace;
  const { original, fallbacks, zone, values, statuses, problemParams, checks, starter } = config;
  workspace.readAll();
  const spoken = new Set([original, ...texts.chain(locale)]);
  const filesOf = (
    layer: DeskCatalog['layer'],
    files: readonly { readonly file: string; readonly locale: Locale }[],
  ): DeskCatalog[] =>
    files
      .filter((one) => spoken.has(one.locale))
      .flatMap((one) => catalogOf(layer, one.file, one.locale, sources.get(one.file)));
  const titles = catalogFiles.titles(original, table.purposes);
  return {
    name: path.basename(workspace.folder),
    original,
    locale,
    fallbacks: [...fallbacks].filter(([tag]) => spoken.has(tag)),
    zone,
    shorten: values.shorten,
    statuses: [...statuses],
    problems: [...problemParams],
    checks: checks.map(({ paths, ...check }) => ({
      ...check,
      ...(paths ? { paths: paths.map(printPath) } : {}),
    })),
    texts: units.flatMap(({ address, ...unit }): DeskText[] =>
      address ? [{ ...unit, address }] : [],
    ),
    forms: [...forms.values()].map(({ form }) => frozenForm(form)),
    catalogs: [
      ...filesOf('written', catalogFiles.files),
      ...filesOf('house', catalogFiles.ofHouse),
      ...(starter ? [...spoken] : []).flatMap((tag) =>
        catalogOf('starter', `starter/${tag}.json`, tag, starterText(tag)),
      ),
    ],
    titles: titles.flatMap(({ form = '', texts: entries }) =>
      entries.map(({ purpose, text }) => ({ form, path: purpose.path ?? '', text })),
    ),
    concepts: termsOf(workspace).concepts.map(({ terms, ...concept }) => ({
      ...concept,
      terms: [...terms].filter(([tag]) => spoken.has(tag)),
    })),
  };
}
