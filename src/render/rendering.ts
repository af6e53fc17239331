import {
  answerProblem,
  answerViolations,
  contentLanguage,
  type Answer,
  type AnswerOptions,
  type Occasion,
} from '../core/body/answer.js';
import type { LocationOf } from '../core/body/developer.js';
import { memberTrouble } from '../core/body/problems.js';
import type { Shape, ShapeOptions } from '../core/body/shapes/shape.js';
import { SHAPES } from '../core/body/shapes/shapes.js';
import { Complaint } from '../core/complaint.js';
import type { Offer } from '../core/locale/chain.js';
import type { Locale } from '../core/locale/tag.js';
import { FormIndex } from '../core/rules/form-index.js';
import { suggestion } from '../core/text/closest.js';
import type { TextLookup } from '../core/texts/lookup.js';
import type { Sentences } from '../core/violation/sentence.js';
import type { Violation } from '../core/rules/violation.js';
import type { FormId, ProblemId, ProblemParams } from '../typed.js';
import { localeForHeader } from './accept-language.js';
import { SpokenLocales } from './spoken.js';

/** The rules that a request broke, as a backend reports them. */
export interface BrokenRules {
  /**
   * The form's id; absent where the request has none, and then names of fields stand for labels.
   */
  readonly form?: FormId | undefined;
  /** A URI reference for this occurrence (RFC 9457 section 3.1.5). */
  readonly instance?: string;
  readonly violations: readonly Violation[];
  /** How many more there are than those given; as many as a reader left out where absent. */
  readonly more?: number;
}

/** The body's settings, where they differ from the workspace's or the packs'. */
export interface BodyWishes {
  /** The layout of the body. */
  readonly shape?: string;
  /** Whether texts beside the inputs are included. */
  readonly inline?: boolean;
  /** Whether the body has all violations of a field, or the first only. */
  readonly perField?: 'all' | 'first';
  /**
   * Answers for developers have rules, parameters, values and keys of messages too; never in
   * production.
   */
  readonly audience?: 'client' | 'developer';
}

export interface RenderOptions extends BodyWishes {
  /** The language of the answer, a BCP 47 tag; it wins over `acceptLanguage`. */
  readonly locale?: string;
  /**
   * The value of the request's `Accept-Language`; the workspace's original holds where nothing of
   * it is spoken.
   */
  readonly acceptLanguage?: string | undefined;
  /** The id of the request, for shapes that have a place for it. */
  readonly requestId?: string;
  /**
   * The trace that the request belongs to (W3C Trace Context), for shapes that have a place for it.
   */
  readonly traceId?: string;
  /** The path that was asked for, for shapes that have a place for it. */
  readonly address?: string;
  /** When it happened, by RFC 3339; now where absent. */
  readonly time?: string;
}

export interface ProblemOptions<P extends ProblemId = ProblemId> extends RenderOptions {
  /** The parameters of the problem's texts. */
  readonly params?: ProblemParams<P>;
  readonly instance?: string;
  /** The status of the answer, where it is not the one that the workspace has for the problem. */
  readonly status?: number;
  /** The form whose texts are asked first, where the request was for one. */
  readonly form?: FormId;
  /** Further members of the body (extension members, RFC 9457 section 3.2). */
  readonly members?: Readonly<Record<string, unknown>>;
}

/** An answer ready to be sent. */
export interface Rendered {
  readonly status: number;
  readonly headers: Readonly<Record<string, string>>;
  /** The body's text, in UTF-8. */
  readonly body: string;
}

/** The rules of a form, for readers of other validators' reports. */
export interface FormRules {
  readonly id: string;
  readonly index: FormIndex;
}

/** A workspace or packs opened for a backend: read once, they render as often as needed. */
export interface Renderer {
  /** The languages spoken, the original first or in the order of the packs. */
  readonly locales: readonly string[];
  /** The ids of the forms. */
  readonly forms: readonly string[];
  /**
   * Turns violations into an error answer.
   * @throws {Complaint} when there is no such form, the locale is not spoken, or no violation is
   * given
   * @throws {PathSyntaxError} when a violation's path is none
   */
  render(report: BrokenRules, options?: RenderOptions): Rendered;
  /**
   * Turns a problem of the whole request into an error answer.
   * @param problem such as `not-found`
   * @throws {Complaint} when there is no such problem, or the locale is not spoken
   */
  renderProblem<P extends ProblemId>(problem: P, options?: ProblemOptions<P>): Rendered;
  /**
   * Returns the rules of a form; no rules for requests without a form.
   * @throws {Complaint} when there is none of that id
   */
  form(id: FormId | undefined): FormRules;
}

/** The texts and options of one locale. */
export interface Speaker {
  readonly forms: { get(id: string): FormIndex | undefined; keys(): Iterable<string> };
  readonly texts: TextLookup;
  readonly options: AnswerOptions;
  readonly sentences: (form: FormIndex) => Sentences;
}

/** The sources of a renderer. */
export interface Speaking extends Offer {
  readonly speaker: (locale: Locale) => Speaker;
  /** The settings of bodies that calls can override. */
  readonly wishes?: BodyWishes;
  /** Whether answers for developers are refused. */
  readonly production: boolean;
  /** Finds the sources of texts for developers. */
  readonly locate: LocationOf;
  readonly style: (name: string | undefined) => {
    readonly shape: Shape;
    readonly options: ShapeOptions;
  };
  /** Called with every answer. */
  readonly made?: ((answer: Answer, form: string) => void) | undefined;
}

