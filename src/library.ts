import { DEFAULT_SHAPE_OPTIONS } from './core/body/shapes/shape.js';
import { SHAPES } from './core/body/shapes/shapes.js';
import type { Locale } from './core/locale/tag.js';
import type { Pack } from './core/pack/pack.js';
import { unpack } from './core/pack/unpack.js';
import { parsePath, type Path } from './core/path/path.js';
import type { Request } from './core/rules/evaluate.js';
import type { FormIndex } from './core/rules/form-index.js';
import type { FieldPlace } from './core/rules/form.js';
import { suggestion } from './core/text/closest.js';
import { Sentences } from './core/violation/sentence.js';
import type { Violation } from './core/violation/violation.js';
import type { Warn } from './core/violation/warning.js';
import { fromDeclared, type ReaderDeclaration } from './exchange/violations/declared.js';
import { reported, type Failure } from './exchange/violations/failure.js';
import type { Background } from './exchange/violations/foreign.js';
import { fromNativeErrors } from './exchange/violations/schema-errors.js';
import { fromSchemaOutput } from './exchange/violations/schema-output.js';
import { fromZodIssues } from './exchange/violations/zod.js';
import { complaint } from './workspace/complaint.js';
import type { Judge } from './workspace/judging/judge.js';
import { checkPack, readPack } from './workspace/packs.js';
import { Rendering, workspaceRenderer, type FormRules, type Renderer, type Source, type Speaker } from './workspace/renderer.js';
import { readBy } from './workspace/violations.js';
import { Workspace } from './workspace/workspace.js';

export type { FormRules, ProblemOptions, Rendered, Renderer, RenderOptions, Report } from './workspace/renderer.js';

/** A workspace can also run payloads. */
export interface WorkspaceRenderer extends Renderer {
  /**
   * Holds a request against the rules of a form, and says what it broke, in the order of the document; of many thousand
   * violations the first thousand.
   * @throws {Complaint} when there is none of that id, or a rule cannot be tried (a table is gone)
   * @throws {OutOfTime} when that cannot be told within a second
   */
  violations(form: string, request: Request): Promise<readonly Violation[]>;
  /**
   * Reads what another validator reports.
   * @param reader a reader of the workspace, or one that needs no declaration: `zod`, `schema-errors`, `schema-output`
   * @throws {Complaint} when there is no such reader or form
   * @throws {ForeignReportError} when the report cannot be read at all; with `strict`, when one entry cannot be
   */
  read(reader: string, report: unknown, options: ReadOptions): Promise<readonly Violation[]>;
}

export interface ReadOptions extends Omit<ForeignOptions, 'form'> {
  /** The id of the form that was validated. */
  readonly form: string;
}

/** How a renderer is opened. */
export interface OpenOptions {
  /** Told of what the caller should know, though the client got its answer: texts that ask for what nobody gave. */
  readonly onWarning?: Warn;
}

/**
 * Opens the workspace at or above a folder.
 * @throws {Complaint} when there is none, or a file of it cannot be read
 */
export function openWorkspace(folder: string, { onWarning }: OpenOptions = {}): WorkspaceRenderer {
  const workspace = Workspace.open(folder);
  // Whoever renders answers has no use for a complaint about a catalog.
  workspace.readAll();
  const rendering = workspaceRenderer(workspace, onWarning);
  let judge: Promise<Judge> | undefined;
  const violations = async (form: string, request: Request): Promise<readonly Violation[]> => {
    judge ??= import('./workspace/judging/rulings.js').then((module) => module.judgeOf(workspace));
    const index = workspace.form(form);
    return (await judge).judge(index, request).violations;
  };
  const read = async (reader: string, report: unknown, options: ReadOptions): Promise<readonly Violation[]> => {
    const index = workspace.form(options.form);
    const about = background({ ...options, form: { id: options.form, index } });
    const { payload } = about;
    const judge = payload && (await violations(options.form, { [options.in ?? 'body']: payload.value }));
    return reported(readBy(workspace, reader, report, { ...about, ...(judge ? { judge: () => judge } : {}) }), about);
  };
  return Object.assign(rendering, { violations, read });
}

/**
 * Opens packs, one a language, made by `zeitwort pack`; no workspace is needed. Options may stand behind them.
 * @param from the packs' files, or what their modules export; where no language fits, an answer is in the original if it is among them, else in the first
 * @throws {Complaint} when a file is no pack
 */
