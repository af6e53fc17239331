import path from 'node:path';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { DERIVED_MARK, derivedText, formIdOf } from '../../exchange/schema/derived.js';
import { complaint } from '../disk/complaint.js';
import type { WorkspaceFolder } from '../reading/folder.js';
import { moduleTrouble, noticePrinted, runModule, type ModuleRun } from './derive.js';

/** A schema file as it should be. */
export interface DerivedFile {
  readonly form: string;
  /** By its name in the workspace. */
  readonly file: string;
  readonly text: string;
  readonly module: string;
  readonly export: string;
}

/** The forms that the modules of a workspace make. */
export interface DerivingPlan {
  readonly files: readonly DerivedFile[];
  /** Files that an earlier run wrote and no export makes any more. */
  readonly left: readonly string[];
  /** Further notices. */
  readonly notices: readonly string[];
}

/** Where schema files go, where nobody says otherwise. */
export const DERIVED_FOLDER = 'rules/code';

/** The longest time for a module to list its exports, in milliseconds. */
export const MODULE_MS = 10_000;

/** So many modules run at once. */
const AT_ONCE = 4;

async function runAll(files: readonly string[], ms: number): Promise<ModuleRun[]> {
  const runs: ModuleRun[] = [];
  let next = 0;
  const lane = async (): Promise<void> => {
    for (let at = next++; at < files.length; at = next++)
      runs[at] = await runModule(files[at] ?? '', ms);
  };
  await Promise.all(Array.from({ length: Math.min(AT_ONCE, files.length) }, lane));
  return runs;
}

/** A name for a file out of an id, which may be anything. */
const fileName = (form: string): string =>
  `${form.replace(/[^\p{L}\p{N}._-]+/gu, '-').replace(/^[.-]+/, '') || 'form'}.schema.json`;

/** Files of an earlier run in a folder. */
function writtenBefore(folder: WorkspaceFolder, out: string): string[] {
  const whole = path.join(folder.folder, out);
  if (!existsSync(whole)) return [];
  return readdirSync(whole, { withFileTypes: true })
    .filter((entry) => entry.isFile() && entry.name.endsWith('.schema.json'))
    .map(({ name }) => `${out}/${name}`)
    .filter((file) =>
      readFileSync(path.join(folder.folder, file), 'utf8')
        .slice(0, 1000)
        .includes(JSON.stringify(DERIVED_MARK).slice(1, -1)),
    );
}

/**
 * Runs the modules that a workspace names and returns the schema files that they make.
 * @param out the folder for them, by its name in the workspace
 * @param ms the time limit of each module
 * @throws {Complaint} when a module cannot be used, or two exports make one form
 */
export async function planDeriving(
  folder: WorkspaceFolder,
  out: string,
  ms: number,
): Promise<DerivingPlan> {
  const modules = folder.files(folder.config.rulesFromCode);
  if (modules.length === 0)
    throw complaint('wrong-use', [
      'no module is named; write rulesFromCode: [src/forms.js] into zeitwort.yaml',
    ]);
  const runs = await runAll(
    modules.map((file) => path.join(folder.folder, file)),
    ms,
  );
  const files = new Map<string, DerivedFile>();
  const notices: string[] = [];
  for (const [at, module] of modules.entries()) {
    const run = runs[at];
    if (!run) continue;
    const shown = folder.shown(module);
    const trouble = moduleTrouble(shown, run, ms);
    if (trouble) throw trouble;
    const notice = noticePrinted(shown, run);
    if (notice !== undefined) notices.push(notice);
    for (const one of run.answer && 'exports' in run.answer ? run.answer.exports : []) {
      if ('trouble' in one)
        throw complaint(
          'wrong-content',
          [`the export "${one.name}" cannot be written as JSON Schema: ${one.trouble}`],
          {
            file: shown,
          },
        );
      const from = { module, export: one.name };
      const form = formIdOf(one.schema, from);
      const text = derivedText(one.schema, form, from);
      const file = `${out}/${fileName(form)}`;
      const earlier = files.get(file);
      if (
        earlier &&
        earlier.module === module &&
        earlier.text.replace(earlier.export, '') === text.replace(one.name, '')
      )
        continue;
      if (earlier)
        throw complaint('wrong-content', [
          `the exports "${earlier.export}" of ${folder.shown(earlier.module)} and "${one.name}" of ${shown} both make the form "${form}"; give one of them an id of its own`,
        ]);
      files.set(file, { form, file, text, ...from });
    }
  }
  const left = writtenBefore(folder, out).filter((file) => !files.has(file));
  return { files: [...files.values()], left, notices };
}
