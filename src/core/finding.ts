import type { Locale } from './locale/tag.js';
import type { Spot } from './origin.js';
import { suggestion } from './text/closest.js';

export type Severity = 'error' | 'warning' | 'info';

/** The kinds of findings by name. */
export const KIND_NAMES = [
  'missing-message',
  'missing-label',
  'number-lost',
  'label-differs',
  'same-label',
  'wrong-example',
  'missing-inflection',
  'unused-message',
  'misspelt-key',
  'message-syntax',
  'unknown-argument',
  'secret-value',
  'unknown-rule',
  'undeclared-rule',
  'unknown-field',
  'missing-problem',
  'missing-translation',
  'missing-inline',
  'unknown-problem',
  'exposed-details',
  'unused-excuse',
  'missing-choice',
  'missing-word',
  'unruled-field',
  'unused-label',
  'shadowed',
  'duplicate-form',
  'duplicate-request',
  'tie',
  'argument-clash',
  'argument-mismatch',
  'sample-argument',
  'plural-gap',
  'plural-extra',
  'spelt-number',
  'select-mismatch',
  'literal-bound',
  'nested-too-deep',
  'vague-message',
  'start-inflection',
  'agreement',
  'bare-literal',
  'raw-path',
  'same-as-original',
  'same-text',
  'term-missing',
  'term-avoided',
  'translated-twice',
  'too-long',
  'end-mark',
  'spacing',
  'mixed-direction',
  'wrong-script',
  'markup',
  'bound-conflict',
  'idle-condition',
  'no-example',
  'costly-pattern',
  'duplicate-key',
  'wrong-structure',
  'only-starter',
  'only-fallback',
  'behind-original',
  'stale',
  'unreviewed',
] as const;

/** Returns the suggestion for an unknown kind: the nearest name, if any. */
export const kindHint = (name: string): string => suggestion(name, KIND_NAMES);

export type FindingKind = (typeof KIND_NAMES)[number];

/** One thing that the check reports, its severity still open. */
export interface Remark {
  readonly kind: FindingKind;
  /** One sentence: what is wrong and what to do. */
  readonly message: string;
  readonly locale?: Locale;
  readonly form?: string;
  readonly path?: string;
  readonly rule?: string;
  readonly spot?: Spot;
}

export interface Finding extends Remark {
  readonly severity: Severity;
}
