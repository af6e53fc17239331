/** A warning for the caller, though the client got an answer. */
export type Warning = Unresolved | Unread;

/**
 * An entry of a validator's report that could not be read as it stands: the answer has a true
 * sentence all the same.
 */
export interface Unread {
  readonly kind: 'unread';
  /** Where in the report, as a JSON Pointer. */
  readonly at: string;
  /** The fault, and what was said instead. */
  readonly message: string;
}

export interface Unresolved {
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

/** The data of a text that could not be said. */
export type Unsaid = Omit<Unresolved, 'kind' | 'message'>;

/** Puts it into a sentence. */
export function unresolved(unsaid: Unsaid): Unresolved {
  const { argument, file, rule, path, problem } = unsaid;
  const what =
    problem === undefined
      ? `"${rule ?? ''}" at ${path || 'the whole body'}`
      : `the problem "${problem}"`;
  // Packs know no files.
  const where = file && ` in ${file}`;
  const message = `The text for ${what}${where} asks for {${argument}}, which nobody gave; another text was sent instead.`;
  return { kind: 'unresolved', ...unsaid, message };
}
