import { getOrMake } from '../../core/base/get-or-make.js';
import type { Entry } from '../../core/texts/entry.js';
import type { Traced } from '../../workspace/answering/traced.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { paint, width } from './out.js';
import { cut } from './table.js';

/** A sentence, and the texts that could have said it. */
export interface TracedSentence {
  readonly sentence: string;
  readonly found: readonly Traced[];
}

const quoted = (word: string): string =>
  /^[\w./@:-]+$/.test(word) ? word : `'${word.replaceAll("'", "'\\''")}'`;

/** The command that writes another text in place of this one, for what said it. */
export function replacing({ locale, of }: Traced): string {
  const about =
    'problem' in of
      ? ['--problem', of.problem, ...(of.part === 'detail' ? ['--detail'] : [])]
      : [
          '--form',
          of.form,
          '--field',
          of.path.replace(/^(?:query|path|header|cookie):/, ''),
          '--rule',
          of.rule,
          ...(of.beside ? ['--inline'] : []),
        ];
  return ['zeitwort set', "'…'", '--locale', locale, ...about.map(quoted)].join(' ');
}

const nameOf = ({ of }: Traced): string =>
  'problem' in of
    ? `the ${of.part} of the problem ${of.problem}`
    : `${of.form}  ${of.path || 'the body'}  ${of.rule}${of.beside ? ', beside the input' : ''}`;

/** So many places of one text are listed. */
const MOST_LISTED = 5;

function sentenceText({ sentence, found }: TracedSentence, workspace: Workspace): string {
  const said = paint.bold(cut(sentence, width()));
  if (found.length === 0) return `${said}\n  stands in no catalog`;
  const byEntry = new Map<Entry, Traced[]>();
  for (const one of found) getOrMake(byEntry, one.entry, () => []).push(one);
  const texts = [...byEntry].map(([entry, places]) => {
    const { file, line, column } = workspace.place({ ...entry.origin, at: 'value' });
    const place = [file, line, column].filter((part) => part !== undefined).join(':');
    const [first] = places;
    const rest = places.length - MOST_LISTED;
    return [
      `  ${place}  ${paint.green(cut(entry.text, width() - place.length - 4))}`,
      ...places.slice(0, MOST_LISTED).map((one) => `    ${one.locale}  ${nameOf(one)}`),
      ...(rest > 0 ? [`    and ${rest} more`] : []),
      ...(first ? [`    ${paint.dim(replacing(first))}`] : []),
    ].join('\n');
  });
  return [said, ...texts].join('\n');
}

/** Where sentences come from, for people. */
export const tracedText = (all: readonly TracedSentence[], workspace: Workspace): string =>
  all.map((one) => sentenceText(one, workspace)).join('\n\n');

/** Returns the traced sentences as JSON. */
export const tracedJson = (all: readonly TracedSentence[], workspace: Workspace): object[] =>
  all.map(({ sentence, found }) => ({
    sentence,
    texts: found.map((one) => {
      const { locale, entry, of } = one;
      const { file, line, column } = workspace.place({ ...entry.origin, at: 'value' });
      return { locale, ...of, text: entry.text, file, line, column, command: replacing(one) };
    }),
  }));
