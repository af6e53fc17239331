import { getOrMake } from '../../base/get-or-make.js';
import type { Locale } from '../../locale/tag.js';
import { printPath, type Pattern } from '../../path/path.js';
import type { Field, Form } from '../../rules/form.js';
import type { Entry } from '../../texts/entry.js';
import type { Ladder } from '../../texts/climber.js';
import type { FieldEntry, Purpose } from '../../texts/purpose.js';
import { aboutText, type CheckedText } from '../subject/checked-text.js';
import type { Context } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';

/**
 * The places whose labels sentences of a form may say: of fields with rules, of what they are
 * compared with, and around them.
 */
function placesOf({ fields, joins = [] }: Form): ReadonlyMap<string, Pattern> {
  const places = new Map(joins.map(({ pattern }) => [printPath(pattern), pattern]));
  for (const { pattern, uses } of fields) {
    if (uses.length === 0) continue;
    for (const one of [
      pattern,
      ...uses.flatMap(({ counterpart }) => (counterpart ? [counterpart] : [])),
    ]) {
      for (let length = 0; length <= one.length; length++) {
        const place = one.slice(0, length);
        places.set(printPath(place), place);
      }
    }
  }
  return places;
}

/**
 * Lookups that sentences may need besides those of the rows: at places and keys that texts name
 * literally, and of labels.
 */
function* furtherLadders(context: Context): Generator<Ladder> {
  const { rows, subject, texts } = context;
  let last: { readonly field: Field; readonly narrower: readonly Pattern[] } | undefined;
  const hasMessage = (field: FieldEntry): boolean => field.has('message');
  for (const { form, field, keys } of rows) {
    // The rules of one field come one after the other.
    if (last?.field !== field)
      last = { field, narrower: texts.narrower(form.id, field.pattern, hasMessage) };
    for (const path of last.narrower) yield texts.messageLadder({ form: form.id, path, keys });
  }
  for (const form of subject.forms) {
    const places = placesOf(form);
    for (const [path, place] of places) {
      yield context.labelLadder(form.id, path, place);
      for (const one of texts.narrower(form.id, place, ({ path: own }) => !places.has(own)))
        yield texts.labelLadder(form.id, one);
    }
  }
}

const allLadders = (context: Context): readonly Ladder[] => [
  ...context.ladders,
  ...furtherLadders(context),
];

/** Purposes whose texts nothing stands in front of, whatever a language has. */
function firstOnes(context: Context): Uint8Array {
  const first = new Uint8Array(context.table.purposes.all.length);
  for (const ladder of context.once(allLadders)) {
    const written = ladder.find(({ layer }) => layer === 'written');
    for (const { id } of written ? withForms(written) : []) first[id] = 1;
  }
  return first;
}

/** A label is reached with its forms. */
const withForms = (purpose: Purpose): readonly Purpose[] =>
  purpose.kind === 'label' && purpose.field
    ? [purpose, ...Array.from(purpose.field.slotsOf('label'), (slot) => slot.purpose)]
    : [purpose];

/** Which texts some lookup ends at. */
class Reached {
  /** Where a lookup ends at a text, by its locale and the number of its purpose. */
  private ends: ReadonlyMap<Locale, Uint8Array> | undefined;
  /**
   * Whether there are texts that only other languages fall back on: they are reached where these
   * have nothing.
   */
  readonly strangers: boolean;
  private readonly always: Uint8Array;
  private readonly locales: ReadonlySet<Locale>;

  constructor(private readonly context: Context) {
    const { catalogs, subject } = context;
    this.always = context.once(firstOnes);
    this.locales = new Set(subject.allLocales);
    this.strangers = catalogs.some(({ locale }) => !this.locales.has(locale));
  }

  /** Works out where lookups end, which asks each text of every language whether it can be said. */
  private endsOfAll(): ReadonlyMap<Locale, Uint8Array> {
    const ends = new Map<Locale, Uint8Array>();
    for (const ladder of this.context.once(allLadders)) this.note(ladder, ends);
    return ends;
  }

  /** Notes where a lookup ends that may end elsewhere in one language than in another. */
  private note(ladder: Ladder, found: Map<Locale, Uint8Array>): void {
    const { context } = this;
    const written = ladder.filter(({ layer }) => layer === 'written');
    if (!this.strangers && (written.length < 2 || context.isFirstEverywhere(ladder))) return;
    const { subject, texts, table } = context;
    for (const language of subject.allLocales) {
      const climber = texts.climber(language);
      const end = climber.climb(ladder);
      const locale = climber.localeOf(end);
      const purpose = climber.purpose(ladder, end);
      if (locale === undefined || !purpose) continue;
      const ends = getOrMake(found, locale, () => new Uint8Array(table.purposes.all.length));
      for (const { id } of withForms(purpose)) ends[id] = 1;
    }
  }

  /** Whether texts for a purpose are reached in every language. */
  isAlways({ id }: Purpose): boolean {
    return this.always[id] === 1;
  }

  has({ locale, purpose: { id } }: Entry): boolean {
    if (this.always[id] === 1 && this.locales.has(locale)) return true;
    this.ends ??= this.endsOfAll();
    return this.ends.get(locale)?.[id] === 1;
  }
}

const reachedIn = (context: Context): Reached => new Reached(context);

/** Whether lookups should end at a text, since something uses what it is for. */
const isUsed = ({ kind, rows, entry, field }: CheckedText, context: Context): boolean =>
  !entry.error &&
  (kind === 'message'
    ? rows.length > 0
    : kind === 'label' &&
      field !== undefined &&
      context.fieldsFor(field).some(({ uses }) => uses.length > 0));

export const shadowed: Kind = {
  kind: 'shadowed',
  severity: 'warning',
  about: 'No lookup reaches this text: everywhere a more specific text is found first.',
  remedy: 'Remove it, or the more specific one; `why` shows which that is.',
  example: '"fields": { "title": { "label": "…" } }         // and every form has its own',
  look: (context, report) => {
    const reached = context.once(reachedIn);
    const { catalogs, table } = context;
    const hasCovered = catalogs.some(({ locale }) => table.column(locale).covered.length > 0);
    const suspects: CheckedText[] = [];
    return {
      sorts: ['message', 'label'],
      purposes: (purpose) => hasCovered || reached.strangers || !reached.isAlways(purpose),
      text: (checked) => {
        // Another workspace may reach what it shares with this one.
        if (!checked.catalog.shared && isUsed(checked, context)) suspects.push(checked);
      },
      // Where lookups end is known once each text was parsed, which it was when it was shown.
      end: () => {
        for (const checked of suspects) {
          const { entry, catalog, purpose } = checked;
          if (table.cell(catalog.locale, purpose) === entry && reached.has(entry)) continue;
          report({
            message:
              'No lookup reaches this text: a more special one stands in front of it everywhere. Remove one of them.',
            ...aboutText(checked),
          });
        }
      },
    };
  },
};
