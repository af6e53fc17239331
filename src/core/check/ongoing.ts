import type { Finding, Remark } from '../finding.js';
import type { Catalog } from '../texts/catalog.js';
import type { Entry } from '../texts/entry.js';
import type { CheckOptions, CheckResult, CoverageLine } from './result.js';
import { changedTexts, type ChangedTexts } from './changes.js';
import { Context, type Subject } from './context.js';
import { coveredShare } from './coverage.js';
import { CoverageMap, rowsOf } from './coverage-map.js';
import { Excuses } from './excuses.js';
import type { Kind, Looks } from './kind.js';
import { KINDS } from './kinds.js';
import { unusedExcuse } from './noticed.js';
import { asSet } from './settings.js';
import { Showing } from './showing.js';

/** How many texts are looked at between two signs of progress. */
const STRIDE = 2000;

/** A finding of a text or a catalog, and what was looked at. */
interface Noted {
  readonly finding: Finding;
  readonly catalog: Pick<Catalog, 'file' | 'locale'>;
  readonly entry: Entry | undefined;
}

/** What is known of one kind. */
interface Notes {
  readonly kind: Kind;
  /** Of texts and catalogs: they hold as long as these, and what else they hang on, are the same. */
  noted: Noted[];
  /** Of cells of the coverage, by the row: they hold as long as lookups end where they did. */
  celled: Map<number, readonly Finding[]>;
  /** Of rules, of what is missing, and of what cells say: looked for each time. */
  others: Finding[];
}

type Looking = readonly { readonly notes: Notes; readonly looks: Looks }[];

/** Picks those who look. */
type LooksOf = (isMeant: (notes: Notes) => boolean) => readonly Looks[];

const looksOf =
  (looking: Looking): LooksOf =>
  (isMeant) =>
    looking.filter(({ notes }) => isMeant(notes)).map(({ looks }) => looks);

const hangs = ({ kind: { hangsOn = [] } }: Notes, on: NonNullable<Kind['hangsOn']>[number]): boolean => hangsOn.includes(on);

/** Whether findings hang on texts of one language beside each other, whatever the rules are. */
const isOfLanguageAlone = (notes: Notes): boolean => hangs(notes, 'language') && !hangs(notes, 'rules');

/** Whether what was noted of a text or a catalog may be otherwise now. */
function isOpen(notes: Notes, { catalog, entry }: Noted, changed: ChangedTexts): boolean {
  if (hangs(notes, 'language') && changed.locales.has(catalog.locale)) return true;
  if (hangs(notes, 'lookups') && changed.moved) return true;
  if (changed.ruled && (hangs(notes, 'forms') || !entry)) return !isOfLanguageAlone(notes);
  if (entry && changed.ruled?.has(entry.purpose) && !isOfLanguageAlone(notes)) return true;
  if (!entry) return [...changed.catalogs].some(({ file }) => file === catalog.file);
  return changed.gone.has(entry) || (hangs(notes, 'original') && changed.ofOriginal.has(entry.purpose));
}

/**
 * The check of one workspace after the other, where each is the one before with some texts changed: what a change does not
 * concern is not looked at again. What is found is the same as if all had been looked at, in another order within a kind.
 */
export class OngoingCheck {
  /** Of the last check. */
  context: Context | undefined;
  private readonly notes: readonly Notes[];
  private matrix: readonly CoverageLine[] = [];
  /** The row whose cells are being looked at. */
  private row: number | undefined;
  /** What is being looked at; nothing between texts. */
  private catalog: Catalog | undefined;
  private entry: Entry | undefined;

  constructor(private readonly options: CheckOptions = {}) {
    const { settings = [], asked = [] } = options;
    const isAsked = ({ kind }: Kind): boolean =>
      asked.includes(kind) || settings.some((one) => one.kind === kind && one.severity !== 'off');
    this.notes = KINDS.filter((kind) => !kind.quiet || isAsked(kind)).map((kind) => ({
      kind,
      noted: [],
      celled: new Map(),
      others: [],
    }));
  }

