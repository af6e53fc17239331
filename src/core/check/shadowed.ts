import type { Entry } from '../catalog/entry.js';
import type { Locale } from '../locale/tag.js';
import { printPath, type Pattern } from '../path/path.js';
import type { Form } from '../rules/form.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';
import { aboutRole, eachRole, type Role } from './roles.js';

/** The places whose labels sentences of a form may say: of fields with rules, of what they are compared with, and around them. */
function placesOf({ fields }: Form): Pattern[] {
  const places = new Map<string, Pattern>();
  for (const { pattern, uses } of fields) {
    if (uses.length === 0) continue;
    for (const one of [pattern, ...uses.flatMap(({ counterpart }) => (counterpart ? [counterpart] : []))]) {
      for (let length = 0; length <= one.length; length++) {
        const place = one.slice(0, length);
        places.set(printPath(place), place);
      }
    }
  }
  return [...places.values()];
}

type Places = readonly { readonly id: string; readonly patterns: readonly Pattern[] }[];

/** Adds every text that some lookup of a locale ends at. */
function reach(context: Context, locale: Locale, places: Places, found: Set<Entry>): void {
  for (const message of context.messagesIn(locale)) if (message) found.add(message.entry);
  for (const { id, patterns } of places) {
    for (const pattern of patterns) {
      const label = context.subject.texts.label(id, pattern, locale);
      if (!label) continue;
      found.add(label.base);
      for (const entry of label.forms.values()) found.add(entry);
    }
  }
}

/** Whether lookups should end at a text, since something uses what it is for. */
const isUsed = ({ kind, rows, entry, field, catalog }: Role, context: Context): boolean =>
  !entry.error &&
  (kind === 'message'
    ? rows.length > 0
    : kind === 'label' && field !== undefined && [...context.fieldsFor(catalog, field.path)].some(({ uses }) => uses.length > 0));

/** Texts that no lookup reaches, by locale; locales that are like one that has none have none either. */
function shadowedIn(context: Context): Map<Locale, Set<Entry>> {
  const { subject, likeness } = context;
  const places = subject.forms.map((form) => ({ id: form.id, patterns: placesOf(form) }));
  const reached = new Set<Entry>();
  const shadowed = new Map<Locale, Set<Entry>>();
  const lookThrough = (locale: Locale): void => {
    const found = new Set<Entry>();
    for (const catalog of subject.catalogs) {
      if (catalog.locale !== locale) continue;
      eachRole(context, catalog, (role) => {
        if (!reached.has(role.entry) && isUsed(role, context)) found.add(role.entry);
      });
    }
    shadowed.set(locale, found);
  };
  // What lookups reach in the files of a locale hangs on nothing but these.
  const [leaders, followers] = [
    subject.languages.filter((locale) => likeness.shape(locale) === locale),
    subject.languages.filter((locale) => likeness.shape(locale) !== locale),
  ];
  for (const locale of leaders) reach(context, locale, places, reached);
  for (const locale of leaders) lookThrough(locale);
  for (const locale of followers) {
    if (shadowed.get(likeness.shape(locale))?.size === 0) continue;
    reach(context, locale, places, reached);
    lookThrough(locale);
  }
  for (const { locale } of subject.catalogs) if (!shadowed.has(locale) && !followers.includes(locale)) lookThrough(locale);
  return shadowed;
}

export const shadowed: Kind = {
  kind: 'shadowed',
  severity: 'warning',
  about: 'A text that no lookup reaches: a more special one stands in front of it everywhere.',
  remedy: 'Remove it, or the one that stands in front; `why` shows which.',
  example: '"fields": { "title": { "label": "…" } }         // and every form has its own',
  texts: (context, report) => {
    const shadowedBy = shadowedIn(context);
    if ([...shadowedBy.values()].every(({ size }) => size === 0)) return undefined;
    return {
      each: (role) => {
        if (!shadowedBy.get(role.catalog.locale)?.has(role.entry)) return;
        report({
          message: 'No lookup reaches this text: a more special one stands in front of it everywhere. Remove one of them.',
          ...aboutRole(role),
        });
      },
    };
  },
};
