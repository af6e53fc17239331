import type { Answer } from '../answer.js';

/** Settings of shapes. */
export interface ShapeOptions {
  /** Of `jsonapi`: what the pointers of body fields start with. */
  readonly prefix: string;
  /** Of `fields`: the texts of one field as a list, or joined with spaces. */
  readonly texts: 'list' | 'joined';
  /**
   * Of `fields`: `alone` where its texts are those for beside the inputs, as far as there are any.
   */
  readonly inline?: boolean | 'alone';
  readonly html: {
    readonly layout: 'list' | 'paragraphs';
    /** The class of the outermost element. */
    readonly class?: string | undefined;
    /** The element around all. */
    readonly element: string;
    /** The element around each message, inside of the entry, and its class. */
    readonly message?:
      { readonly element: string; readonly class?: string | undefined } | undefined;
  };
}

export const DEFAULT_SHAPE_OPTIONS: ShapeOptions = {
  prefix: '/data/attributes',
  texts: 'list',
  html: { layout: 'list', element: 'div' },
};

/**
 * A layout of the error response: every shape is made of one answer, so that another shape never
 * changes a text.
 */
export interface Shape {
  readonly name: string;
  readonly mediaType: string;
  /** The template that it is made of, or a function that makes it of settings. */
  readonly template: unknown;
  /** The body's value, of a shape in JSON. */
  readonly value?: ((answer: Answer, options: ShapeOptions) => unknown) | undefined;
  /** The body's text. */
  readonly write: (answer: Answer, options: ShapeOptions) => string;
}
