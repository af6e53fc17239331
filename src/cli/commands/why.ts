import type { Command } from 'commander';
import { offersOf } from '../../core/check/kinds/offers.js';
import type { Locale } from '../../core/locale/tag.js';
import { codeOf, keysOf } from '../../core/rules/form.js';
import type { Sentence } from '../../core/violation/sentence.js';
import { sampleViolation } from '../../core/violation/samples.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { fieldAt, useOf } from '../shared/pick.js';
import {
  formatOption,
  localesOf,
  openWorkspace,
  withWorkspace,
  type WorkspaceOptions,
} from '../shared/options.js';
import { print, printJson } from '../print/out.js';
import { whyJson, whyOne, whyTable, type Asked, type Explanation } from '../print/why.js';
import { sentencesIn, traceSentences } from '../../workspace/answering/traced.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { readText } from '../../workspace/disk/files.js';
import { tracedJson, tracedText } from '../print/traced.js';
import { sentencesOf } from '../../workspace/answering/answering.js';

interface Options extends WorkspaceOptions {
  readonly locale?: string;
  readonly format: 'text' | 'json';
  readonly sentence?: string;
  readonly body?: string;
}

function explain(asked: Asked, locale: Locale, workspace: Workspace): Explanation {
  const { form, field, use, path } = asked;
  const violation = sampleViolation(field, use, path);
  const sentences = sentencesOf(workspace, form);
  const offers = offersOf({ form: form.form, field, use, keys: keysOf(use), code: codeOf(use) });
  const question = { form: form.form.id, path, keys: keysOf(use) };
  const steps = [...workspace.texts.steps(question, locale)];
  const message = steps.at(-1)?.found;
  return {
    locale,
    steps,
    ...said(sentences.say(violation, locale, true)),
    beside: message && workspace.texts.inline(message),
    args: explained(offers, sentences.argumentsFor(violation, [...offers].sort(), locale)),
    label: workspace.texts.label(form.form.id, field.pattern, locale),
  };
}

const said = ({ text, inline }: Sentence): Pick<Explanation, 'sentence' | 'inline'> => ({
  sentence: text,
  inline,
});

/** Returns the arguments that have a value here: places before facts. */
const explained = (
  offers: ReadonlySet<string>,
  args: Readonly<Record<string, unknown>>,
): Record<string, unknown> =>
  Object.fromEntries(
    [...offers].sort().flatMap((name) => (args[name] === undefined ? [] : [[name, args[name]]])),
  );

/** Where sentences that a client saw come from. */
function trace(sentences: readonly string[], options: Options): void {
  const workspace = openWorkspace(options);
  const locales = localesOf(workspace, options.locale);
  const found = traceSentences(workspace, sentences, locales);
  const all = sentences.map((sentence, at) => ({ sentence, found: found[at] ?? [] }));
  if (options.format === 'json') printJson(tracedJson(all, workspace));
  else print(tracedText(all, workspace));
  if (all.some(({ found }) => found.length === 0)) process.exitCode = 1;
}

/** The sentences that options name; nothing where none do. */
function sentencesAsked({ sentence, body }: Options): readonly string[] | undefined {
  if (sentence !== undefined) return [sentence];
  if (body === undefined) return undefined;
  const found = sentencesIn(readText(body, body === '-' ? 'standard input' : body, 'a body'));
  if (found.length > 0) return found;
  throw complaint('wrong-content', ['there is no sentence in it'], { file: body });
}

function why(
  formId: string | undefined,
  pathText: string | undefined,
  rule: string | undefined,
  options: Options,
): void {
  const sentences = sentencesAsked(options);
  if (sentences && formId === undefined) {
    trace(sentences, options);
    return;
  }
  if (sentences || formId === undefined || pathText === undefined || rule === undefined)
    throw complaint('wrong-use', [
      'name a form, a path and a rule; or a sentence with --sentence, or an answer with --body',
    ]);
  const workspace = openWorkspace(options).forAnswers();
  const form = workspace.form(formId);
  const { field, path } = fieldAt(pathText, form);
  const asked = { form, field, use: useOf(rule, field), path };
  const locales =
    options.locale === undefined ? workspace.config.locales : [workspace.locale(options.locale)];
  const explanations = locales.map((locale) => explain(asked, locale, workspace));
  const [only] = explanations;
  if (options.format === 'json') printJson(whyJson(asked, explanations, workspace));
  else if (options.locale !== undefined && only) print(whyOne(asked, only, workspace));
  else print(whyTable(asked, explanations, workspace));
  if (explanations.some(({ steps }) => !steps.at(-1)?.found)) process.exitCode = 1;
}

export function define(command: Command): void {
  withWorkspace(command)
    .argument('[form]', "the form's id")
    .argument('[path]', "the field's path or pattern, such as targets[2].name or targets[*].name")
    .argument('[rule]', 'the rule, or the name of this use of it ("as")')
    .option('--locale <tag>', 'one language, with each rung of the ladder (else a table of all)')
    .option(
      '--sentence <text>',
      'a sentence that a client saw: print the texts that it can come from',
    )
    .option(
      '--body <file>',
      'an answer that a client saw: the same for each sentence; - reads standard input',
    )
    .addOption(formatOption())
    .addHelpText(
      'after',
      '\nThe exit code is 1 where there is no text but that for "unnamed", or a sentence stands in no catalog.',
    )
    .action(why);
}
