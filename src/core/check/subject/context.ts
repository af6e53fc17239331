import { getOrMake } from '../../base/get-or-make.js';
import { isOnlyProblem } from '../../body/broken-problem.js';
import type { Remark } from '../../finding.js';
import type { Locale } from '../../locale/tag.js';
import { isSharedRoot, type Pattern } from '../../path/path.js';
import type { FormIndex } from '../../rules/form-index.js';
import {
  codeOf,
  FIELD_PLACES,
  keysOf,
  type Field,
  type Form,
  type RuleUse,
} from '../../rules/form.js';
import { speaksOf } from '../../texts/form-set.js';
import type { Catalog } from '../../texts/catalog.js';
import type { Entry } from '../../texts/entry.js';
import type { Ladder } from '../../texts/climber.js';
import type { Texts } from '../../texts/ladder.js';
import type { Terms } from '../../texts/terms.js';
import type { FieldEntry, Purpose, Purposes, Scope } from '../../texts/purpose.js';
import type { TranslationState } from '../../texts/state.js';
import { STATE, type Column, type Table } from '../../texts/table.js';

/** One rule of one field of one form: a line of the coverage matrix. */
export interface Row {
  readonly form: Form;
  readonly field: Field;
  readonly use: RuleUse;
  /** The message keys, the most special first. */
  readonly keys: readonly string[];
  readonly code: string;
}

/** The wording that a translation was made from, from the review file. */
export interface Reviewed {
  readonly state: TranslationState;
  /** The original's text then; absent where only its fingerprint is known. */
  readonly source?: string | undefined;
  /** Whether the original is still that text. */
  readonly current: boolean;
}

/** The input of a check. */
export interface Subject {
  readonly forms: readonly Form[];
  readonly indexOf: (form: Form) => FormIndex;
  /** The texts that clients read. */
  readonly texts: Texts;
  /** The texts with drafts among them, where clients do not read drafts. */
  readonly drafts?: Texts | undefined;
  /** The locales to check, in the workspace's order. */
  readonly locales: readonly Locale[];
  /** All languages of the workspace, also those that are not checked now. */
  readonly allLocales: readonly Locale[];
  /** The locale that the others are translated from. */
  readonly original: Locale;
  /** The statuses of the problems that there are texts for, by name. */
  readonly problems: ReadonlyMap<string, number>;
  /** The arguments of problems' texts, by problem; unknown for a problem that is absent. */
  readonly problemArguments?: ReadonlyMap<string, readonly string[]> | undefined;
  /** Whether it has texts alone, for the rules of others. */
  readonly isHouse?: boolean | undefined;
  /** Whether answers have texts for beside the inputs. */
  readonly asksInline?: boolean | undefined;
  /** The file that declares problems, for places. */
  readonly settings: string;
  /** The terms; absent where there are none. */
  readonly terms?: Terms | undefined;
  /** Remarks made while the files were read. */
  readonly remarks: readonly Remark[];
  /** Returns the review of a translation; absent where the workspace keeps no review. */
  readonly reviewOf?: ((entry: Entry, original: Entry) => Reviewed | undefined) | undefined;
}

/**
 * The rows of all forms; uses of one rule that share their message (without `as`, or with the same)
 * are one row.
 */
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
  return FIELD_PLACES.flatMap((part) =>
    index
      .speaking(pattern, part)
      .filter((field) => isSharedRoot(field.pattern[0]) && field.path !== path),
  );
}

const NO_FIELDS: readonly Field[] = [];
const NO_ROWS: readonly Row[] = [];

/**
 * By the purpose's number: how many languages have a text, and what any of them is, as bits of
 * `STATE`.
 */
export interface Summary {
  readonly filled: Uint32Array;
  readonly states: Uint8Array;
}

/** Returns the summary of some columns. */
export function summaryOf(table: Table, columns: readonly Column[], mask: number): Summary {
  const { length } = table.purposes.all;
  const [filled, states] = [new Uint32Array(length), new Uint8Array(length)];
  for (const column of columns) column.addTo(filled, states, mask);
  return { filled, states };
}

const columnsOf = ({ table }: Context, locales: readonly Locale[]): Column[] =>
  locales.map((locale) => table.column(locale));

const ofLanguages = (context: Context): Summary =>
  summaryOf(context.table, columnsOf(context, context.subject.allLocales), context.texts.mask);

const ofChecked = (context: Context): Summary =>
  summaryOf(context.table, columnsOf(context, context.checked), context.texts.mask);

const rowsByField = ({ rows }: Context): ReadonlyMap<Field, readonly Row[]> => {
  const byField = new Map<Field, Row[]>();
  for (const row of rows) getOrMake(byField, row.field, () => []).push(row);
  return byField;
};

/** By form and printed path, where the label of a place is looked for. */
const laddersOfLabels = (): Map<string, Map<string, Ladder>> =>
  new Map<string, Map<string, Ladder>>();

const laddersOfRows = ({ rows, texts }: Context): readonly Ladder[] =>
  rows.map(({ form, field, keys }) =>
    texts.messageLadder({ form: form.id, path: field.pattern, keys }),
  );

/**
 * Which texts go with which rules, whatever they say: it holds as long as the forms, and what texts
 * are there for, are the same.
 */
class Links {
  readonly byScope = new Map<Scope, Map<FieldEntry, Field[]>>();
  readonly byKey = new Map<string | undefined, Map<string, Row[]>>();
  readonly byPurpose: (readonly Row[] | undefined)[] = [];
  readonly rows: readonly Row[];
  private readonly version: number;

