import type { Row } from '../check/subject/context.js';
import type { Locale } from '../locale/tag.js';
import type { Arguments } from '../message/compile.js';
import { VOCABULARY } from '../rules/vocabulary.js';
import type { Entry } from '../texts/entry.js';
import { examplesOf, isNumberArgument } from '../violation/examples.js';
import { sampleIn } from '../violation/samples.js';
import type { Sentences } from '../violation/sentence.js';

/** So many rules are tried for the cases of a message. */
const MOST_ROWS = 60;

/** Sample arguments of the built-in problems. */
const PROBLEM_SAMPLES: Arguments = {
  count: 3,
  fields: 2,
  located: 'yes',
  line: 3,
  column: 14,
  timed: 'yes',
  seconds: 30,
};

/** Whether an argument is a parameter of a rule, which may have other values. */
const isParameter =
  ({ use }: Row) =>
  (name: string): boolean =>
    Object.hasOwn(use.params, name) ||
    isNumberArgument(name) ||
    (VOCABULARY.get(use.rule)?.arguments ?? []).some((one) => one.name === name);

/** Says what rules would say, with sample values. */
export class SampleSayer {
  constructor(private readonly sentencesOf: (form: string) => Sentences) {}

  /** The sentence of a rule, or what is said beside its input. */
  said(row: Row, locale: Locale, inline = false): string | undefined {
    const violation = sampleIn(row.form, row.field, row.use);
    const said = this.sentencesOf(row.form.id).say(violation, locale, inline);
    return inline ? said.inline : said.text;
  }

  /** Returns the arguments of a text for a rule. */
  argumentsAt(row: Row, text: Entry): Arguments {
    const sentences = this.sentencesOf(row.form.id);
    const violation = sampleIn(row.form, row.field, row.use);
    return sentences.argumentsFor(violation, text.signature.names, text.locale, text);
  }

  /** A message, once for each of its cases that one of the rules leads to. */
  ofMessage(text: Entry, rows: readonly Row[]): string[] {
    const [first] = rows;
    if (!first || text.error) return [];
    const given = rows.slice(0, MOST_ROWS).map((row) => this.argumentsAt(row, text));
    return examplesOf(text, given, isParameter(first));
  }
}

/**
 * Returns the example sentences of a text of a problem. @param samples of the arguments that it may
 * use
 */
export const examplesOfProblem = (text: Entry, samples: Arguments): string[] =>
  text.error || text.signature.names.size === 0
    ? []
    : examplesOf(text, [{ ...PROBLEM_SAMPLES, ...samples }], () => true);
