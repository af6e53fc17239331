import { getOrMake } from '../../core/base/get-or-make.js';
import { existsSync } from 'node:fs';
import path from 'node:path';
import picomatch from 'picomatch';
import type { Locale } from '../../core/locale/tag.js';
import { messageProblem } from '../../core/message/trouble.js';
import { complaint } from '../disk/complaint.js';
import { reviewFileOf } from '../disk/files.js';
import { fingerprint, Review, type ReviewState } from '../reading/review-file.js';
import type { Workspace } from '../reading/workspace.js';
import { addressText, keysFor, keysIn, speltIn } from '../reading/address.js';
import { formsNamed, formsWritten } from '../../core/texts/form-set.js';
import { goesWithAnother, type Address } from '../../core/texts/purpose.js';
import { titleOf } from '../../core/texts/titles.js';
import type { Edits } from './edits.js';
import { removeIn, valueIn } from '../documents/json-text.js';
import { setTexts, type TextToSet } from './many-texts.js';

export interface TextDetails {
  readonly note?: string | undefined;
  readonly room?: number | undefined;
}

/** Sets texts in the catalogs of a workspace, and notes how far they are. */
export class TextEditor {
  private readonly reviews = new Map<string, Review>();
  /** Catalogs that this run begins: locale and form by file. */
  private readonly begun = new Map<string, { locale: Locale; form: string | undefined }>();

  /** Texts that wait to be set, by file, so that a file is gone through once for all of them. */
  private readonly queues = new Map<string, TextToSet[]>();
  private readonly spelt = new Map<string, ReadonlyMap<string, string>>();
  /** Reviews that wait to be written. */
  private readonly kept = new Set<Review>();

  constructor(
    private readonly workspace: Workspace,
    readonly edits: Edits,
  ) {}

  /**
   * The file that a text is, or would be, in.
   * @param wanted a file named by whoever asks
   * @throws {Complaint} when there is none
   */
  fileFor(locale: Locale, address: Address, wanted?: string): string {
    if (wanted !== undefined) return this.checkTarget(wanted, locale, address.form);
    const known = this.knownFile(locale, address);
    if (known !== undefined) return known;
    for (const [file, begun] of this.begun)
      if (begun.locale === locale && begun.form === address.form) return file;
    if (address.form === undefined) return this.begin(this.newFile(locale), locale, undefined);
    throw complaint('wrong-use', [
      `there is no catalog of ${locale} for the form "${address.form}"; name a file with --into, or leave --form out to speak of all forms`,
    ]);
  }

  /** The file that holds a text, else the first that has room for it. */
  private knownFile(locale: Locale, address: Address): string | undefined {
    const { table } = this.workspace;
    const [holds] = table.allAt(locale, address);
    return holds?.file ?? table.catalogsOf(locale).find(({ form }) => form === address.form)?.file;
  }

  /**
   * Returns the file for a draft; where the form has no catalog of this locale, a new one beside
   * the original's.
   */
  fileForDraft(locale: Locale, address: Address, wanted?: string): string {
    const known = this.knownFile(locale, address) !== undefined;
    const begun = [...this.begun.values()].some(
      (one) => one.locale === locale && one.form === address.form,
    );
    const isOf = wanted === undefined ? undefined : this.begun.get(wanted);
    // A file is for one form, or for all; what is said of others stands beside it.
    const named = isOf && isOf.form !== address.form ? undefined : wanted;
    if (named !== undefined || known || begun || address.form === undefined)
      return this.fileFor(locale, address, named);
    return this.begin(this.newFile(locale, address.form), locale, address.form);
  }

  /** A name for the first catalog of a locale, after the pattern of the original's. */
  newFile(locale: Locale, form?: string): string {
    const { original } = this.workspace.config;
    const models = this.workspace.table.catalogsOf(original);
    const model = models.find((one) => one.form === form)?.file;
    const name = model?.includes(original) ? replaceLast(model, original, locale) : undefined;
    if (name !== undefined && name !== model && this.isText(name)) return name;
    // Where the original says nothing of the form alone, its schema does.
    const general =
      form === undefined ? undefined : models.find((one) => one.form === undefined)?.file;
    const ids = formsNamed(form ?? '');
    const word = ids.length > 1 ? 'several' : (form ?? '').replace(/[^\p{L}\p{N}._-]+/gu, '-');
    const isFree = (name: string): boolean =>
      !this.begun.has(name) &&
      !existsSync(path.join(this.workspace.folder, name)) &&
      this.isText(name);
    for (let nth = 1; general?.includes(original) && nth < 10_000; nth++) {
      const beside = replaceLast(
        general,
        original,
        `${word}${nth === 1 ? '' : `-${nth}`}.${locale}`,
      );
      if (isFree(beside)) return beside;
      if (!this.isText(beside)) break;
    }
    throw complaint('wrong-use', [
      `there is no catalog of ${locale} yet; name a file for it with --into`,
    ]);
  }

  private isText(file: string): boolean {
    return this.workspace.config.texts.some((glob) => picomatch(glob)(file));
  }

