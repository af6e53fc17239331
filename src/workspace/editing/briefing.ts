import { examplesOfProblem, SampleSayer } from '../../core/desk/said.js';
import { PROBLEM_ARGUMENTS } from '../../core/body/problem-arguments.js';
import { ERROR_STATUSES } from '../../core/body/status-phrases.js';
import { offersOf } from '../../core/check/kinds/offers.js';
import { rowsOf, type Row } from '../../core/check/subject/context.js';
import { parsePattern } from '../../core/path/path.js';
import { placesOn } from '../../core/path/places.js';
import { FIELD_ARGUMENTS, VOCABULARY } from '../../core/rules/vocabulary.js';
import type { Entry } from '../../core/texts/entry.js';
import type { Address, FrameName } from '../../core/texts/purpose.js';
import { sentencesOf } from '../answering/answering.js';
import type { Workspace } from '../reading/workspace.js';
import { getOrMake } from '../../core/base/get-or-make.js';
import { keyed } from '../../core/base/keyed.js';
import { compileTree } from '../../core/message/compile.js';
import type { Inflection } from './inflections.js';

const idOf = ({ kind, form, path, key }: Address): string =>
  JSON.stringify([kind, form, path, key]);

const FRAME_IS: Readonly<Record<FrameName, string>> = {
  inside: 'How sentences name an element inside another, such as "target 3, exposure 1".',
  field: 'How sentences name a field inside an element, such as "target 3: name".',
  quoted: 'A text in quotation marks.',
  date: 'A date, such as "March 9, 2027".',
  clock: 'The time of a day, such as "21:30".',
  moment: 'A date with a time, such as "March 9, 2027 at 9:30 PM".',
};

const PROBLEM_ARGUMENT_IS: Readonly<Record<string, string>> = keyed({
  count: 'how many mistakes there are',
  fields: 'in how many fields they are',
  located: '"yes" where {line} and {column} are known, else "no"',
  line: 'the line, from 1',
  column: 'the column, from 1',
  timed: '"yes" where {seconds} is known, else "no"',
  seconds: 'after how many seconds to try again',
});

const INFLECTION_OF =
  /^(has_)?(\w+?)_(quoted|start|(?!words|listed|literal|several|kind|number|key)[a-z]+)$/u;

/** Explains an argument of a text, as half a sentence. */
export function argumentMeaning(name: string, address: Address, row: Row | undefined): string {
  if (address.kind === 'frame') return name === 'text' ? 'the text' : `the ${name} part`;
  if (address.kind === 'word')
    return (
      { example: 'an example, in quotation marks', format_name: 'its name in the trade' }[name] ??
      '"yes" where there is an example, else "no"'
    );
  if (address.kind === 'problem') {
    const [id = ''] = address.key.split(' ');
    return (
      (Object.hasOwn(PROBLEM_ARGUMENTS, id) ? PROBLEM_ARGUMENT_IS[name] : undefined) ??
      'a value that the backend gives'
    );
  }
  const pattern =
    row?.field.pattern ?? (address.path === undefined ? [] : parsePattern(address.path));
  const place = placesOn(pattern).find(({ argument }) => argument === name);
  if (place)
    return place.kind === 'number' ? 'the number of the element, from 1' : 'the name of the entry';
  const rule = VOCABULARY.get(row?.use.rule ?? address.key);
  const known = [...(rule?.arguments ?? []), ...(rule?.parameters ?? []), ...FIELD_ARGUMENTS].find(
    (one) => one.name === name,
  );
  const given = row?.use.params[name];
  const such =
    typeof given === 'number' || typeof given === 'string' ? `, here ${String(given)}` : '';
  if (known) return `${known.about}${such}`;
  const [, has, word, form] = INFLECTION_OF.exec(name) ?? [];
  if (has !== undefined)
    return `"yes" where ${word ?? ''} has the inflection "${form ?? ''}", else "no"`;
  if (word !== undefined && word !== name) {
    const about = argumentMeaning(word, address, row);
    return form === 'quoted'
      ? `${about}, in quotation marks`
      : `${about}, as the inflection "${form ?? ''}"`;
  }
  return `a value of the rule's own${such}`;
}

/** So many places are named of a text. */
const MOST_PLACES = 6;

/**
 * Where rules stand, a line a form: `observing-proposal: title, abstract and 3 more`.
 * @param most how many fields of a form are named
 * @param said how a name is written
 */
export function placesOf(
  rows: readonly Row[],
  most: number,
  said: (name: string) => string = (name) => name,
): string[] {
  const byForm = new Map<string, Set<string>>();
  for (const { form, field } of rows)
    getOrMake(byForm, form.id, () => new Set()).add(field.path || 'the body');
  return Array.from(byForm, ([form, paths]) => {
    const more = paths.size > most ? ` and ${paths.size - most} more` : '';
    return `${said(form)}: ${[...paths].slice(0, most).map(said).join(', ')}${more}`;
  });
}

/** The words that a message chooses by, of an argument. */
const selectorsOf = (message: Entry, name: string): string[] =>
  message
    .caseNodes()
    .filter((node) => node.kind === 'select' && node.name === name)
    .flatMap(({ cases }) => cases.map(({ selector }) => selector))
    .filter((selector) => selector !== 'other');

/**
 * Finds what a translator wants to know of a text besides its words: when it is said, for example
 * how, and what its arguments say.
 */
export class Briefings {
  /** By text of the original, the rules that are said by it. */
  private readonly rows = new Map<string, Row[]>();
  /** The rule behind a code of the workspace's own. */
  private readonly rules = new Map<string, string>();
  private readonly sayer: SampleSayer;

