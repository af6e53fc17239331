import type { CompletionItem } from 'vscode-languageserver/node';
import { parsePattern } from '../core/path/path.js';
import { rowsOf } from '../core/check/subject/context.js';
import type { Catalog } from '../core/texts/catalog.js';
import { speaksOf } from '../core/texts/form-set.js';
import { CONFIG_FILE } from '../workspace/disk/find.js';
import { isYaml } from '../workspace/disk/files.js';
import { catalogIn } from './entries.js';
import { jsonCursor } from './json-cursor.js';
import { unescaped } from '../workspace/documents/json-literal.js';
import type { Extent } from './positions.js';
import type { Cursor } from './session.js';
import { yamlCursor, type KeyCursor } from './yaml-cursor.js';
import { addressAt, catalogOffers, rowsAt } from './complete-catalog.js';
import { inSnippet, itemsOf, type Offer } from './complete-items.js';
import { messageOffers } from './complete-message.js';
import { settingsOffers } from './complete-settings.js';
import { sheetOffers } from './complete-sheet.js';

/** More items than that nobody reads; whoever types on is offered fewer. */
const MOST = 400;

export interface Completed {
  readonly items: CompletionItem[];
  readonly isIncomplete: boolean;
}

const NOTHING: Completed = { items: [], isIncomplete: false };

/** Those that begin as is typed; else those that have it somewhere. */
function fitting(offers: readonly Offer[], typed: string): readonly Offer[] {
  const wanted = typed.toLowerCase();
  return wanted === '' ? offers : offers.filter(({ name }) => name.toLowerCase().includes(wanted));
}

function completed(
  offers: readonly Offer[],
  typed: string,
  { source }: Cursor,
  extent: Extent,
  withSnippets: boolean,
): Completed {
  const ordered = fitting(offers, typed).toSorted(
    (one, other) => (one.rank ?? 5) - (other.rank ?? 5),
  );
  return {
    items: itemsOf(ordered.slice(0, MOST), source, extent, withSnippets),
    isIncomplete: ordered.length > MOST,
  };
}

function inMessage(
  place: Cursor,
  catalog: Catalog,
  cursor: KeyCursor,
  offset: number,
  withSnippets: boolean,
): Completed | undefined {
  const { workspace, source } = place;
  const address = cursor.at === 'value' ? addressAt(cursor.keys, catalog) : undefined;
  if (!address || !cursor.isQuoted) return undefined;
  const { extent } = cursor;
  const { text, places } = unescaped(source.text.slice(extent.from, extent.to));
  const at = places.findIndex((one) => extent.from + one >= offset);
  const { path, key } = address;
  const rows =
    path === undefined
      ? rowsOf([...workspace.forms.values()].map(({ form }) => form)).filter(
          (row) =>
            row.keys.includes(key) &&
            (catalog.form === undefined || speaksOf(catalog.form, row.form.id)),
        )
      : rowsAt(catalog, path, workspace).filter((row) => row.keys.includes(key));
  const made = messageOffers({
    text,
    address,
    rows,
    locale: catalog.locale,
    offset: at < 0 ? text.length : at,
    pattern: path === undefined ? undefined : parsePattern(path),
  });
  const end = places.at(-1) ?? 1;
  const place2 = {
    from: extent.from + (places[made.extent.from] ?? end),
    to: extent.from + (places[made.extent.to] ?? end),
  };
  return completed(
    made.offers,
    text.slice(made.extent.from, at < 0 ? text.length : at),
    place,
    place2,
    withSnippets,
  );
}

/** A name in a JSON file: what comes behind it is written too, where nothing stands there yet. */
function forJson(
  offers: readonly Offer[],
  cursor: KeyCursor,
  value: (name: string) => string,
): { offers: Offer[]; extent: Extent } {
  const { extent, isQuoted, hasValue, at } = cursor;
  const escaped = (name: string): string => inSnippet(JSON.stringify(name).slice(1, -1));
  if (!isQuoted || at === 'value')
    return {
      extent: isQuoted
        ? { from: extent.from + 1, to: Math.max(extent.from + 1, extent.to - 1) }
        : extent,
      offers: offers.map((offer) => ({
        ...offer,
        snippet: isQuoted
          ? escaped(offer.name)
          : `"${escaped(offer.name)}"${at === 'key' && !hasValue ? value(offer.name) : ''}`,
      })),
    };
  // The closing quote is written over, so that what comes behind the name stands where it should.
  return {
    extent: { from: extent.from + 1, to: extent.to },
    offers: offers.map((offer) => ({
      ...offer,
      snippet: `${escaped(offer.name)}"${hasValue ? '' : value(offer.name)}`,
    })),
  };
}

/** A name or value in a YAML file: in quotes where it would be read as something else. */
function forYaml(offers: readonly Offer[], cursor: KeyCursor): { offers: Offer[]; extent: Extent } {
  const { extent, isQuoted, hasValue, at } = cursor;
  const written = (name: string): string =>
    /^[A-Za-z_][\w-]*$/.test(name) || /^(?:true|false)$/.test(name) ? name : `'${name}'`;
  return {
    extent,
    offers: offers.map((offer) => {
      const name = isQuoted ? `'${offer.name}'` : written(offer.name);
      if (at === 'value' || hasValue) return { ...offer, snippet: inSnippet(name) };
      return {
        ...offer,
        snippet: offer.snippet?.replace(offer.name, inSnippet(name)) ?? `${inSnippet(name)}: $1`,
      };
    }),
  };
}

/** Returns the completions at a place of a file. */
export function completeAt(place: Cursor, offset: number, withSnippets: boolean): Completed {
  const { workspace, file, source } = place;
  const catalog = catalogIn(workspace, file);
  if (catalog) {
    const cursor = jsonCursor(source.text, offset);
    const inText = inMessage(place, catalog, cursor, offset, withSnippets);
    if (inText) return inText;
    const { offers, value } = catalogOffers(cursor, catalog, workspace);
    const open = offers.filter(({ name }) => !cursor.there.includes(name));
    const made = forJson(open, cursor, value);
    return completed(made.offers, cursor.typed, place, made.extent, withSnippets);
  }
  const isSettings = file === CONFIG_FILE;
  if (!isSettings && !workspace.book.asked.has(file)) return NOTHING;
  const cursor = isYaml(file) ? yamlCursor(source.text, offset) : jsonCursor(source.text, offset);
  if (!cursor) return NOTHING;
  const offers = (
    isSettings ? settingsOffers(cursor, workspace) : sheetOffers(cursor, workspace)
  ).filter(({ name }) => !cursor.there.includes(name));
  const made = isYaml(file) ? forYaml(offers, cursor) : forJson(offers, cursor, () => ': $1');
  return completed(made.offers, cursor.typed, place, made.extent, withSnippets);
}