  constructor(
    private readonly forms: readonly Form[],
    private readonly purposes: Purposes,
    private readonly problems: Subject['problems'],
  ) {
    this.version = purposes.version;
    // A rule that is a problem alone needs no text of the field.
    this.rows = rowsOf(forms).filter(({ use, form }) => !isOnlyProblem(use, form, problems));
  }

  isFor({ forms, problems }: Subject, purposes: Purposes): boolean {
    const { forms: own } = this;
    const sameForms = forms.length === own.length && forms.every((form, at) => form === own[at]);
    return (
      sameForms &&
      problems === this.problems &&
      purposes === this.purposes &&
      purposes.version === this.version
    );
  }
}

/**
 * The subject with what several kinds of findings need, worked out once. Every file is read by
 * then.
 */
export class Context {
  readonly texts: Texts;
  readonly table: Table;
  readonly catalogs: readonly Catalog[];
  private readonly links: Links;
  private readonly made = new Map<unknown, unknown>();
  /** The languages that are checked: mostly all, and then there is one summary. */
  readonly checked: readonly Locale[];

  /** @param earlier of a reading before, whose links may hold */
  constructor(
    readonly subject: Subject,
    earlier?: Context,
  ) {
    const { forms, texts, allLocales: languages, locales } = subject;
    this.texts = texts;
    this.checked = locales.join() === languages.join() ? languages : locales;
    this.table = texts.table;
    this.table.readAll([...languages, ...locales].flatMap((locale) => texts.chain(locale)));
    this.catalogs = this.table.catalogs;
    const { purposes } = this.table;
    this.links = earlier?.links.isFor(subject, purposes)
      ? earlier.links
      : new Links(forms, purposes, subject.problems);
  }

  /** Returns a result that several kinds use, computed at first use. */
  once<T>(make: (context: Context) => T): T {
    const { made } = this;
    if (!made.has(make)) made.set(make, make(this));
    return made.get(make) as T;
  }

  get rows(): readonly Row[] {
    return this.links.rows;
  }

  /** The forms that a catalog speaks of. */
  formsOf({ form }: Pick<Catalog, 'form'>): readonly Form[] {
    const { forms } = this.subject;
    return form === undefined ? forms : forms.filter(({ id }) => speaksOf(form, id));
  }

  rowsOf(field: Field): readonly Row[] {
    return this.once(rowsByField).get(field) ?? NO_ROWS;
  }

  /** The fields that a field entry speaks of: those that it has paths in common with. */
  fieldsFor(entry: FieldEntry): readonly Field[] {
    const { scope } = entry;
    let links = this.links.byScope.get(scope);
    if (!links) {
      this.links.byScope.set(scope, (links = new Map<FieldEntry, Field[]>()));
      const fields = this.formsOf(scope).flatMap((form) => form.fields);
      for (const field of fields)
        for (const one of this.texts.covering(scope, field.pattern))
          getOrMake(links, one, () => []).push(field);
      for (const field of fields)
        for (const one of this.texts.touching(scope, field.pattern))
          getOrMake(links, one, () => []).push(field);
      // Places inside of definitions that are listed once.
      for (const form of this.formsOf(scope).filter(({ joins }) => joins))
        for (const one of scope.fields.values())
          for (const field of insideAt(this.subject.indexOf(form), one))
            getOrMake(links, one, () => []).push(field);
    }
    return links.get(entry.normal) ?? NO_FIELDS;
  }

  private byKey(form: string | undefined): ReadonlyMap<string, readonly Row[]> {
    let byKey = this.links.byKey.get(form);
    if (!byKey) {
      this.links.byKey.set(form, (byKey = new Map<string, Row[]>()));
      for (const row of this.rows)
        if (speaksOf(form, row.form.id))
          for (const key of row.keys) getOrMake(byKey, key, () => []).push(row);
    }
    return byKey;
  }

  /** The rules that messages for a purpose are for. */
  rowsFor(purpose: Purpose): readonly Row[] {
    const { kind, key, form, field, id } = purpose;
    if (kind !== 'message' && kind !== 'inline') return NO_ROWS;
    return (this.links.byPurpose[id] ??= field
      ? this.fieldsFor(field).flatMap((one) =>
          this.rowsOf(one).filter(({ keys }) => keys.includes(key)),
        )
      : (this.byKey(form).get(key) ?? NO_ROWS));
  }

  /** The ladder of each row. */
  get ladders(): readonly Ladder[] {
    return this.once(laddersOfRows);
  }

  /** The ladder of the label at a place. @param path the pattern as it is printed */
  labelLadder(form: string, path: string, pattern: Pattern): Ladder {
    const known = this.once(laddersOfLabels);
    const ofForm = getOrMake(known, form, () => new Map());
    return getOrMake(ofForm, path, () => this.texts.labelLadder(form, pattern));
  }

  /**
   * Whether each language that is checked has a text on the first rung, and none of them asks for
   * anything special.
   */
  isPlainlyWritten([first]: Ladder): boolean {
    if (first?.layer !== 'written') return false;
    const { filled, states } = this.once(
      this.checked === this.subject.allLocales ? ofLanguages : ofChecked,
    );
    const special = (states[first.id] ?? 0) & (STATE.asksForm | STATE.asksValue);
    return filled[first.id] === this.checked.length && special === 0;
  }

  /** Whether each language of the workspace has a text on the first rung. */
  isFirstEverywhere([first]: Ladder): boolean {
    const { allLocales: languages } = this.subject;
    return first !== undefined && this.once(ofLanguages).filled[first.id] === languages.length;
  }
}
