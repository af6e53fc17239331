import { argumentClash } from './kinds/argument-clash.js';
import { argumentMismatch } from './kinds/argument-mismatch.js';
import { boundConflict } from './kinds/bound-conflict.js';
import { duplicateKey } from './kinds/duplicate-key.js';
import { duplicateRequest } from './kinds/duplicate-request.js';
import { unruledField, unusedLabel } from './kinds/fields.js';
import { idleCondition } from './kinds/idle-condition.js';
import type { Kind } from './subject/kind.js';
import { messageSyntax } from './kinds/message-syntax.js';
import { misspeltKey } from './kinds/misspelt-key.js';
import { missingChoice } from './kinds/missing-choice.js';
import { missingInflection } from './kinds/missing-inflection.js';
import { missingInline } from './kinds/missing-inline.js';
import { missingLabel } from './kinds/missing-label.js';
import { missingMessage } from './kinds/missing-message.js';
import { missingTranslation } from './kinds/missing-translation.js';
import { missingWord } from './kinds/missing-word.js';
import { missingProblem, unknownProblem } from './kinds/missing-problem.js';
import { nestedTooDeep } from './kinds/nested-too-deep.js';
import {
  duplicateForm,
  exposedDetails,
  costlyPattern,
  unknownRule,
  unusedExcuse,
  wrongExample,
  wrongStructure,
} from './kinds/noticed.js';
import { noExample } from './kinds/no-example.js';
import { numberLost } from './kinds/number-lost.js';
import { sampleArgument } from './kinds/sample-argument.js';
import { labelDiffers } from './kinds/label-differs.js';
import { literalBound } from './kinds/literal-bound.js';
import { behindOriginal, onlyFallback, onlyStarter } from './kinds/only-starter.js';
import { pluralExtra, pluralGap } from './kinds/plurals.js';
import { stale, unreviewed } from './kinds/review.js';
import { secretValue } from './kinds/secret-value.js';
import { selectMismatch } from './kinds/select-mismatch.js';
import { shadowed } from './kinds/shadowed.js';
import { speltNumber } from './kinds/spelt-number.js';
import { tie } from './kinds/tie.js';
import { unknownArgument } from './kinds/unknown-argument.js';
import { undeclaredRule } from './kinds/undeclared-rule.js';
import { unknownField } from './kinds/unknown-field.js';
import { unusedMessage } from './kinds/unused-message.js';
import { bareLiteral } from './kinds/wording/bare-literal.js';
import { endMark } from './kinds/wording/end-mark.js';
import { agreement, startInflection } from './kinds/wording/inserted-label.js';
import { mixedDirection, wrongScript } from './kinds/wording/letters.js';
import { markup } from './kinds/wording/markup.js';
import { rawPath } from './kinds/wording/raw-path.js';
import { sameAsOriginal } from './kinds/wording/same-as-original.js';
import { sameLabel } from './kinds/same-label.js';
import { sameText } from './kinds/wording/same-text.js';
import { spacing } from './kinds/wording/spacing.js';
import { termAvoided, termMissing, translatedTwice } from './kinds/wording/terms.js';
import { tooLong } from './kinds/wording/too-long.js';
import { vagueMessage } from './kinds/wording/vague-message.js';

/** All kinds of findings: what was noticed while reading, coverage, messages, wording, rules. */
export const KINDS: readonly Kind[] = [
  wrongStructure,
  duplicateKey,
  duplicateForm,
  duplicateRequest,
  unknownRule,
  undeclaredRule,
  unknownField,
  boundConflict,
  idleCondition,
  noExample,
  wrongExample,
  costlyPattern,
  messageSyntax,
  unknownArgument,
  argumentClash,
  argumentMismatch,
  sampleArgument,
  pluralGap,
  pluralExtra,
  speltNumber,
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
  missingTranslation,
  missingInline,
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
  startInflection,
  agreement,
  bareLiteral,
  rawPath,
  sameAsOriginal,
  sameText,
  termMissing,
  termAvoided,
  translatedTwice,
  tooLong,
  endMark,
  spacing,
  mixedDirection,
  wrongScript,
  markup,
  stale,
  unreviewed,
];