/** @throws {Complaint} for names of members that the body has itself, or that it cannot hold */
export function checkMembers(
  members: Readonly<Record<string, unknown>> | undefined,
  shape: Shape,
): void {
  for (const name of Object.keys(members ?? {})) {
    const trouble = memberTrouble(name, shape.name);
    if (trouble !== undefined) throw new Complaint('wrong-use', trouble);
  }
}

const FOR_CLIENTS = 'production has no answers for developers; leave "audience" out';

const NOTHING_BROKEN = 'no violation is given';

/** How many violations a reader left out of a list that it made. */
const leftOut = ({
  more,
}: BrokenRules['violations'] & { readonly more?: number }): number | undefined => more;

/** The complaint about a form that there is none of. */
function unknownForm(id: string, known: Iterable<string>): Complaint {
  const names = [...known];
  const all = names.join(', ') || 'none yet';
  return new Complaint(
    'unknown-form',
    `there is no form "${id}"${suggestion(id, names)}; the forms are ${all}`,
  );
}

/** Stands in where a request has no form. */
const NO_FORM = new FormIndex({
  id: '',
  partial: false,
  fields: [],
  origin: { file: '', keys: [] },
});

/** Renders answers out of a workspace or packs. */
export class Rendering implements Renderer {
  private source!: Speaking;
  private spoken!: SpokenLocales;

  constructor(source: Speaking) {
    this.speakFrom(source);
  }

  /** Answers with something else from now on. */
  protected speakFrom(source: Speaking): void {
    this.source = source;
    this.spoken = new SpokenLocales(source);
  }

  get locales(): readonly Locale[] {
    return this.source.locales;
  }

  get forms(): readonly string[] {
    return [...this.source.speaker(this.source.original).forms.keys()];
  }

  form(id: string | undefined): FormRules {
    const index = this.formIn(this.source.speaker(this.source.original), id);
    return { id: index.form.id, index };
  }

  private formIn({ forms }: Speaker, id: string | undefined): FormIndex {
    if (id === undefined) return NO_FORM;
    const form = forms.get(id);
    if (form) return form;
    throw unknownForm(id, forms.keys());
  }

  private localeFor({ locale, acceptLanguage }: RenderOptions): Locale {
    return locale === undefined
      ? localeForHeader(acceptLanguage, this.source)
      : this.spoken.find(locale);
  }

  /** How the body of one call is made. */
  private optionsOf({ options }: Speaker, wanted: BodyWishes): AnswerOptions {
    const { wishes, production, locate } = this.source;
    const {
      inline = options.inline,
      perField = options.perField,
      audience,
    } = { ...wishes, ...wanted };
    if (audience === 'developer' && production) throw new Complaint('wrong-use', FOR_CLIENTS);
    if (!audience && inline === options.inline && perField === options.perField) return options;
    const developer = audience === 'developer' ? locate : undefined;
    return { ...options, inline, perField, ...(audience && { developer }) };
  }

  private send(answer: Answer, { locale, shape: named }: RenderOptions, form: string): Rendered {
    this.source.made?.(answer, form);
    const { shape, options } = this.source.style(named);
    return {
      status: answer.status,
      headers: {
        'content-type': shape.mediaType,
        'content-language': contentLanguage(answer),
        ...(answer.retryAfter === undefined ? {} : { 'retry-after': String(answer.retryAfter) }),
        ...(locale === undefined ? { vary: 'accept-language' } : {}),
      },
      body: shape.write(answer, options),
    };
  }

  private occasion(
    { requestId, traceId, address, time, shape }: RenderOptions,
    instance: string | undefined,
  ): Occasion {
    // Only shapes of the user's own have a place for the time, and the clock costs more than all
    // else here.
    const own = !SHAPES.has(this.source.style(shape).shape.name);
    return {
      instance,
      requestId,
      traceId,
      address,
      ...(time === undefined && !own ? {} : { time: time ?? new Date().toISOString() }),
    };
  }

  render(
    { form: id, instance, violations, more = leftOut(violations) }: BrokenRules,
    options: RenderOptions = {},
  ): Rendered {
    if (violations.length === 0 && !more) throw new Complaint('wrong-use', NOTHING_BROKEN);
    const locale = this.localeFor(options);
    const speaker = this.source.speaker(locale);
    const sentences = speaker.sentences(this.formIn(speaker, id));
    const occasion = this.occasion(options, instance);
    const how = this.optionsOf(speaker, options);
    const answer = answerViolations(
      violations,
      locale,
      sentences,
      speaker.texts,
      how,
      occasion,
      more,
    );
    return this.send(answer, options, id ?? '');
  }

  renderProblem(problem: string, options: ProblemOptions = {}): Rendered {
    const locale = this.localeFor(options);
    const { texts, options: how } = this.source.speaker(locale);
    if (!how.statuses.has(problem))
      throw new Complaint(
        'wrong-use',
        `there is no problem "${problem}"${suggestion(problem, how.statuses.keys())}; declare it under "problems" in zeitwort.yaml`,
      );
    const { params = {}, form = '', instance, members, status } = options;
    if (status !== undefined && !(Number.isInteger(status) && status >= 400 && status < 600))
      throw new Complaint('wrong-use', 'the status of an error is a whole number from 400 to 599');
    checkMembers(members, this.source.style(options.shape).shape);
    const occasion = { ...this.occasion(options, instance), members, status };
    return this.send(
      answerProblem(problem, params, locale, form, texts, how, occasion),
      options,
      form,
    );
  }
}
