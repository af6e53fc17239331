import type { Pack } from '../core/pack/pack.js';
import type { Violation } from '../core/violation/violation.js';
import type { Request } from '../core/rules/evaluate.js';
import type { Locale } from '../core/locale/tag.js';
import { Evaluators } from '../workspace/evaluation.js';
import { makePack, packText } from '../workspace/packs.js';
import { RequestForms } from '../workspace/request-forms.js';
import { workspaceRenderer, type Rendering } from '../workspace/renderer.js';
import { Workspace } from '../workspace/workspace.js';

/** One reading of a workspace with all that answers are made with. It never changes: a reload makes another. */
export class Reading {
  readonly renderer: Rendering;
  readonly routes: RequestForms;
  private readonly evaluators: Evaluators;
  private document: object | undefined;
  private readonly packs = new Map<Locale, { readonly pack: Pack; readonly text: string }>();

  constructor(readonly workspace: Workspace) {
    this.renderer = workspaceRenderer(workspace);
    this.routes = new RequestForms(workspace.forms);
    this.evaluators = new Evaluators(workspace);
  }

  /** Looks at the rules' regular expressions beforehand, so that harmless ones need no watch. */
  async prepare(): Promise<this> {
    const regexes = [...this.workspace.forms.values()].flatMap(({ form }) =>
      form.fields.flatMap(({ uses }) => uses.flatMap(({ params }) => (typeof params.regex === 'string' ? [params.regex] : []))),
    );
    await this.evaluators.guard.prepare(regexes);
    return this;
  }

  violations(form: string, request: Request): readonly Violation[] {
    return this.evaluators.of(this.workspace.form(form))(request);
  }

  /** The service's OpenAPI document, made when it is first asked for. */
  async openApi(version: string): Promise<object> {
    const { serviceOpenApi } = await import('./openapi.js');
    return (this.document ??= serviceOpenApi(this.workspace, version));
  }

  pack(locale: Locale): { readonly pack: Pack; readonly text: string } {
    let made = this.packs.get(locale);
    if (!made) {
      const pack = makePack(this.workspace, locale);
      this.packs.set(locale, (made = { pack, text: packText(pack) }));
    }
    return made;
  }
}

/** The workspace that is served, and how it came to be the one. */
export class ServedWorkspace {
  /** What the last reload complained of, where an older reading is kept. */
  trouble: string | undefined;

  private constructor(
    private readonly folder: string,
    private reading: Reading,
  ) {}

  /** @throws {Complaint} when the workspace cannot be read */
  static async open(folder: string, shownFrom: string): Promise<ServedWorkspace> {
    const reading = await new Reading(Workspace.open(folder, shownFrom)).prepare();
    return new ServedWorkspace(reading.workspace.folder, reading);
  }

  get current(): Reading {
    return this.reading;
  }

  /** Reads the workspace anew; where that fails the last good reading is kept, and the reason returned. */
  async reload(): Promise<string | undefined> {
    try {
      this.reading = await new Reading(Workspace.open(this.folder)).prepare();
      this.trouble = undefined;
    } catch (error) {
      this.trouble = error instanceof Error ? error.message : String(error);
    }
    return this.trouble;
  }
}
