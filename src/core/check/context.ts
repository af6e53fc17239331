import type { Remark } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import { isSharedRoot, type Pattern } from '../path/path.js';
import type { FormIndex } from '../rules/form-index.js';
import { codeOf, FIELD_PLACES, keysOf, type Field, type Form, type RuleUse } from '../rules/form.js';
import { speaksOf } from '../texts/form-set.js';
import type { Catalog } from '../texts/catalog.js';
import type { Entry } from '../texts/entry.js';
import type { Ladder } from '../texts/climber.js';
import type { Texts } from '../texts/ladder.js';
import type { FieldEntry, Purpose, Purposes, Scope } from '../texts/purpose.js';
import type { TranslationState } from '../texts/state.js';
import { STATE, type Column, type Table } from '../texts/table.js';

/** One rule of one field of one form: a line of the coverage matrix. */
export interface Row {
  readonly form: Form;
  readonly field: Field;
  readonly use: RuleUse;
  /** The message keys, the most special first. */
  readonly keys: readonly string[];
  readonly code: string;
}

/** What a translation was made from, as the review file has it. */
export interface Reviewed {
  readonly state: TranslationState;
  /** The original's text then; absent where only its fingerprint is known. */
  readonly source?: string | undefined;
  /** Whether the original is still that text. */
  readonly current: boolean;
}

/** What is checked. */
export interface Subject {
  readonly forms: readonly Form[];
  readonly indexOf: (form: Form) => FormIndex;
  readonly texts: Texts;
  /** The locales to check, in the workspace's order. */
  readonly locales: readonly Locale[];
  /** All languages of the workspace, also those that are not checked now. */
  readonly languages: readonly Locale[];
  /** The locale that the others are translated from. */
  readonly original: Locale;
  /** The problems that there are texts for, by name. */
  readonly problems: readonly string[];
  /** What texts of problems may say besides words, by the problem; of one that is not there nobody knows. */
  readonly problemArguments?: ReadonlyMap<string, readonly string[]> | undefined;
  /** The file that declares problems, for places. */
  readonly settings: string;
  /** What was noticed while the files were read. */
  readonly remarks: readonly Remark[];
  /** What is known of the review of a translation; absent where the workspace keeps no review. */
  readonly reviewOf?: ((entry: Entry, original: Entry) => Reviewed | undefined) | undefined;
}

/** The rows of all forms; uses of one rule that share their message (without `as`, or with the same) are one row. */
export function rowsOf(forms: readonly Form[]): Row[] {
  return forms.flatMap((form) =>
    form.fields.flatMap((field) => {
      const rows: Row[] = [];
      for (const use of field.uses) {
        if (rows.some((row) => row.use.rule === use.rule && row.use.as === use.as)) continue;
        rows.push({ form, field, use, keys: keysOf(use), code: codeOf(use) });
      }
      return rows;
    }),
  );
}

/** The fields of definitions that speak for the places of a field entry. */
function insideAt(index: FormIndex, { pattern, path }: FieldEntry): readonly Field[] {
  return FIELD_PLACES.flatMap((place) =>
    index.speaking(pattern, place).filter((field) => isSharedRoot(field.pattern[0]) && field.path !== path),
  );
}

const NO_FIELDS: readonly Field[] = [];
const NO_ROWS: readonly Row[] = [];

function entered<K, V>(groups: Map<K, V[]>, key: K, value: V): void {
  const group = groups.get(key);
  if (group) group.push(value);
  else groups.set(key, [value]);
}

/** By the purpose's number: how many languages have a text, and what any of them is, as bits of `STATE`. */
export interface Summary {
  readonly filled: Uint32Array;
  readonly states: Uint8Array;
}

/** What some columns have, all together. */
export function summaryOf(table: Table, columns: readonly Column[]): Summary {
  const { length } = table.purposes.all;
  const [filled, states] = [new Uint32Array(length), new Uint8Array(length)];
  for (const column of columns) column.addTo(filled, states);
  return { filled, states };
}

/** The same after some texts changed. */
export function summaryAfter(known: Summary, columns: readonly Column[], changed: ReadonlySet<Purpose>): Summary {
  const [filled, states] = [known.filled.slice(), known.states.slice()];
  for (const { id } of changed) {
    let [count, all] = [0, 0];
    for (const column of columns) {
      const state = column.state(id);
      all |= state;
      count += state & STATE.filled;
    }
    [filled[id], states[id]] = [count, all];
  }
  return { filled, states };
}

