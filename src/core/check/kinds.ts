import { argumentClash } from './argument-clash.js';
import { argumentMismatch } from './argument-mismatch.js';
import { boundConflict } from './bound-conflict.js';
import { duplicateKey } from './duplicate-key.js';
import { unruledField, unusedLabel } from './fields.js';
import { idleCondition } from './idle-condition.js';
import type { Kind } from './kind.js';
import { messageSyntax } from './message-syntax.js';
import { misspeltKey } from './misspelt-key.js';
import { missingChoice } from './missing-choice.js';
import { missingInflection } from './missing-inflection.js';
import { missingLabel } from './missing-label.js';
import { missingMessage } from './missing-message.js';
import { missingWord } from './missing-word.js';
import { missingProblem, unknownProblem } from './missing-problem.js';
import { nestedTooDeep } from './nested-too-deep.js';
import { duplicateForm, exposedDetails, slowRegex, unknownRule, unusedExcuse, wrongExample, wrongStructure } from './noticed.js';
import { noExample } from './no-example.js';
import { numberLost } from './number-lost.js';
import { sampleArgument } from './sample-argument.js';
import { labelDiffers } from './label-differs.js';
import { literalBound } from './literal-bound.js';
import { behindOriginal, onlyFallback, onlyStarter } from './only-starter.js';
import { pluralExtra, pluralGap } from './plurals.js';
import { stale, unreviewed } from './review.js';
import { secretValue } from './secret-value.js';
import { selectMismatch } from './select-mismatch.js';
import { shadowed } from './shadowed.js';
import { tie } from './tie.js';
import { unknownArgument } from './unknown-argument.js';
import { undeclaredRule } from './undeclared-rule.js';
import { unknownField } from './unknown-field.js';
import { unusedMessage } from './unused-message.js';
import { bareLiteral } from './wording/bare-literal.js';
import { endMark } from './wording/end-mark.js';
import { agreement, startForm } from './wording/inserted-label.js';
import { mixedDirection, wrongScript } from './wording/letters.js';
import { markup } from './wording/markup.js';
import { rawPath } from './wording/raw-path.js';
import { sameAsOriginal } from './wording/same-as-original.js';
import { sameLabel } from './same-label.js';
import { sameText } from './wording/same-text.js';
import { spacing } from './wording/spacing.js';
import { tooLong } from './wording/too-long.js';
import { vagueMessage } from './wording/vague-message.js';

/** All kinds of findings: what was noticed while reading, coverage, messages, wording, rules. */
export const KINDS: readonly Kind[] = [
  wrongStructure,
  duplicateKey,
  duplicateForm,
  unknownRule,
  undeclaredRule,
  unknownField,
  boundConflict,
  idleCondition,
  noExample,
  wrongExample,
  slowRegex,
  messageSyntax,
  unknownArgument,
  argumentClash,
  argumentMismatch,
  sampleArgument,
  pluralGap,
  pluralExtra,
  selectMismatch,
  literalBound,
  nestedTooDeep,
  missingMessage,
  onlyStarter,
  onlyFallback,
  behindOriginal,
  missingLabel,
  numberLost,
  labelDiffers,
  sameLabel,
  missingChoice,
  missingWord,
  missingProblem,
  unknownProblem,
  missingInflection,
  secretValue,
  exposedDetails,
  unusedExcuse,
  unusedMessage,
  misspeltKey,
  unusedLabel,
  unruledField,
  shadowed,
  tie,
  vagueMessage,
  startForm,
  agreement,
  bareLiteral,
  rawPath,
  sameAsOriginal,
  sameText,
  tooLong,
  endMark,
  spacing,
  mixedDirection,
  wrongScript,
  markup,
  stale,
  unreviewed,
];
