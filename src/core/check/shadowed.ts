import type { Locale } from '../locale/tag.js';
import { printPath, type Pattern } from '../path/path.js';
import type { Form } from '../rules/form.js';
import type { Entry } from '../texts/entry.js';
import type { Ladder } from '../texts/climber.js';
import type { Purpose } from '../texts/purpose.js';
import { aboutText, type CheckedText } from './checked-text.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';

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

/** Lookups that sentences may need besides those of the rows: at places and keys that texts name literally, and of labels. */
function* furtherLadders({ rows, subject, texts }: Context): Generator<Ladder> {
  for (const { form, field, keys } of rows)
    for (const path of texts.narrower(form.id, field.pattern)) yield texts.messageLadder({ form: form.id, path, keys });
  for (const form of subject.forms)
    for (const place of placesOf(form))
      for (const path of [place, ...texts.narrower(form.id, place)]) yield texts.labelLadder(form.id, path);
}

const allLadders = (context: Context): readonly Ladder[] => [...context.ladders, ...furtherLadders(context)];

/** Which texts some lookup ends at. */
class Reached {
  /** Purposes whose texts nothing stands in front of, whatever a language has. */
  private readonly always: Uint8Array;
  private readonly byLocale = new Map<Locale, Uint8Array>();
  private readonly languages: ReadonlySet<Locale>;
  /** Whether there are texts that only other languages fall back on: they are reached where these have nothing. */
  readonly strangers: boolean;

  constructor(context: Context) {
    const { catalogs, subject, table } = context;
    this.always = new Uint8Array(table.purposes.all.length);
    this.languages = new Set(subject.languages);
    this.strangers = catalogs.some(({ locale }) => !this.languages.has(locale));
    for (const ladder of context.steady(allLadders)) this.add(ladder, context);
  }

  private add(ladder: Ladder, context: Context): void {
    const written = ladder.filter(({ layer }) => layer === 'written');
    const [first] = written;
    if (first) this.mark(this.always, first);
    if (!this.strangers && (written.length < 2 || context.isFirstEverywhere(ladder))) return;
    const { subject, texts, table } = context;
    for (const language of subject.languages) {
      const climber = texts.climber(language);
      const end = climber.climb(ladder);
      const locale = climber.localeOf(end);
      const purpose = climber.purpose(ladder, end);
      if (locale === undefined || !purpose) continue;
      let marks = this.byLocale.get(locale);
      if (!marks) this.byLocale.set(locale, (marks = new Uint8Array(table.purposes.all.length)));
      this.mark(marks, purpose);
    }
  }

  /** A label is reached with its forms. */
  private mark(marks: Uint8Array, { id, kind, field }: Purpose): void {
    marks[id] = 1;
    if (kind === 'label') for (const { purpose } of field?.slotsOf('label') ?? []) marks[purpose.id] = 1;
  }

  /** Whether texts for a purpose are reached in every language. */
  isAlways({ id }: Purpose): boolean {
    return this.always[id] === 1;
  }

  has({ locale, purpose: { id } }: Entry): boolean {
    return (this.always[id] === 1 && this.languages.has(locale)) || this.byLocale.get(locale)?.[id] === 1;
  }
}

const reachedIn = (context: Context): Reached => new Reached(context);

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
    const reached = context.settled(reachedIn);
    const { catalogs, table } = context;
    const hasCovered = catalogs.some(({ locale }) => table.column(locale).covered.length > 0);
    return {
      sorts: ['message', 'label'],
      concerns: (checked) => hasCovered || reached.strangers || !reached.isAlways(checked.purpose),
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