/** What hangs on rules and on what texts are there for, whatever they say: as long as neither changes, it holds. */
class Groundwork {
  readonly rows: readonly Row[];
  readonly rowsByField = new Map<Field, Row[]>();
  readonly rowsByPurpose: (readonly Row[] | undefined)[] = [];
  readonly rowsByKey = new Map<string | undefined, Map<string, Row[]>>();
  readonly links = new Map<Scope, Map<FieldEntry, Field[]>>();
  readonly made = new Map<unknown, unknown>();
  private readonly purposes: Purposes;
  private readonly version: number;

  constructor(
    private readonly forms: readonly Form[],
    { purposes }: Table,
  ) {
    this.purposes = purposes;
    this.version = purposes.version;
    this.rows = rowsOf(forms);
    for (const row of this.rows) entered(this.rowsByField, row.field, row);
  }

  holdsFor(forms: readonly Form[], { purposes }: Table): boolean {
    const { forms: own } = this;
    const sameForms = forms.length === own.length && forms.every((form, at) => form === own[at]);
    return sameForms && purposes === this.purposes && purposes.version === this.version;
  }
}

/** Something that hangs on where lookups end: how it is made, and made to hold again after some texts changed. */
export interface Settled<T> {
  readonly make: (context: Context) => T;
  readonly update: (known: T, context: Context, changed: ReadonlySet<Purpose>, before: Context) => T;
}

const columnsOf = ({ table }: Context, locales: readonly Locale[]): Column[] => locales.map((locale) => table.column(locale));

const ofLanguages: Settled<Summary> = {
  make: (context) => summaryOf(context.table, columnsOf(context, context.subject.languages)),
  update: (before, context, changed) => summaryAfter(before, columnsOf(context, context.subject.languages), changed),
};

const ofChecked: Settled<Summary> = {
  make: (context) => summaryOf(context.table, columnsOf(context, context.checked)),
  update: (before, context, changed) => summaryAfter(before, columnsOf(context, context.checked), changed),
};

/** By form and printed path, where the label of a place is looked for. */
const laddersOfLabels = (): Map<string, Map<string, Ladder>> => new Map<string, Map<string, Ladder>>();

const laddersOfRows = ({ rows, texts }: Context): readonly Ladder[] =>
  rows.map(({ form, field, keys }) => texts.messageLadder({ form: form.id, path: field.pattern, keys }));

/** A check before, from which something is taken over. */
interface Earlier {
  readonly context: Context;
  readonly made: ReadonlyMap<unknown, unknown>;
  /** The purposes of texts that came, went, or can be said now or no longer. */
  readonly changed: ReadonlySet<Purpose>;
}

/** The subject with what several kinds of findings need, worked out once. Every file is read by then. */
export class Context {
  readonly texts: Texts;
  readonly table: Table;
  readonly catalogs: readonly Catalog[];
  private readonly ground: Groundwork;
  private made = new Map<unknown, unknown>();
  private earlier: Earlier | undefined;
  /** The languages that are checked: mostly all, and then there is one summary. */
  readonly checked: readonly Locale[];

  /** @param earlier of a check before, whose groundwork may hold */
  constructor(
    readonly subject: Subject,
    earlier?: Context,
  ) {
    const { forms, texts, languages, locales } = subject;
    this.texts = texts;
    this.checked = locales.join() === languages.join() ? languages : locales;
    this.table = texts.table;
    this.table.readAll([...languages, ...locales].flatMap((locale) => texts.chain(locale)));
    this.catalogs = this.table.catalogs;
    this.ground = earlier?.ground.holdsFor(forms, this.table) ? earlier.ground : new Groundwork(forms, this.table);
  }

  /** What a kind works out of rules and of what texts are there for, whatever they say: made once, as long as these are the same. */
  steady<T>(make: (context: Context) => T): T {
    const { made } = this.ground;
    if (!made.has(make)) made.set(make, make(this));
    return made.get(make) as T;
  }

  /** The same of what hangs on where lookups end as well: made once, as long as no text comes, goes or can be said no longer. */
  settled<T>(what: Settled<T>): T {
    const { earlier } = this;
    if (!this.made.has(what))
      this.made.set(
        what,
        earlier?.made.has(what)
          ? what.update(earlier.made.get(what) as T, this, earlier.changed, earlier.context)
          : what.make(this),
      );
    return this.made.get(what) as T;
  }

