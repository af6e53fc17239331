import Negotiator from 'negotiator';
import { answerProblem, answerViolations, type Answer, type AnswerOptions, type Occasion } from './core/body/answer.js';
import { DEFAULT_SHAPE_OPTIONS, type Shape, type ShapeOptions } from './core/body/shapes/shape.js';
import { SHAPES } from './core/body/shapes/shapes.js';
import type { Texts } from './core/catalog/texts.js';
import { acceptedLocale } from './core/locale/accept.js';
import type { Locale } from './core/locale/tag.js';
import { unpack } from './core/pack/unpack.js';
import type { Request } from './core/rules/evaluate.js';
import type { FormIndex } from './core/rules/form-index.js';
import { suggestion } from './core/text/closest.js';
import { Sentences } from './core/violation/sentence.js';
import type { Violation } from './core/violation/violation.js';
import { violationsOf } from './exchange/violations/failure.js';
import { fromSchemaOutput } from './exchange/violations/schema-output.js';
import { fromZodIssues } from './exchange/violations/zod.js';
import { complaint } from './workspace/complaint.js';
import { readPack } from './workspace/packs.js';
import type { Evaluators } from './workspace/evaluation.js';
import { SpokenLocales } from './workspace/spoken.js';
import { Workspace, type BodyStyle } from './workspace/workspace.js';

/** What a request broke, as a backend tells it. */
export interface Report {
  /** The form's id. */
  readonly form: string;
  /** A URI reference for this occurrence (RFC 9457 section 3.1.5). */
  readonly instance?: string;
  readonly violations: readonly Violation[];
}

export interface RenderOptions {
  /** The language of the answer, a BCP 47 tag; it wins over `acceptLanguage`. */
  readonly locale?: string;
  /** The value of the request's `Accept-Language`; the workspace's original holds where nothing of it is spoken. */
  readonly acceptLanguage?: string | undefined;
  /** The layout of the body; the workspace's where absent. */
  readonly shape?: string;
  /** The id of the request, for shapes that have a place for it. */
  readonly requestId?: string;
  /** When it happened, by RFC 3339; now where absent. */
  readonly time?: string;
}

export interface ProblemOptions extends RenderOptions {
  /** What the texts of the problem say besides words. */
  readonly params?: Readonly<Record<string, unknown>>;
  readonly instance?: string;
  /** The form whose texts are asked first, where the request was for one. */
  readonly form?: string;
  /** What else the body tells (extension members, RFC 9457 section 3.2). */
  readonly members?: Readonly<Record<string, unknown>>;
}

/** An answer ready to be sent. */
export interface Rendered {
  readonly status: number;
  readonly headers: Readonly<Record<string, string>>;
  /** The body's text, in UTF-8. */
  readonly body: string;
}

/** What a form declares; for the readers of other validators' reports. */
export interface FormRules {
  readonly id: string;
  readonly index: FormIndex;
}

/** A workspace or packs opened for a backend: read once, they render as often as needed. */
export interface Renderer {
  /** The languages spoken, the original first or in the order of the packs. */
  readonly languages: readonly string[];
  /** The ids of the forms. */
  readonly forms: readonly string[];
  /**
   * Turns violations into an error answer.
   * @throws {Complaint} when there is no such form, or the locale is not spoken
   * @throws {PathSyntaxError} when a violation's path is none
   */
  render(report: Report, options?: RenderOptions): Rendered;
  /**
   * Turns a problem of the whole request into an error answer.
   * @param problem such as `not-found`
   * @throws {Complaint} when there is no such problem, or the locale is not spoken
   */
  renderProblem(problem: string, options?: ProblemOptions): Rendered;
  /**
   * What a form declares.
   * @throws {Complaint} when there is none of that id
   */
  form(id: string): FormRules;
}

/** A workspace can also run payloads. */
export interface WorkspaceRenderer extends Renderer {
  /**
   * Holds a request against the rules of a form, and says what it broke, in the order of the document.
   * @throws {Complaint} when there is none of that id
   */
  violations(form: string, request: Request): Promise<readonly Violation[]>;
}

/** What speaks one locale. */
interface Speaker {
  readonly forms: { get(id: string): FormIndex | undefined; keys(): Iterable<string> };
  readonly texts: Texts;
  readonly options: AnswerOptions;
  readonly sentences: (form: FormIndex) => Sentences;
}

interface Source {
  readonly languages: readonly Locale[];
  readonly original: Locale;
  readonly speaker: (locale: Locale) => Speaker;
  readonly style: (name: string | undefined) => { readonly shape: Shape; readonly options: ShapeOptions };
}

function acceptHeader(header: string): { ranges: string[]; refused: string[] } {
  const refused = header.split(',').flatMap((part) => /^\s*([\w*-]+)\s*;\s*q=0(?:\.0{0,3})?\s*$/i.exec(part)?.[1] ?? []);
  return { ranges: new Negotiator({ headers: { 'accept-language': header } }).languages(), refused };
}

class Rendering implements Renderer {
  private readonly spoken: SpokenLocales;

  constructor(private readonly source: Source) {
    this.spoken = new SpokenLocales(source.languages);
  }