  private checkTarget(wanted: string, locale: Locale, form: string | undefined): string {
    const file = path.normalize(wanted).split(path.sep).join('/');
    if (path.isAbsolute(file) || (file.split('/').includes('..') && !this.isText(file)))
      throw complaint('outside-workspace', [wanted]);
    const catalog = this.workspace.table.catalogs.find((one) => one.file === file);
    const known = catalog ?? this.begun.get(file);
    if (known) {
      if (known.locale === locale && known.form === form) return file;
      const of = (one: { locale: Locale; form?: string | undefined }): string =>
        `${one.locale}${one.form === undefined ? '' : ` and the form "${formsNamed(one.form).join('" and "')}"`}`;
      throw complaint('wrong-use', [
        `${file} is the catalog of ${of(known)}, not of ${of({ locale, form })}; name another file`,
      ]);
    }
    if (!this.isText(file))
      throw complaint('wrong-use', [
        `${file} is not among the texts of the workspace; name one that matches ${this.workspace.config.texts.join(' or ')}`,
      ]);
    if (existsSync(path.join(this.workspace.folder, file)))
      throw complaint('wrong-use', [`${file} is there already and is not a catalog`]);
    return this.begin(file, locale, form);
  }

  private begin(file: string, locale: Locale, form: string | undefined): string {
    this.begun.set(file, { locale, form });
    const [model] = this.workspace.catalogFiles.files;
    const indent = model && /^[ \t]+/m.exec(this.edits.text(model.file) ?? '')?.[0];
    this.edits.put(
      file,
      `${JSON.stringify({ locale, ...(form === undefined ? {} : { form: formsWritten(form) }) }, undefined, indent ?? '  ')}\n`,
    );
    return file;
  }

  /**
   * Sets one text.
   * @throws {Complaint} when it breaks the message syntax
   */
  set(file: string, address: Address, text: string, details: TextDetails = {}): void {
    const problem = messageProblem(text);
    if (problem !== undefined)
      throw complaint('wrong-use', [`the text for ${addressText(address)} is refused ${problem}`]);
    const keys = this.keysOf(file, address);
    const inside = goesWithAnother(address) ? keys.length - 1 : undefined;
    let queue = this.queues.get(file);
    if (!queue) {
      const items: TextToSet[] = [];
      this.queues.set(file, (queue = items));
      this.edits.defer(file, (before) => {
        this.queues.delete(file);
        return setTexts(before, items);
      });
    }
    queue.push({ keys, inside, text, ...details });
  }

  /** The keys of a text in a file; how fields are spelt there is looked up once. */
  private keysOf(file: string, address: Address): string[] {
    const spelling = getOrMake(this.spelt, file, () => speltIn(this.edits.text(file) ?? ''));
    return keysFor(address, spelling);
  }

  /** Removes one text; returns whether it was there. */
  unset(file: string, address: Address): boolean {
    const before = this.edits.text(file) ?? '';
    const keys = keysIn(before, address);
    if (!valueIn(before, keys)) return false;
    this.edits.put(file, removeIn(before, keys));
    const review = this.reviewOf(file);
    if (review?.delete(keys)) this.keep(file, review);
    return true;
  }

  private reviewOf(file: string): Review | undefined {
    const known = this.reviews.get(file);
    if (known) return known;
    const name = reviewFileOf(file);
    const text = this.edits.text(name);
    if (text === undefined) return undefined;
    const review = Review.parse(text, this.workspace.shown(name));
    this.reviews.set(file, review);
    return review;
  }

  private keep(file: string, review: Review): void {
    this.reviews.set(file, review);
    if (this.kept.has(review)) return;
    this.kept.add(review);
    this.edits.defer(reviewFileOf(file), () => {
      this.kept.delete(review);
      return review.toText();
    });
  }

  /**
   * Notes how far a translation is, and what it was made from.
   * @param note what its translator wrote; what is noted of the same text stays without
   */
  mark(
    file: string,
    address: Address,
    state: ReviewState,
    text: string,
    source: string,
    note?: string,
  ): void {
    const review = this.reviewOf(file) ?? new Review();
    const keys = this.keysOf(file, address);
    const mark = fingerprint(text);
    const before = review.at(keys, mark);
    const same = before?.text === mark ? before : undefined;
    const kept = note ?? same?.note;
    if (same?.state === state && same.source === source && same.note === kept) return;
    review.set({
      keys,
      state,
      text: mark,
      source,
      ...(kept === undefined ? {} : { note: kept }),
      ...(before ? { marks: (before.marks ?? 1) + 1 } : {}),
    });
    this.keep(file, review);
  }

  /** How far a translation is, as far as anything is noted. */
  stateOf(file: string, address: Address): ReviewState | undefined {
    const keys = this.keysOf(file, address);
    return this.reviewOf(file)?.at(keys)?.state;
  }

  /** The original of a text. */
  originalOf(address: Address): string | undefined {
    const { table, config } = this.workspace;
    return (table.at(config.original, address) ?? titleOf(table, address))?.text;
  }
}

function replaceLast(text: string, part: string, other: string): string {
  const at = text.lastIndexOf(part);
  return at < 0 ? text : text.slice(0, at) + other + text.slice(at + part.length);
}