  next(subject: Subject): CheckResult {
    const context = new Context(subject, this.context);
    const changed = this.context && changedTexts(this.context, context);
    // With other rules there are other rows.
    if (!changed || changed.ruled) {
      for (const notes of this.notes) notes.celled = new Map();
      this.matrix = [];
    }
    if (this.context && changed?.sameFiles) {
      context.keepSettled(this.context, changed.moved ? changed.purposes : undefined);
    }
    this.context = context;
    this.look(context, changed);
    context.settle();
    return { matrix: this.matrix, coverage: coveredShare(this.matrix, subject.locales), findings: this.findings(context) };
  }

  private look(context: Context, changed: ChangedTexts | undefined): void {
    const byFile = new Map(context.catalogs.map((catalog) => [catalog.file, catalog]));
    const looking = this.notes.flatMap((notes): Looking => {
      const { kind } = notes;
      const { severity, find, findInRules, look } = kind;
      notes.noted = changed ? notes.noted.filter((noted) => !isOpen(notes, noted, changed)) : [];
      const found = findInRules ? context.steady(listing(findInRules)) : find?.(context);
      notes.others = Array.from(found ?? [], (remark) => ({ severity, ...remark }));
      const looks = look?.(context, (remark) => {
        const finding: Finding = { severity, kind: kind.kind, ...remark };
        // What is told at the end of texts names its file.
        const catalog = looks?.cell ? undefined : (this.catalog ?? byFile.get(finding.spot?.file ?? ''));
        if (catalog) notes.noted.push({ finding, catalog, entry: this.entry });
        else if (this.row === undefined) notes.others.push(finding);
        else notes.celled.set(this.row, [...(notes.celled.get(this.row) ?? []), finding]);
      });
      return looks ? [{ notes, looks }] : [];
    });
    this.lookAtCatalogs(context, looking, changed);
    this.lookAtTexts(context, looking, changed);
    this.lookAtCells(context, looking, changed);
    for (const { looks } of looking) looks.end?.();
    if (!changed) return;
    const order = new Map(context.catalogs.map(({ file }, at) => [file, at]));
    const placeOf = ({ catalog: { file } }: Noted): number => order.get(file) ?? 0;
    for (const { notes } of looking) notes.noted.sort((one, other) => placeOf(one) - placeOf(other));
  }

  /** Works out the coverage, as far as texts of a row are others, and shows its cells to those who look for some. */
  private lookAtCells(context: Context, looking: Looking, changed: ChangedTexts | undefined): void {
    const open = changed && !changed.ruled ? rowsOf(changed.purposes, context) : undefined;
    const plain = looking.flatMap(({ looks: { cell } }) => (cell && !cell.mayWant ? [cell] : []));
    const matrix = [...this.matrix];
    const map = new CoverageMap(context);
    for (const at of open ?? context.rows.keys()) {
      this.row = at;
      if (open) for (const { celled } of this.notes) celled.delete(at);
      matrix[at] = map.line(at, plain);
    }
    this.row = undefined;
    // What hangs on what texts say is few, and looked for in all rows that may have it.
    const readers = looking.flatMap(({ looks: { cell } }) => (cell?.mayWant ? [cell] : []));
    for (let at = 0; at < context.rows.length; at++) {
      const wanted = map.wanting(at, readers);
      if (wanted.length > 0) map.line(at, wanted);
    }
    this.matrix = matrix;
  }

  private lookAtCatalogs(context: Context, looking: Looking, changed: ChangedTexts | undefined): void {
    for (const { notes, looks } of looking) {
      if (!looks.catalog) continue;
      for (const catalog of context.catalogs) {
        const isNew =
          !changed ||
          changed.ruled !== undefined ||
          changed.catalogs.has(catalog) ||
          (hangs(notes, 'language') && changed.locales.has(catalog.locale));
        if (!isNew) continue;
        this.catalog = catalog;
        looks.catalog(catalog);
      }
    }
    this.catalog = undefined;
  }

