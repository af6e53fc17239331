// The runtime package: packs in, bodies out. Nothing here asks for files, a process or a network.
import type { Pack } from '../core/pack/pack.js';
import { isObject } from '../core/reading.js';
import { Complaint } from '../core/complaint.js';
import { PackRendering, type OpenOptions, type PackRenderer } from '../render/packs.js';

export { Complaint } from '../core/complaint.js';
export type { Pack } from '../core/pack/pack.js';
export { PathSyntaxError } from '../core/path/path.js';
export type { Violation } from '../core/rules/violation.js';
export type { Warning } from '../core/violation/warning.js';
export type { OpenOptions, PackRenderer } from '../render/packs.js';
export type { ForeignOptions } from '../render/reading.js';
export type {
  FormRules,
  ProblemOptions,
  Rendered,
  Renderer,
  RenderOptions,
  BodyWishes,
  BrokenRules,
} from '../render/rendering.js';
export {
  violation,
  type DeclaredRule,
  type FieldPath,
  type FormId,
  type ProblemId,
  type ProblemParams,
  type RuleId,
} from '../typed.js';

/** Checks a value from a module or from JSON. */
function packIn(one: unknown): Pack {
  if (!isObject(one) || one.pack !== 1 || !isObject(one.trees))
    throw new Complaint(
      'wrong-content',
      'not a pack of version 1 with parsed messages; run "zeitwort pack --module"',
    );
  return one as unknown as Pack;
}

/**
 * Opens packs, one a language, made by `zeitwort pack`. Options may stand behind them.
 * @param from what the packs' modules export, or their JSON; where no language fits, an answer is
 * in the original if it is among them, else in the first
 * @throws {Complaint} when one is not a pack of this version
 */
export function openPack(...from: readonly [Pack, ...(Pack | OpenOptions)[]]): PackRenderer {
  const isOptions = (one: unknown): one is OpenOptions => isObject(one) && !('pack' in one);
  const all: readonly (Pack | OpenOptions)[] = from;
  return new PackRendering(
    all.filter((one) => !isOptions(one)),
    all.find(isOptions) ?? {},
    packIn,
  );
}
