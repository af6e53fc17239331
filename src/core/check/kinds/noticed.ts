import type { FindingKind, Severity } from '../../finding.js';
import type { Kind } from '../subject/kind.js';

/** A kind that the readers of files notice themselves. */
const noticed = (
  kind: FindingKind,
  about: string,
  remedy: string,
  example: string,
  severity: Severity = 'error',
): Kind => ({
  kind,
  severity,
  about,
  remedy,
  example,
  find: ({ subject }) => subject.remarks.filter((remark) => remark.kind === kind),
});

export const wrongStructure = noticed(
  'wrong-structure',
  'A part of a catalog or rule sheet does not have the structure that the format requires; it is ignored.',
  'Write what the sentence asks for; the reference has both formats.',
  '"messages": ["required"]            // should be an object',
);

export const unknownRule = noticed(
  'unknown-rule',
  'A rule sheet names a rule that is not in the vocabulary, so nothing checks it and no text is looked for; or a reader maps a name to a rule that no form declares.',
  'Correct the name, or declare it under `external` of a field where only the backend can check it.',
  'title: { maxLenght: 120 }           # did you mean maxLength?',
);

export const exposedDetails = noticed(
  'exposed-details',
  'A workspace for production asks for answers to developers, with rules, parameters, values and file names in them; it gets answers to clients.',
  'Set `audience` to client, or take `production` out.',
  'production: true\nbody: { audience: developer }',
);

export const duplicateForm = noticed(
  'duplicate-form',
  'A form of the same id is declared twice; only the first is known.',
  'Rename one of the two.',
  'forms: { night-log: … }             # declared in another sheet too',
);

export const unusedExcuse = noticed(
  'unused-excuse',
  'A catalog excuses a finding that is not there: the text was mended, or the name of the kind is misspelt.',
  'Remove the excuse, or correct the kind.',
  '"excused": { "vague-message": "…" }  // and the text is not vague',
  'warning',
);

export const costlyPattern = noticed(
  'costly-pattern',
  'A regular expression can take very long on texts that clients choose, and block the service.',
  'Rewrite it so that no two parts in a row, and no part inside a repetition, can match the same characters.',
  "code: { pattern: { regex: '^(a+)+$', example: aa } }",
  'warning',
);

export const wrongExample = noticed(
  'wrong-example',
  'An example in a schema or an OpenAPI document breaks the schema that it is for: whoever copies it gets an error.',
  'Correct the example, or the rule that it breaks.',
  '"nights": { "maximum": 14, "example": 20 }',
  'warning',
);
