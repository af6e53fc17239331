import type { Subject } from './context.js';
import { OngoingCheck } from './ongoing.js';
import type { CheckOptions, CheckResult } from './result.js';

/** Checks that every rule has a text in every locale, and the texts themselves. */
export const check = (subject: Subject, options: CheckOptions = {}): CheckResult => new OngoingCheck(options).next(subject);
