/** Reports of other validators that we read without a declaration. */
export type ForeignShape = 'schema-output' | 'schema-errors' | 'zod';
export type ErrorListShape = 'violations' | ForeignShape;
export const ERROR_LIST_SHAPES: readonly ErrorListShape[] = [
  'violations',
  'schema-output',
  'schema-errors',
  'zod',
];

export const isErrorListShape = (name: string): name is ErrorListShape =>
  ERROR_LIST_SHAPES.some((shape) => shape === name);