export function openPack(...from: [string | Pack, ...(string | Pack | OpenOptions)[]]): Renderer {
  const isOptions = (one: string | Pack | OpenOptions): one is OpenOptions => typeof one === 'object' && 'onWarning' in one;
  const packs = from.flatMap((one) => (isOptions(one) ? [] : [typeof one === 'string' ? readPack(one) : checkPack(one)]));
  const warn = from.find(isOptions)?.onWarning;
  const speakers = new Map<Locale, Speaker>();
  for (const pack of packs) {
    const { locale, forms, texts, options: read } = unpack(pack);
    const options = { ...read, warn };
    const spoken = new Map<FormIndex, Sentences>();
    const sentences = (form: FormIndex): Sentences => {
      const known = spoken.get(form) ?? new Sentences(texts, form, options);
      spoken.set(form, known);
      return known;
    };
    speakers.set(locale, { forms, texts, options, sentences });
  }
  const languages = [...speakers.keys()];
  const named = languages.find((locale) => locale === packs[0]?.settings.original);
  const [first] = languages;
  const original = named ?? first;
  if (original === undefined) throw complaint('wrong-use', ['name a pack to open']);
  const speaker = (locale: Locale): Speaker => {
    const found = speakers.get(locale);
    if (!found) throw complaint('unknown-locale', [locale, languages.join(', ')]);
    return found;
  };
  // A pack holds texts and rules; how bodies are laid out is named by whoever renders.
  const style: Source['style'] = (name = 'problem') => {
    const shape = SHAPES.get(name);
    if (!shape) throw complaint('wrong-use', [`there is no shape "${name}"${suggestion(name, SHAPES.keys())}`]);
    return { shape, options: DEFAULT_SHAPE_OPTIONS };
  };
  return new Rendering({ languages, original, speaker, style });
}

export interface ForeignOptions {
  /** What the form declares (`renderer.form(id)`): parameters that the report leaves out are looked up there. */
  readonly form?: FormRules;
  /** What was validated: it tells what is missing from what has the wrong type, and gives messages the value. */
  readonly payload?: unknown;
  /** Which part of the request was validated; its body where absent. */
  readonly in?: FieldPlace;
  /** A path that stands before all paths of the report: `filter` where only that member was validated. */
  readonly prefix?: string;
  /** Told of entries that cannot be read as they stand; something true of them is told to the client all the same. */
  readonly onWarning?: Warn;
  /** Whether such an entry is an error instead. */
  readonly strict?: boolean;
}

/** What was validated, where it stands in the whole. */
const around = (value: unknown, prefix: Path): unknown =>
  prefix.reduceRight<unknown>((inner, segment) => {
    if (typeof segment === 'string') return { [segment]: inner };
    const list: unknown[] = [];
    list[segment] = inner;
    return list;
  }, value);

function background(options: ForeignOptions): Background {
  const { form, in: part, onWarning: warn, strict } = options;
  const prefix = options.prefix === undefined ? [] : parsePath(options.prefix);
  const payload = 'payload' in options ? { payload: { value: around(options.payload, prefix) } } : {};
  return { index: form?.index, in: part, prefix, warn, strict, ...payload };
}

type Reader = (value: unknown, background: Background) => Failure[];

const reportedBy = (read: Reader, value: unknown, about: Background): Violation[] => reported(read(value, about), about);

const readerOf =
  (read: Reader) =>
  (value: unknown, options: ForeignOptions = {}): Violation[] =>
    reportedBy(read, value, background(options));

/**
 * Makes a reader out of a declaration of how a validator's reports are laid out, as `readers` in zeitwort.yaml has it.
 * @throws {ForeignReportError} by the reader, when a report has no entries; with `strict`, when one cannot be read
 */
export const reportReader = (declared: ReaderDeclaration): ((report: unknown, options?: ForeignOptions) => Violation[]) =>
  readerOf((report, about) => fromDeclared(declared, report, about));

/**
 * Reads the issues of Zod 4 as violations.
 * @param error an error, its list of issues, or the result of a failed `safeParse`
 * @throws {ForeignReportError} when it holds no issues; with `strict`, when one cannot be read as it stands
 */
export const fromZod: (error: unknown, options?: ForeignOptions) => Violation[] = readerOf(fromZodIssues);

/**
 * Reads the output of a JSON Schema validator (formats `basic`, `detailed`, `list`, `hierarchical`) as violations.
 * @throws {ForeignReportError} when it is none of these
 */
export const fromJsonSchemaOutput: (output: unknown, options?: ForeignOptions) => Violation[] = readerOf(fromSchemaOutput);

/**
 * Reads the errors that JSON Schema validators hand on natively (`instancePath`, `keyword`, `params`) as violations.
 * @param errors the list, or what a web framework throws that holds it
 * @throws {ForeignReportError} when there is no such list; with `strict`, when an error cannot be read as it stands
 */
export const fromSchemaErrors: (errors: unknown, options?: ForeignOptions) => Violation[] = readerOf(fromNativeErrors);