  /**
   * Takes over what was settled in an earlier check of the same files.
   * @param moved purposes of texts that came, went, or can be said now or no longer; nothing where there are none
   */
  keepSettled(earlier: Context, moved: ReadonlySet<Purpose> | undefined): void {
    if (!moved) this.made = earlier.made;
    else if (this.ground === earlier.ground) this.earlier = { context: earlier, made: earlier.made, changed: moved };
  }

  /** Forgets what only served to take over from a check before. */
  settle(): void {
    this.earlier = undefined;
  }

  get rows(): readonly Row[] {
    return this.ground.rows;
  }

  /** The forms that a catalog speaks of. */
  formsOf({ form }: Pick<Catalog, 'form'>): readonly Form[] {
    const { forms } = this.subject;
    return form === undefined ? forms : forms.filter(({ id }) => speaksOf(form, id));
  }

  rowsOf(field: Field): readonly Row[] {
    return this.ground.rowsByField.get(field) ?? NO_ROWS;
  }

  /** The fields that a field entry speaks of: those that it has paths in common with. */
  fieldsFor(entry: FieldEntry): readonly Field[] {
    const { scope } = entry;
    let links = this.ground.links.get(scope);
    if (!links) {
      this.ground.links.set(scope, (links = new Map<FieldEntry, Field[]>()));
      const fields = this.formsOf(scope).flatMap((form) => form.fields);
      for (const field of fields) for (const one of this.texts.covering(scope, field.pattern)) entered(links, one, field);
      for (const field of fields) for (const one of this.texts.touching(scope, field.pattern)) entered(links, one, field);
      // Places inside of definitions that are listed once.
      for (const form of this.formsOf(scope).filter(({ joins }) => joins))
        for (const one of scope.fields.values())
          for (const field of insideAt(this.subject.indexOf(form), one)) entered(links, one, field);
    }
    return links.get(entry.normal) ?? NO_FIELDS;
  }

  private byKey(form: string | undefined): ReadonlyMap<string, readonly Row[]> {
    let byKey = this.ground.rowsByKey.get(form);
    if (!byKey) {
      this.ground.rowsByKey.set(form, (byKey = new Map<string, Row[]>()));
      for (const row of this.rows) if (speaksOf(form, row.form.id)) for (const key of row.keys) entered(byKey, key, row);
    }
    return byKey;
  }

  /** The rules that messages for a purpose are for. */
  rowsFor(purpose: Purpose): readonly Row[] {
    const { kind, key, form, field, id } = purpose;
    if (kind !== 'message' && kind !== 'inline') return NO_ROWS;
    return (this.ground.rowsByPurpose[id] ??= field
      ? this.fieldsFor(field).flatMap((one) => this.rowsOf(one).filter(({ keys }) => keys.includes(key)))
      : (this.byKey(form).get(key) ?? NO_ROWS));
  }

  /** The ladder of each row. */
  get ladders(): readonly Ladder[] {
    return this.steady(laddersOfRows);
  }

  /** The ladder of the label at a place. @param path the pattern as it is printed */
  labelLadder(form: string, path: string, pattern: Pattern): Ladder {
    const known = this.steady(laddersOfLabels);
    let ofForm = known.get(form);
    if (!ofForm) known.set(form, (ofForm = new Map<string, Ladder>()));
    let ladder = ofForm.get(path);
    if (!ladder) ofForm.set(path, (ladder = this.texts.labelLadder(form, pattern)));
    return ladder;
  }

  /** Whether each language that is checked has a text on the first rung, and none of them asks for anything special. */
  isPlainlyWritten([first]: Ladder): boolean {
    if (first?.layer !== 'written') return false;
    const { filled, states } = this.settled(this.checked === this.subject.languages ? ofLanguages : ofChecked);
    const special = (states[first.id] ?? 0) & (STATE.asksForm | STATE.asksValue);
    return filled[first.id] === this.checked.length && special === 0;
  }

  /** Whether each language of the workspace has a text on the first rung. */
  isFirstEverywhere([first]: Ladder): boolean {
    const { languages } = this.subject;
    return first !== undefined && this.settled(ofLanguages).filled[first.id] === languages.length;
  }
}
