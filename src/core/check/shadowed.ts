import type { Locale } from '../locale/tag.js';
import { printPath, type Pattern } from '../path/path.js';
import type { Field, Form } from '../rules/form.js';
import type { Entry } from '../texts/entry.js';
import type { Ladder } from '../texts/climber.js';
import type { FieldEntry, Purpose } from '../texts/purpose.js';
import { aboutText, type CheckedText } from './checked-text.js';
import type { Context, Settled } from './context.js';
import type { Kind } from './kind.js';

/** The places whose labels sentences of a form may say: of fields with rules, of what they are compared with, and around them. */
function placesOf({ fields, joins = [] }: Form): ReadonlyMap<string, Pattern> {
  const places = new Map(joins.map(({ pattern }) => [printPath(pattern), pattern]));
  for (const { pattern, uses } of fields) {
    if (uses.length === 0) continue;
    for (const one of [pattern, ...uses.flatMap(({ counterpart }) => (counterpart ? [counterpart] : []))]) {
      for (let length = 0; length <= one.length; length++) {
        const place = one.slice(0, length);
        places.set(printPath(place), place);
      }
    }
  }
  return places;
}

/** Lookups that sentences may need besides those of the rows: at places and keys that texts name literally, and of labels. */
function* furtherLadders(context: Context): Generator<Ladder> {
  const { rows, subject, texts } = context;
  let last: { readonly field: Field; readonly narrower: readonly Pattern[] } | undefined;
  const hasMessage = (field: FieldEntry): boolean => field.has('message');
  for (const { form, field, keys } of rows) {
    // The rules of one field come one after the other.
    if (last?.field !== field) last = { field, narrower: texts.narrower(form.id, field.pattern, hasMessage) };
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

const allLadders = (context: Context): readonly Ladder[] => [...context.ladders, ...furtherLadders(context)];

/** The ladders by the numbers of the purposes in them. */
function laddersByPurpose(context: Context): readonly (readonly number[] | undefined)[] {
  const ladders: number[][] = [];
  for (const [at, ladder] of context.steady(allLadders).entries()) for (const { id } of ladder) (ladders[id] ??= []).push(at);
  return ladders;
}

/** Purposes whose texts nothing stands in front of, whatever a language has. */
function firstOnes(context: Context): Uint8Array {
  const first = new Uint8Array(context.table.purposes.all.length);
  for (const ladder of context.steady(allLadders)) {
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
  /** How many lookups end at a text, by its locale and the number of its purpose. */
  private readonly counts = new Map<Locale, Uint32Array>();
  /** Whether there are texts that only other languages fall back on: they are reached where these have nothing. */
  readonly strangers: boolean;
  private readonly always: Uint8Array;
  private readonly languages: ReadonlySet<Locale>;

  constructor(context: Context) {
    const { catalogs, subject } = context;
    this.always = context.steady(firstOnes);
    this.languages = new Set(subject.languages);
    this.strangers = catalogs.some(({ locale }) => !this.languages.has(locale));
    for (const ladder of context.steady(allLadders)) this.count(ladder, 1, context);
  }

  /** Climbs those ladders again that some purposes are in: as they were, and as they are. */
  update(context: Context, changed: ReadonlySet<Purpose>, before: Context): this {
    const [ladders, numbers] = [context.steady(allLadders), context.steady(laddersByPurpose)];
    for (const at of new Set([...changed].flatMap(({ id }) => numbers[id] ?? []))) {
      const ladder = ladders[at] ?? [];
      this.count(ladder, -1, before);
      this.count(ladder, 1, context);
    }
    return this;
  }

  /** Counts where a lookup ends that may end elsewhere in one language than in another. */
  private count(ladder: Ladder, by: number, context: Context): void {
    const written = ladder.filter(({ layer }) => layer === 'written');
    if (!this.strangers && (written.length < 2 || context.isFirstEverywhere(ladder))) return;
    const { subject, texts, table } = context;
    for (const language of subject.languages) {
      const climber = texts.climber(language);
      const end = climber.climb(ladder);
      const locale = climber.localeOf(end);
      const purpose = climber.purpose(ladder, end);
      if (locale === undefined || !purpose) continue;
      let counts = this.counts.get(locale);
      if (!counts) this.counts.set(locale, (counts = new Uint32Array(table.purposes.all.length)));
      for (const { id } of withForms(purpose)) counts[id] = (counts[id] ?? 0) + by;
    }
  }

  /** Whether texts for a purpose are reached in every language. */
  isAlways({ id }: Purpose): boolean {
    return this.always[id] === 1;
  }

  has({ locale, purpose: { id } }: Entry): boolean {
    return (this.always[id] === 1 && this.languages.has(locale)) || (this.counts.get(locale)?.[id] ?? 0) > 0;
  }
}

const REACHED: Settled<Reached> = {
  make: (context) => new Reached(context),
  update: (known, context, changed, before) => known.update(context, changed, before),
};

/** Whether lookups should end at a text, since something uses what it is for. */
const isUsed = ({ kind, rows, entry, field }: CheckedText, context: Context): boolean =>
  !entry.error &&
  (kind === 'message'
    ? rows.length > 0
    : kind === 'label' && field !== undefined && context.fieldsFor(field).some(({ uses }) => uses.length > 0));

export const shadowed: Kind = {
  kind: 'shadowed',
  hangsOn: ['language', 'lookups'],
  severity: 'warning',
  about: 'A text that no lookup reaches: a more special one stands in front of it everywhere.',
  remedy: 'Remove it, or the one that stands in front; `why` shows which.',
  example: '"fields": { "title": { "label": "…" } }         // and every form has its own',
  look: (context, report) => {
    const reached = context.settled(REACHED);
    const { catalogs, table } = context;
    const hasCovered = catalogs.some(({ locale }) => table.column(locale).covered.length > 0);
    return {
      sorts: ['message', 'label'],
      purposes: (purpose) => hasCovered || reached.strangers || !reached.isAlways(purpose),
      text: (checked) => {
        const { entry, catalog, purpose } = checked;
        const holds = table.cell(catalog.locale, purpose) === entry;
        // Another workspace may reach what it shares with this one.
        if ((holds && reached.has(entry)) || catalog.shared || !isUsed(checked, context)) return;
        report({
          message: 'No lookup reaches this text: a more special one stands in front of it everywhere. Remove one of them.',
          ...aboutText(checked),
        });
      },
    };
  },
};
