import type { Pack } from './core/pack/pack.js';
import type { Request } from './core/rules/evaluate.js';
import type { Violation } from './core/rules/violation.js';
import { listed } from './exchange/keywords/failure.js';
import type { Judge } from './workspace/judging/judge.js';
import { checkPack, readPack } from './workspace/answering/packs.js';
import { PackRendering, type OpenOptions, type PackRenderer } from './render/packs.js';
import type { Renderer } from './render/rendering.js';
import { background, type ForeignOptions } from './render/reading.js';
import { workspaceRenderer } from './workspace/answering/renderer.js';
import { readBy } from './workspace/answering/violations.js';
import { Workspace } from './workspace/reading/workspace.js';

export { errorListReader } from './runtime/reader.js';
export { fromSchemaErrors } from './runtime/schema-errors.js';
export { fromJsonSchemaOutput } from './runtime/schema-output.js';
export { fromZod } from './runtime/zod.js';
export type { OpenOptions, PackRenderer } from './render/packs.js';
export type { ForeignOptions } from './render/reading.js';
export type {
  FormRules,
  ProblemOptions,
  Rendered,
  Renderer,
  RenderOptions,
  BodyWishes,
  BrokenRules,
} from './render/rendering.js';

/** A workspace can also run payloads. */
export interface WorkspaceRenderer extends Renderer {
  /**
   * Validates a request against the rules of a form, and returns the violations in the order of the
   * document; of many thousand violations the first thousand.
   * @throws {Complaint} when there is no form of that id, or a rule cannot run (a table is gone)
   * @throws {OutOfTime} when validation takes longer than a second
   */
  violations(form: string, request: Request): Promise<readonly Violation[]>;
  /**
   * Reads what another validator reports.
   * @param reader a reader of the workspace, or one that needs no declaration: `zod`,
   * `schema-errors`, `schema-output`
   * @throws {Complaint} when there is no such reader or form
   * @throws {ErrorListError} when the report cannot be read at all; with `strict`, when one
   * entry cannot be
   */
  read(reader: string, report: unknown, options: ReadOptions): Promise<readonly Violation[]>;
}

export interface ReadOptions extends Omit<ForeignOptions, 'form'> {
  /** The id of the form that was validated. */
  readonly form: string;
}

/**
 * Opens the workspace at or above a folder.
 * @throws {Complaint} when there is none, or a file of it cannot be read
 */
export function openWorkspace(folder: string, options: OpenOptions = {}): WorkspaceRenderer {
  const workspace = Workspace.open(folder);
  // Whoever renders answers has no use for a complaint about a catalog.
  workspace.readAll();
  const rendering = workspaceRenderer(workspace, options);
  let judge: Promise<Judge> | undefined;
  const violations = async (form: string, request: Request): Promise<readonly Violation[]> => {
    judge ??= import('./workspace/judging/rulings.js').then((module) => module.judgeOf(workspace));
    const index = workspace.form(form);
    return (await judge).judge(index, request).violations;
  };
  const read = async (
    reader: string,
    report: unknown,
    options: ReadOptions,
  ): Promise<readonly Violation[]> => {
    const index = workspace.form(options.form);
    const about = background({ ...options, form: { id: options.form, index } });
    const { payload } = about;
    // Only readers of the workspace's own ask for what the form's rules find.
    const isOwn = Object.hasOwn(workspace.config.readers, reader);
    const judge =
      isOwn &&
      payload &&
      (await violations(options.form, { [options.in ?? 'body']: payload.value }));
    return listed(
      readBy(workspace.config.readers, reader, report, {
        ...about,
        ...(judge ? { judge: () => judge } : {}),
      }),
      about,
    );
  };
  return Object.assign(rendering, { violations, read });
}

/** The members that distinguish options from something that is not a pack. */
const OPTIONS = ['onWarning', 'shape', 'inline', 'perField', 'audience'] as const;

/**
 * Opens packs, one a language, made by `zeitwort pack`; no workspace is needed. Options may stand
 * behind them.
 * @param from the packs' files, or what their modules export; where no language fits, an answer is
 * in the original if it is among them, else in the first
 * @throws {Complaint} when a file is not a pack
 */
export function openPack(
  ...from: [string | Pack, ...(string | Pack | OpenOptions)[]]
): PackRenderer {
  const isOptions = (one: string | Pack | OpenOptions): one is OpenOptions =>
    typeof one === 'object' && !('pack' in one) && OPTIONS.some((name) => name in one);
  return new PackRendering(
    from.filter((one) => !isOptions(one)),
    from.find(isOptions) ?? {},
    (one) => (typeof one === 'string' ? readPack(one) : checkPack(one)),
  );
}
