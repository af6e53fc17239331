import { getOrMake } from '../../core/base/get-or-make.js';
import type { AnswerOptions } from '../../core/body/answer.js';
import type { LocationOf } from '../../core/body/developer.js';
import type { Shape, ShapeOptions } from '../../core/body/shapes/shape.js';
import { Room } from '../../core/base/memo.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { suggestion } from '../../core/text/closest.js';
import { entryOf } from '../../core/texts/entry.js';
import type { Phrase } from '../../core/texts/phrase.js';
import { Sentences } from '../../core/violation/sentence.js';
import type { Warn } from '../../core/violation/warning.js';
import { complaint } from '../disk/complaint.js';
import type { Workspace } from '../reading/workspace.js';

/** A shape, and how the workspace sets it. */
export interface BodyStyle {
  readonly shape: Shape;
  readonly options: ShapeOptions;
}

/** Where a command or caller wants it otherwise than the workspace file has it. */
export interface AnswerWishes {
  readonly perField?: 'all' | 'first' | undefined;
  readonly audience?: 'client' | 'developer' | undefined;
  /** Whether texts beside the inputs are included. */
  readonly inline?: boolean | undefined;
  /** Called with texts that could not be said. */
  readonly warn?: Warn | undefined;
}

/** For whom answers are: a workspace for production answers to clients, whatever else it says. */
export const audienceOf = ({ production, body }: Workspace['config']): 'client' | 'developer' =>
  production ? 'client' : body.audience;

/** Returns the source of the detail of broken rules. */
function detailOf({
  detail,
  separator,
}: Workspace['config']['body']): AnswerOptions['detail'] | undefined {
  if (detail === 'own') return undefined;
  return detail === 'first' ? { of: 'first' } : { of: 'all', separator };
}

/** Finds texts in the catalogs of a workspace. */
export const locationsIn =
  (workspace: Workspace): LocationOf =>
  (text: Phrase) => {
    const entry = entryOf(text);
    return entry && workspace.place({ ...entry.origin, at: 'value' });
  };

/** Returns the options for a workspace's answers. */
export function answerOptions(
  workspace: Workspace,
  { perField, audience, inline, warn }: AnswerWishes = {},
): AnswerOptions {
  const { zone, values, body, statuses } = workspace.config;
  const detail = detailOf(body);
  const forDevelopers = (audience ?? audienceOf(workspace.config)) === 'developer';
  return {
    zone,
    shorten: values.shorten,
    perField: perField ?? body.perField,
    maxViolations: body.maxViolations,
    typeBase: body.typeBase,
    statuses,
    ...((inline ?? body.inline !== false) ? { inline: true } : {}),
    ...(detail ? { detail } : {}),
    ...(warn ? { warn } : {}),
    ...(forDevelopers ? { developer: locationsIn(workspace) } : {}),
  };
}

/**
 * How bodies of a workspace are laid out: by the shape of that name, or its own.
 * @throws {Complaint} when there is no such shape
 */
export function bodyStyle({ config }: Workspace, name: string = config.body.shape): BodyStyle {
  const { shapes, body } = config;
  const shape = shapes.get(name);
  if (shape) return { shape, options: body };
  const known = [...shapes.keys()].join(', ');
  throw complaint('wrong-use', [
    `there is no shape "${name}"${suggestion(name, shapes.keys())}; the shapes are ${known}`,
  ]);
}

/** The sentence makers of a workspace, by warning function and form, and their shared memory. */
interface Made {
  readonly room: Room;
  readonly sentences: Map<Warn | undefined, Map<string, Sentences>>;
}

const made = new WeakMap<Workspace, Made>();

/**
 * Returns the sentence maker of a form.
 * @param warn called with texts that could not be said
 */
export function sentencesOf(workspace: Workspace, form: FormIndex, warn?: Warn): Sentences {
  const own = getOrMake(made, workspace, () => ({ room: new Room(), sentences: new Map() }));
  const known = getOrMake(own.sentences, warn, () => new Map());
  return getOrMake(known, form.form.id, () => newSentences(workspace, form, warn, own.room));
}

/**
 * Returns a sentence maker for a caller that asks for each sentence once: its results are not kept.
 */
export const newSentences = (
  workspace: Workspace,
  form: FormIndex,
  warn?: Warn,
  room?: Room,
): Sentences =>
  new Sentences(workspace.texts, form, { ...answerOptions(workspace, { warn }), room });