  constructor(private readonly workspace: Workspace) {
    this.sayer = new SampleSayer((form) => sentencesOf(workspace, workspace.form(form)));
    const { allTexts: texts, config, forms } = workspace;
    const { original } = config;
    for (const row of rowsOf([...forms.values()].map(({ form }) => form))) {
      if (!this.rules.has(row.code)) this.rules.set(row.code, row.use.rule);
      const question = { form: row.form.id, path: row.field.pattern, keys: row.keys };
      const label = texts.label(row.form.id, row.field.pattern, original);
      const message = texts.message(question, original);
      for (const entry of [message, message && texts.inline(message), label])
        if (entry) getOrMake(this.rows, idOf(entry.purpose), () => []).push(row);
    }
  }

  /** Several lines, or nothing where there is nothing to say. */
  of(address: Address, original: Entry): string | undefined {
    const lines = [
      this.purpose(address),
      ...this.places(address),
      ...this.examples(address, original),
      ...this.arguments(address, original),
    ];
    const said = lines.filter((line) => line !== '').join('\n');
    return said === '' ? undefined : said;
  }

  private purpose({ kind, form, path, key }: Address): string {
    const field =
      path === undefined
        ? ''
        : ` of ${path === '' ? 'the body' : `the field "${path}"`}${form === undefined ? '' : ` (${form})`}`;
    const all = form === undefined ? '' : ` of ${form}`;
    switch (kind) {
      case 'message':
        return `Said${field || all} when the rule "${key}" is broken${this.meaning(key)}.`;
      case 'inline':
        return `The same for beside the input${field || all}, where the label stands already; rule "${key}"${this.meaning(key)}.`;
      case 'label':
        return key === ''
          ? `What people call ${field.slice(4) || 'it'}, as it stands inside a sentence.`
          : '';
      case 'choice':
        return `What people call the value "${key}"${field}.`;
      case 'frame':
        return FRAME_IS[key as FrameName];
      case 'word': {
        const [group = '', name = ''] = key.split(' ');
        return `What the ${group} "${name}" is called inside a sentence.`;
      }
      case 'problem': {
        const [id = '', part = ''] = key.split(' ');
        const status = this.workspace.config.statuses.get(id) ?? 500;
        return (
          `The ${part} of the problem "${id}", which is HTTP ${status} ${ERROR_STATUSES.get(status) ?? ''}`.trim() +
          '.'
        );
      }
    }
  }

  /** Explains a rule, as half a sentence. */
  private meaning(key: string): string {
    const about = (VOCABULARY.get(key) ?? VOCABULARY.get(this.rules.get(key) ?? ''))?.about;
    if (about !== undefined) return `: ${about}`;
    return this.rules.has(key) ? ', which the backend checks itself' : '';
  }

  private places(address: Address): string[] {
    const rows = this.rows.get(idOf(address)) ?? [];
    const isNamed = address.path !== undefined && address.form !== undefined;
    return rows.length === 0 || isNamed ? [] : [`In ${placesOf(rows, MOST_PLACES).join('; ')}.`];
  }

  /** One sentence for each case of a text that there is a rule for. */
  private examples(address: Address, original: Entry): string[] {
    const [first] = this.rows.get(idOf(address)) ?? [];
    if (address.kind === 'problem') return this.problemExamples(address, original);
    const sentences =
      address.kind === 'message' || address.kind === 'inline'
        ? this.sayer.ofMessage(original, this.rows.get(idOf(address)) ?? [])
        : [];
    if (sentences.length > 0) return sentences.map((text) => `For example: ${text}`);
    const rows = address.kind === 'label' ? this.rows.get(idOf(address)) : undefined;
    // A sentence shows a label best that has it.
    const has = (row: Row): boolean =>
      this.sayer.said(row, original.locale)?.toLowerCase().includes(original.text.toLowerCase()) ??
      false;
    const row = rows?.slice(0, MOST_PLACES).find(has) ?? first;
    const text = row && this.sayer.said(row, original.locale, address.kind === 'inline');
    return text === undefined ? [] : [`For example: ${text}`];
  }

  private problemExamples({ key }: Address, text: Entry): string[] {
    const [id = ''] = key.split(' ');
    const declared = this.workspace.config.problemParams.get(id) ?? {};
    return examplesOfProblem(text, declared).map((said) => `For example: ${said}`);
  }

  /**
   * Explains an inflection or the gender of a label: sentences of the language that use it, and the
   * genders that they know.
   */
  ofInflection({ address: { key }, label, asking }: Inflection): string {
    const known = new Set(
      asking.flatMap(({ message, name }) => (key === 'gender' ? selectorsOf(message, name) : [])),
    );
    const sentences = asking.slice(0, MOST_PLACES).map(({ message, row, name, word }) => {
      const args = this.sayer.argumentsAt(row, message);
      const slot = { [name]: `[${label.text}: ${key}]`, [`has_${word}_${key}`]: 'yes' };
      const format = compileTree(message.tree, message.locale);
      return key === 'gender' ? '' : `For example: ${format({ ...args, ...slot })}`;
    });
    const genders = known.size === 0 ? '' : `Messages know: ${[...known].join(', ')}.`;
    return [...new Set(sentences), genders].filter((line) => line !== '').join('\n');
  }

  private arguments(address: Address, original: Entry): string[] {
    const [row] = this.rows.get(idOf(address)) ?? [];
    const names = [...original.signature.names];
    const lines = names.map((name) => `{${name}}: ${argumentMeaning(name, address, row)}`);
    if (address.kind !== 'message' || !row) return lines;
    const more = [...offersOf(row)]
      .filter((name) => !names.includes(name))
      .map((name) => `{${name}}`);
    return [...lines, `There are also ${more.join(', ')}.`];
  }
}
