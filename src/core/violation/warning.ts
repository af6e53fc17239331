/** What whoever calls should know, though the client got an answer. */
export interface Warning {
  /** `unresolved`: a text asks for what nobody gave, and another one stood in for it. */
  readonly kind: 'unresolved';
  /** The argument that is missing. */
  readonly argument: string;
  /** The file of the text that asks for it. */
  readonly file: string;
  /** Of a field: the code of the rule that was broken, and where. */
  readonly rule?: string;
  readonly path?: string;
  /** Of the request as a whole. */
  readonly problem?: string;
  /** All of this in one sentence. */
  readonly message: string;
}

export type Warn = (warning: Warning) => void;

/** What is known of a text that could not be said. */
export type Unsaid = Omit<Warning, 'kind' | 'message'>;

/** Puts it into a sentence. */
export function unresolved(unsaid: Unsaid): Warning {
  const { argument, file, rule, path, problem } = unsaid;
  const what = problem === undefined ? `"${rule ?? ''}" at ${path || 'the whole body'}` : `the problem "${problem}"`;
  const message = `The text for ${what} in ${file} asks for {${argument}}, which nobody gave; a text that can do without it was sent instead.`;
  return { kind: 'unresolved', ...unsaid, message };
}
