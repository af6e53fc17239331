import type { Pack } from '../core/pack/pack.js';
import type { Locale } from '../core/locale/tag.js';
import type { Warn } from '../core/violation/warning.js';
import { complaint } from '../workspace/disk/complaint.js';
import { CONFIG_FILE } from '../workspace/disk/find.js';
import { makePack, packText } from '../workspace/answering/packs.js';
import { RequestForms } from '../workspace/reading/request-forms.js';
import type { Site } from '../report/site/site.js';
import type { Rendering } from '../render/rendering.js';
import { workspaceRenderer } from '../workspace/answering/renderer.js';
import { tableProblems } from '../workspace/judging/trial.js';
import { Tables } from '../workspace/reading/tables.js';
import { Workspace } from '../workspace/reading/workspace.js';
import type { Brief } from './judging/job.js';
import { Judges } from './judging/judges.js';
import { Metrics } from './metrics.js';

/** How requests are judged. */
export interface Judging {
  /** Milliseconds for one request. */
  readonly budget: number;
  /** Requests at a time. */
  readonly atOnce: number;
  /** Called with what cannot be run, where that is found after the service is ready. */
  readonly onFailed?: (failure: string) => void;
}

/** The workspace as the workers need it. All that schemas refer to is read first. */
function briefOf(workspace: Workspace, { budget }: Judging, hurried: Brief['hurried']): Brief {
  workspace.book.loadReferred();
  const { config, sources } = workspace;
  const read = [...sources].filter(
    ([file]) =>
      file !== CONFIG_FILE && !workspace.catalogFiles.files.some((one) => one.file === file),
  );
  return {
    rules: workspace.files(config.rules),
    texts: [...read, ...Tables.of(workspace).texts()],
    tables: config.tables,
    readers: config.readers,
    zone: config.zone,
    blank: config.blank === 'missing',
    budget,
    hurried,
  };
}

/**
 * One reading of a workspace with all that answers are made with. It never changes: a reload makes
 * another.
 */
export class Reading {
  readonly renderer: Pick<Rendering, 'render' | 'renderProblem'>;
  readonly routes: RequestForms;
  private document: object | undefined;
  /** The pages that problem types lead to, once somebody asked for one. */
  site: Site | undefined;
  /** With the bytes of their texts, which all answers share. */
  private readonly packs = new Map<Locale, { readonly pack: Pack; readonly bytes: Buffer }>();

  private constructor(
    readonly workspace: Workspace,
    readonly judges: Judges,
    metrics: Metrics,
    warn: Warn | undefined,
  ) {
    const renderer = workspaceRenderer(workspace, { onWarning: warn }, (answer, form) => {
      metrics.answer(answer, form, workspace.forms.get(form));
    });
    this.renderer = {
      render: (report, options) => metrics.timed(() => renderer.render(report, options)),
      renderProblem: (problem, options) =>
        metrics.timed(() => renderer.renderProblem(problem, options)),
    };
    this.routes = new RequestForms(workspace.forms);
  }

  /**
   * Makes a reading of a workspace, with everything tried that it will run.
   * @throws {Complaint} with what cannot be run
   */
  static async of(
    workspace: Workspace,
    judging: Judging,
    metrics: Metrics,
    warn?: Warn,
    hurried: Brief['hurried'] = [],
  ): Promise<Reading> {
    const brief = briefOf(workspace, judging, hurried);
    // The first worker makes itself ready while texts are read here.
    const starting = Judges.start(brief, judging.atOnce, judging.onFailed);
    try {
      workspace.readAll();
      const table = tableProblems(workspace).find(({ kind }) => kind === 'wrong-structure');
      if (table)
        throw complaint(
          'wrong-content',
          [table.message],
          table.spot && workspace.place(table.spot),
        );
    } catch (error) {
      void starting.then((judges) => {
        if (judges instanceof Judges) judges.close();
      });
      throw error;
    }
    const judges = await starting;
    if (judges instanceof Judges) {
      const reading = new Reading(workspace, judges, metrics, warn);
      judges.goOn();
      return reading;
    }
    throw complaint('wrong-content', [judges.failures[0] ?? 'requests cannot be validated']);
  }

  /** The first text that cannot be formatted, with its place; such a one counts as absent. */
  brokenText(): string | undefined {
    for (const { texts } of this.workspace.table.catalogs)
      for (const entry of texts)
        if (entry.error) {
          const location = this.workspace.place({
            ...entry.origin,
            at: 'value',
            offset: entry.error.offset,
          });
          return complaint(
            'wrong-content',
            [`${entry.error.problem}: ${entry.error.remedy}`],
            location,
          ).message;
        }
    return undefined;
  }

  /** Ends what runs for it, once what is under way is answered. */
  close(): void {
    this.judges.close();
  }

  /** The service's OpenAPI document, made when it is first asked for. */
  async openApi(version: string): Promise<object> {
    const { serviceOpenApi } = await import('./openapi.js');
    return (this.document ??= serviceOpenApi(this.workspace, version));
  }

  pack(locale: Locale): { readonly pack: Pack; readonly bytes: Buffer } {
    let made = this.packs.get(locale);
    if (!made) {
      const pack = makePack(this.workspace, locale);
      this.packs.set(locale, (made = { pack, bytes: Buffer.from(packText(pack)) }));
    }
    return made;
  }
}

/** The workspace that is served, and how it came to be the one. */
export class ServedWorkspace {
  /** The error of the last reload, while an older reading is kept. */
  trouble: string | undefined;

  private constructor(
    private readonly folder: string,
    private reading: Reading,
    private readonly judging: Judging,
    /** Counters since the start; a reload keeps them. */
    readonly metrics: Metrics,
    private readonly warn: Warn | undefined,
  ) {}

  /**
   * @param warn called with texts that could not be said
   * @throws {Complaint} when the workspace cannot be read
   */
  static async open(
    folder: string,
    shownFrom: string,
    judging: Judging,
    warn?: Warn,
  ): Promise<ServedWorkspace> {
    const metrics = new Metrics();
    const reading = await Reading.of(Workspace.open(folder, shownFrom), judging, metrics, warn);
    return new ServedWorkspace(reading.workspace.folder, reading, judging, metrics, warn);
  }

  get current(): Reading {
    return this.reading;
  }

  /**
   * Reads the workspace anew; where that fails the last good reading is kept, and the reason
   * returned.
   */
  async reload(): Promise<string | undefined> {
    try {
      const before = this.reading;
      const next = await Reading.of(
        Workspace.open(this.folder),
        this.judging,
        this.metrics,
        this.warn,
        before.judges.hurried,
      );
      const broken = next.brokenText();
      // A text that was whole before speaks on until it is mended; one that was broken all along
      // must not hold up the rest.
      if (broken !== undefined && before.brokenText() === undefined) {
        next.close();
        return (this.trouble = broken);
      }
      this.reading = next;
      before.close();
      this.trouble = undefined;
    } catch (error) {
      this.trouble = error instanceof Error ? error.message : String(error);
    }
    return this.trouble;
  }

  /** Ends what runs for the reading at hand. */
  close(): void {
    this.reading.close();
  }
}
