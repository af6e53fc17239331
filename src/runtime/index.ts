// The runtime package: packs in, bodies out. Nothing here asks for files, a process or a network.
import type { Pack } from '../core/pack/pack.js';
import { isObject } from '../core/reading.js';
import { Complaint } from '../core/complaint.js';
import { openPacks, type OpenOptions } from '../render/packs.js';
import type { Renderer } from '../render/rendering.js';

export { Complaint } from '../core/complaint.js';
export type { Pack } from '../core/pack/pack.js';
export { PathSyntaxError } from '../core/path/path.js';
export type { Violation } from '../core/rules/violation.js';
export type { Warning } from '../core/violation/warning.js';
export type { OpenOptions } from '../render/packs.js';
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
  type DeclaredForms,
  type DeclaredRule,
  type FieldPath,
  type FormId,
  type RuleId,
} from '../typed.js';

/**
 * Opens packs, one a language, made by `zeitwort pack`. Options may stand behind them.
 * @param from what the packs' modules export, or their JSON; where no language fits, an answer is
 * in the original if it is among them, else in the first
 * @throws {Complaint} when one is no pack of this version
 */
export function openPack(...from: readonly [Pack, ...(Pack | OpenOptions)[]]): Renderer {
  const packs: Pack[] = [];
  let options: OpenOptions = {};
  for (const one of from as readonly unknown[]) {
    // What comes from a module or from JSON may be anything.
    if (!isObject(one))
      throw new Complaint('wrong-content', 'this is no pack; give what its module exports');
    if (!('pack' in one)) options = one;
    else if (one.pack !== 1)
      throw new Complaint(
        'wrong-content',
        'this is no pack of version 1; make it anew with "zeitwort pack --module"',
      );
    else if (!isObject(one.trees))
      throw new Complaint(
        'wrong-content',
        'the messages of this pack are not parsed; make it with "zeitwort pack --module"',
      );
    else packs.push(one as unknown as Pack);
  }
  return openPacks(packs, options);
}