  private lookAtTexts(context: Context, looking: Looking, changed: ChangedTexts | undefined): void {
    const { catalogs } = context;
    const of = looksOf(looking);
    if (!changed) {
      const all = looking.map(({ looks }) => looks);
      this.show(context, all, catalogs);
      return;
    }
    const { locales, fresh, ofOriginal, moved } = changed;
    const touched = catalogs.filter(({ locale }) => locales.has(locale));
    const others = catalogs.filter(({ locale }) => !locales.has(locale));
    const ofLanguage = of((notes) => hangs(notes, 'language'));
    this.show(context, ofLanguage, touched);
    if (moved) {
      const ofLookups = of((notes) => hangs(notes, 'lookups'));
      const wanted = context.table.purposes.all.map((purpose) => ofLookups.some((one) => one.purposes?.(purpose) ?? true));
      if (wanted.includes(true)) this.show(context, ofLookups, others, ({ purpose }) => wanted[purpose.id] === true);
    }
    const own = of((notes) => !hangs(notes, 'language'));
    this.show(context, own, [...changed.catalogs], (entry) => fresh.has(entry));
    this.showRuled(context, of, others, changed);
    if (ofOriginal.size === 0) return;
    const isHeldAgainst = (entry: Entry): boolean => !fresh.has(entry) && ofOriginal.has(entry.purpose);
    const ofLanguageToo = of((notes) => hangs(notes, 'original') && hangs(notes, 'language'));
    this.show(context, ofLanguageToo, others, isHeldAgainst);
    const alone = of((notes) => hangs(notes, 'original') && !hangs(notes, 'language'));
    this.show(context, alone, catalogs, (entry) => isHeldAgainst(entry) && !changed.ruled?.has(entry.purpose));
  }

  /**
   * Shows the texts that are for other rules now, as far as they were not shown anyway, and all to those who look at all forms.
   * @param others of languages in which no text changed
   */
  private showRuled(context: Context, of: LooksOf, others: readonly Catalog[], { ruled, fresh }: ChangedTexts): void {
    if (!ruled) return;
    const { catalogs } = context;
    const ofForms = of((notes) => hangs(notes, 'forms'));
    this.show(context, ofForms, catalogs, (entry) => !fresh.has(entry));
    const isOther = (entry: Entry): boolean => !fresh.has(entry) && ruled.has(entry.purpose);
    const alone = of((notes) => !hangs(notes, 'language') && !hangs(notes, 'forms'));
    this.show(context, alone, catalogs, isOther);
    const ofLanguage = of((notes) => hangs(notes, 'language') && hangs(notes, 'rules'));
    this.show(context, ofLanguage, others, isOther);
  }

  /** Shows the texts of catalogs, all or some. */
  private show(context: Context, looks: readonly Looks[], catalogs: readonly Catalog[], only?: (entry: Entry) => boolean): void {
    if (looks.length === 0) return;
    const { progress } = this.options;
    const showing = new Showing(context, looks);
    const count = progress && catalogs.reduce((sum, { texts }) => sum + texts.length, 0);
    let seen = 0;
    for (const catalog of catalogs) {
      this.catalog = catalog;
      for (const entry of catalog.texts) {
        if (progress && count !== undefined && ++seen % STRIDE === 0) progress(seen, count);
        if (only && !only(entry)) continue;
        this.entry = entry;
        showing.show(catalog, entry);
      }
    }
    this.catalog = undefined;
    this.entry = undefined;
  }

  /** All that is known, without what is excused, as the settings have it. */
  private findings({ catalogs, subject }: Context): Finding[] {
    const { settings = [], asked = [] } = this.options;
    const wanted = new Set<string | undefined>([undefined, ...subject.locales]);
    const excuses = new Excuses(catalogs);
    const found = this.notes.flatMap(({ noted, celled, others }) => [
      ...others,
      ...noted.map(({ finding }) => finding),
      ...[...celled.values()].flat(),
    ]);
    const standing = found.filter((finding) => !excuses.covers(finding));
    const names = KINDS.map(({ kind }) => kind);
    const unused = [...excuses.unused(names)].map((remark): Finding => ({ severity: unusedExcuse.severity, ...remark }));
    // Whether findings of a kind stay untold where no setting speaks of them.
    const quiet = new Set(KINDS.filter((kind) => kind.quiet && !asked.includes(kind.kind)).map(({ kind }) => kind));
    return [...standing, ...unused]
      .filter(({ locale }) => wanted.has(locale))
      .flatMap((finding) => asSet(finding, settings, quiet.has(finding.kind)) ?? []);
  }
}

type Find = NonNullable<Kind['findInRules']>;

const listings = new WeakMap<Find, (context: Context) => readonly Remark[]>();

/** The same as a list, which can be kept. */
function listing(find: Find): (context: Context) => readonly Remark[] {
  let list = listings.get(find);
  if (!list) listings.set(find, (list = (context) => [...find(context)]));
  return list;
}
