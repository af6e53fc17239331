/** Reports of other validators that we read without a declaration. */
export type ForeignShape = 'schema-output' | 'schema-errors' | 'zod';
export type ReportShape = 'violations' | ForeignShape;
export const REPORT_SHAPES: readonly ReportShape[] = [
  'violations',
  'schema-output',
  'schema-errors',
  'zod',
];

export const isReportShape = (name: string): name is ReportShape =>
  REPORT_SHAPES.some((shape) => shape === name);
