import { duplicateKey } from './duplicate-key.js';
import type { Kind } from './kind.js';
import { messageSyntax } from './message-syntax.js';
import { missingForm } from './missing-form.js';
import { missingLabel } from './missing-label.js';
import { missingMessage } from './missing-message.js';
import { exposedDetails, slowRegex, unknownRule, wrongShape } from './noticed.js';
import { missingProblem, unknownProblem } from './missing-problem.js';
import { secretValue } from './secret-value.js';
import { unknownArgument } from './unknown-argument.js';
import { unknownField } from './unknown-field.js';
import { unusedMessage } from './unused-message.js';

/** All kinds of findings. */
export const KINDS: readonly Kind[] = [
  wrongShape,
  duplicateKey,
  unknownRule,
  unknownField,
  slowRegex,
  messageSyntax,
  unknownArgument,
  missingMessage,
  missingLabel,
  missingProblem,
  unknownProblem,
  exposedDetails,
  missingForm,
  secretValue,
  unusedMessage,
];
