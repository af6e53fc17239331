import { SymbolKind, type Location, type SymbolInformation } from 'vscode-languageserver/node';
import { rowsOf, type Row } from '../core/check/subject/context.js';
import type { Spot } from '../core/origin.js';
import { codeOf } from '../core/rules/form.js';
import type { Entry } from '../core/texts/entry.js';
import { speaksOf } from '../core/texts/form-set.js';
import type { Field } from '../core/rules/form.js';
import { isCoveredBy } from '../core/path/cover.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import { locationOf } from './diagnostics.js';
import type { Cursor } from './session.js';
import { rowOf, targetAt, type Target } from './target.js';

/**
 * Every text of the workspace that is looked for when a rule is broken: of all rungs and languages.
 */
function textsOf({ form, field, keys }: Row, workspace: Workspace): Entry[] {
  const ladders = (['message', 'inline'] as const).flatMap((kind) =>
    workspace.allTexts.messageLadder({ form: form.id, path: field.pattern, keys }, kind),
  );
  return ladders
    .filter(({ layer }) => layer === 'written' || layer === 'house')
    .flatMap((purpose) =>
      workspace.config.locales.flatMap((locale) => workspace.table.cell(locale, purpose) ?? []),
    );
}

const valueOf = (entry: Entry): Spot => ({ ...entry.origin, at: 'value' });

/** The texts of the same purpose in all languages. */
const translationsOf = ({ purpose }: Entry, { config, table }: Workspace): Entry[] =>
  config.locales.flatMap((locale) => table.cell(locale, purpose) ?? []);

/** Returns the places of a field's texts in catalogs. */
function textsOfField(field: Field, form: string, workspace: Workspace): Spot[] {
  return workspace.table.catalogs
    .filter((catalog) => speaksOf(catalog.form, form))
    .flatMap(({ file, fields }) =>
      fields
        .filter(({ pattern }) => isCoveredBy(pattern, field.pattern))
        .map(({ keys }): Spot => ({ file, keys, at: 'key' })),
    );
}

function spotsOf(target: Target, cursor: Cursor, wanted: 'definition' | 'references'): Spot[] {
  const { workspace } = cursor;
  switch (target.sort) {
    case 'text': {
      const rules = cursor.places
        .rows(target.entry)
        .map(({ use }): Spot => ({ ...use.origin, at: 'key' }));
      return wanted === 'definition'
        ? rules
        : [...translationsOf(target.entry, workspace).map(valueOf), ...rules];
    }
    case 'rule': {
      const row = rowOf(target);
      const texts = row ? textsOf(row, workspace).map(valueOf) : [];
      return wanted === 'definition' ? texts : [{ ...target.use.origin, at: 'key' }, ...texts];
    }
    case 'field':
      return [
        ...(wanted === 'references' ? [{ ...target.field.origin, at: 'key' } as const] : []),
        ...textsOfField(target.field, target.form.id, workspace),
      ];
    case 'path': {
      const fields = cursor.project.contextOf(workspace).fieldsFor(target.field);
      const declared = fields.map(({ origin }): Spot => ({ ...origin, at: 'key' }));
      if (wanted === 'definition') return declared;
      const named = workspace.table.catalogs.flatMap(({ file, fields: own }) =>
        own
          .filter(({ path }) => path === target.field.path)
          .map(({ keys }): Spot => ({ file, keys, at: 'key' })),
      );
      return [...declared, ...named];
    }
    case 'form':
      return [
        { ...target.form.origin, at: 'key' },
        ...workspace.table.catalogs
          .filter(({ form }) => form !== undefined && speaksOf(form, target.form.id))
          .map(({ file }): Spot => ({ file, keys: ['form'], at: 'value' })),
      ];
    case 'kind':
      return [];
  }
}

/**
 * Where what stands at a place is declared, or where it is used: from a text to its rules, from a
 * rule to its texts.
 */
export function locationsAt(
  cursor: Cursor,
  offset: number,
  wanted: 'definition' | 'references',
): Location[] {
  const target = targetAt(cursor, offset);
  const locations = target
    ? spotsOf(target, cursor, wanted).flatMap(
        (spot) => locationOf(spot, cursor.workspace, cursor.places) ?? [],
      )
    : [];
  return [...new Map(locations.map((location) => [JSON.stringify(location), location])).values()];
}

/** More are of no use in a list. */
const MOST_SYMBOLS = 500;

/** The forms, fields, rules and texts of a workspace that have some words in their names. */
export function symbolsNamed(
  { workspace, places }: Pick<Cursor, 'workspace' | 'places'>,
  query: string,
): SymbolInformation[] {
  const found: SymbolInformation[] = [];
  const words = query.toLowerCase().split(/\s+/);
  const add = (name: string, kind: SymbolKind, spot: Spot, containerName: string): void => {
    if (
      found.length >= MOST_SYMBOLS ||
      !words.every((word) => `${containerName} ${name}`.toLowerCase().includes(word))
    )
      return;
    const location = locationOf(spot, workspace, places);
    if (location) found.push({ name, kind, location, containerName });
  };
  for (const { form } of workspace.forms.values()) {
    add(form.id, SymbolKind.Class, { ...form.origin, at: 'key' }, '');
    for (const field of form.fields) {
      if (!field.uses.every(({ implied }) => implied))
        add(field.path || '(the body)', SymbolKind.Field, { ...field.origin, at: 'key' }, form.id);
    }
    for (const { field, use } of rowsOf([form]))
      if (!use.implied)
        add(
          codeOf(use),
          SymbolKind.Property,
          { ...use.origin, at: 'key' },
          `${form.id} ${field.path}`,
        );
  }
  for (const { texts, locale } of workspace.table.catalogs)
    for (const entry of texts)
      add(
        entry.purpose.key || entry.purpose.kind,
        SymbolKind.String,
        { ...entry.origin, at: 'value' },
        `${locale} ${entry.purpose.path ?? ''}`.trim(),
      );
  return found;
}
