import type { Warn } from '../../core/violation/warning.js';
import { Rendering, type Speaker } from '../../render/rendering.js';
import type { Workspace } from '../reading/workspace.js';
import type { Answer } from '../../core/body/answer.js';
import { answerOptions, bodyStyle, sentencesOf } from './answering.js';

/**
 * The renderer of a workspace.
 * @param warn told of texts that could not be said
 * @param made told of every answer that was made
 */
export function workspaceRenderer(
  workspace: Workspace,
  warn?: Warn,
  made?: (answer: Answer, form: string) => void,
): Rendering {
  const { forms, texts, config } = workspace;
  const options = answerOptions(workspace, { warn });
  const speaker: Speaker = {
    forms,
    texts,
    options,
    sentences: (form) => sentencesOf(workspace, form, warn),
  };
  return new Rendering({
    locales: config.locales,
    original: config.original,
    speaker: () => speaker,
    style: (name) => bodyStyle(workspace, name),
    made,
  });
}
