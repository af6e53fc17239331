import type { OpenOptions } from '../../render/packs.js';
import { Rendering, type Speaker } from '../../render/rendering.js';
import type { Workspace } from '../reading/workspace.js';
import type { Answer } from '../../core/body/answer.js';
import { answerOptions, bodyStyle, locationsIn, sentencesOf } from './answering.js';

/**
 * The renderer of a workspace.
 * @param made called with every answer
 */
export function workspaceRenderer(
  workspace: Workspace,
  { onWarning: warn, ...wishes }: OpenOptions = {},
  made?: (answer: Answer, form: string) => void,
): Rendering {
  const { forms, texts, config } = workspace;
  // An unknown shape fails now, and not in front of a client.
  bodyStyle(workspace, wishes.shape);
  const options = answerOptions(workspace, { warn });
  const speaker: Speaker = {
    forms,
    texts,
    options,
    sentences: (form) => sentencesOf(workspace, form, warn),
  };
  return new Rendering({
    ...workspace.offer,
    speaker: () => speaker,
    style: (name = wishes.shape) => bodyStyle(workspace, name),
    wishes,
    production: config.production,
    locate: locationsIn(workspace),
    made,
  });
}