  get languages(): readonly Locale[] {
    return this.source.languages;
  }

  get forms(): readonly string[] {
    return [...this.source.speaker(this.source.original).forms.keys()];
  }

  form(id: string): FormRules {
    return { id, index: this.formIn(this.source.speaker(this.source.original), id) };
  }

  private formIn({ forms }: Speaker, id: string): FormIndex {
    const form = forms.get(id);
    if (form) return form;
    throw complaint('unknown-form', [id, suggestion(id, forms.keys()), [...forms.keys()].join(', ')]);
  }

  private localeFor({ locale, acceptLanguage }: RenderOptions): Locale {
    const { languages, original } = this.source;
    if (locale !== undefined) return this.spoken.find(locale);
    if (acceptLanguage === undefined || acceptLanguage === '') return original;
    const { ranges, refused } = acceptHeader(acceptLanguage);
    return acceptedLocale(ranges, refused, languages, original);
  }

  private send(answer: Answer, { locale, shape: named }: RenderOptions): Rendered {
    const { shape, options } = this.source.style(named);
    return {
      status: answer.status,
      headers: {
        'content-type': shape.mediaType,
        'content-language': answer.locale,
        ...(locale === undefined ? { vary: 'accept-language' } : {}),
      },
      body: shape.write(answer, options),
    };
  }

  private occasion({ requestId, time, shape }: RenderOptions, instance: string | undefined): Occasion {
    // Only shapes of the user's own have a place for the time, and the clock costs more than all else here.
    const own = !SHAPES.has(this.source.style(shape).shape.name);
    return { instance, requestId, ...(time === undefined && !own ? {} : { time: time ?? new Date().toISOString() }) };
  }

  render({ form: id, instance, violations }: Report, options: RenderOptions = {}): Rendered {
    const locale = this.localeFor(options);
    const speaker = this.source.speaker(locale);
    const sentences = speaker.sentences(this.formIn(speaker, id));
    const occasion = this.occasion(options, instance);
    return this.send(answerViolations(violations, locale, sentences, speaker.texts, speaker.options, occasion), options);
  }

  renderProblem(problem: string, options: ProblemOptions = {}): Rendered {
    const locale = this.localeFor(options);
    const { texts, options: how } = this.source.speaker(locale);
    if (!how.statuses.has(problem))
      throw complaint('wrong-use', [
        `there is no problem "${problem}"${suggestion(problem, how.statuses.keys())}; declare it under "problems" in zeitwort.yaml`,
      ]);
    const { params = {}, form = '', instance, members } = options;
    const occasion = { ...this.occasion(options, instance), members };
    return this.send(answerProblem(problem, params, locale, form, texts, how, occasion), options);
  }
}

/**
 * Opens the workspace at or above a folder.
 * @throws {Complaint} when there is none, or a file of it cannot be read
 */
export function openWorkspace(folder: string): WorkspaceRenderer {
  const workspace = Workspace.open(folder);
  const { forms, texts, answerOptions: options, config } = workspace;
  const speaker: Speaker = { forms, texts, options, sentences: (form) => workspace.sentences(form) };
  const style = (name: string | undefined): BodyStyle => workspace.style(name);
  const rendering = new Rendering({ languages: config.languages, original: config.original, speaker: () => speaker, style });
  let evaluators: Promise<Evaluators> | undefined;
  const violations = async (form: string, request: Request): Promise<readonly Violation[]> => {
    evaluators ??= import('./workspace/evaluation.js').then((module) => new module.Evaluators(workspace));
    const index = workspace.form(form);
    return (await evaluators).of(index)(request);
  };
  return Object.assign(rendering, { violations });
}

/**
 * Opens packs, one a language, made by `zeitwort pack`; no workspace is needed.
 * @param files the packs' files; where no language fits, an answer is in the original if it is among them, else in the first
 * @throws {Complaint} when a file is no pack
 */
export function openPack(...files: [string, ...string[]]): Renderer {
  const packs = files.map((file) => readPack(file));
  const speakers = new Map<Locale, Speaker>();
  for (const pack of packs) {
    const { locale, forms, texts, options } = unpack(pack);
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
}

const background = (options: ForeignOptions): Parameters<typeof fromZodIssues>[1] => ({
  index: options.form?.index,
  ...('payload' in options ? { payload: { value: options.payload } } : {}),
});

/**
 * Reads the issues of Zod 4 as violations.
 * @param error an error, its list of issues, or the result of a failed `safeParse`
 * @throws {ForeignReportError} when it holds no issues, or a custom one names no rule
 */
export function fromZod(error: unknown, options: ForeignOptions = {}): Violation[] {
  return violationsOf(fromZodIssues(error, background(options)));
}

/**
 * Reads the output of a JSON Schema validator (formats `basic`, `detailed`, `list`, `hierarchical`) as violations.
 * @throws {ForeignReportError} when it is none of these
 */
export function fromJsonSchemaOutput(output: unknown, options: ForeignOptions = {}): Violation[] {
  return violationsOf(fromSchemaOutput(output, background(options)));
}
