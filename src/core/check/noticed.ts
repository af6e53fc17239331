import type { FindingKind } from '../finding.js';
import type { Kind } from './kind.js';

/** A kind that the readers of files notice themselves. */
const noticed = (kind: FindingKind, about: string, remedy: string): Kind => ({
  kind,
  severity: 'error',
  about,
  remedy,
  find: ({ subject }) => subject.remarks.filter((remark) => remark.kind === kind),
});

export const wrongShape = noticed(
  'wrong-shape',
  'A part of a catalog or rule sheet is not what the format has there; it is passed over.',
  'Write what the sentence asks for; the reference has both formats.',
);

export const unknownRule = noticed(
  'unknown-rule',
  'A rule sheet names a rule that is not in the vocabulary, so nothing checks it and no text is looked for.',
  'Correct the name, or declare it under `external` where only the backend can check it.',
);
