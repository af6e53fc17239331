import type { CodeChange, Difference, TextChange, Verdict } from '../../core/diff/diff.js';
import { forMarkdown } from '../../core/text/media.js';
import { addressText } from '../../workspace/reading/address.js';
import { counted, paint } from './out.js';
import { wordChanges } from './words.js';

const VERDICTS: Readonly<Record<Verdict, string>> = {
  same: 'Nothing changed.',
  texts: 'Clients: texts read differently, no code changed.',
  'codes-added': 'Clients: there are new codes; none went.',
  breaking: 'Clients break: a code that they may look for is gone, or comes with another status.',
};

/** What changed inside of a text, marked with signs, so that it can be read without colours. */
function marked({ before, after, locale }: TextChange): string {
  return wordChanges(before?.text ?? '', after?.text ?? '', locale)
    .map(({ text, change }) =>
      change === 'same'
        ? text
        : change === 'removed'
          ? paint.red(`[-${text}-]`)
          : paint.green(`{+${text}+}`),
    )
    .join('');
}

const list = (names: readonly string[]): string => names.map((name) => `{${name}}`).join(', ');

function argumentNotes({ gained, lost }: TextChange): string[] {
  return [
    ...(gained.length > 0 ? [`now asks for ${list(gained)}`] : []),
    ...(lost.length > 0 ? [`no longer asks for ${list(lost)}`] : []),
  ];
}

const changeName = ({ before, after }: TextChange): 'added' | 'removed' | 'changed' =>
  before === undefined ? 'added' : after === undefined ? 'removed' : 'changed';

function textLines(change: TextChange): string[] {
  const name = changeName(change);
  const head = `${paint.bold(addressText(change.what))}  ${change.locale}  ${name}`;
  const body =
    name === 'added'
      ? paint.green(`+ ${change.after?.text ?? ''}`)
      : name === 'removed'
        ? paint.red(`- ${change.before?.text ?? ''}`)
        : marked(change);
  return [head, `  ${body}`, ...argumentNotes(change).map((note) => `  ${paint.yellow(note)}`)];
}

const codeText = ({ form, code, change, detail }: CodeChange): string =>
  `${form === undefined ? 'problem' : form} ${code}: ${change === 'status' ? `status ${detail ?? ''}` : change}`;

function counts({ texts, stale, codes }: Difference): string {
  const of = (name: string): number => texts.filter((change) => changeName(change) === name).length;
  return `${of('added')} added, ${of('removed')} removed, ${of('changed')} changed; ${counted(stale.length, 'translation')} made stale; ${counted(codes.length, 'code')} changed`;
}

/**
 * For people: each text with the words that changed, then codes, translations made stale, and what
 * it means to clients.
 */
export function diffText(found: Difference): string {
  const { texts, stale, codes, verdict } = found;
  return [
    ...texts.flatMap(textLines),
    ...(codes.length > 0
      ? ['', paint.bold('Codes'), ...codes.map((code) => `  ${codeText(code)}`)]
      : []),
    ...(stale.length > 0
      ? [
          '',
          paint.bold('Made stale'),
          ...stale.map(({ what, locale }) => `  ${addressText(what)}  ${locale}`),
        ]
      : []),
    ...(texts.length + codes.length > 0 ? ['', counts(found)] : []),
    verdict === 'breaking' ? paint.red(VERDICTS[verdict]) : VERDICTS[verdict],
  ].join('\n');
}

/** For programs. */
export function diffJson(found: Difference): object {
  return {
    verdict: found.verdict,
    texts: found.texts.map((change) => ({
      ...change.what,
      locale: change.locale,
      change: changeName(change),
      before: change.before?.text,
      after: change.after?.text,
      ...(changeName(change) === 'changed'
        ? {
            words: wordChanges(change.before?.text ?? '', change.after?.text ?? '', change.locale),
            gained: change.gained,
            lost: change.lost,
          }
        : {}),
    })),
    stale: found.stale.map(({ what, locale }) => ({ ...what, locale })),
    codes: found.codes,
  };
}

/** Marks around a text; Markdown has them only where no blank stands inside of them. */
function around(text: string, mark: string): string {
  const [, before = '', middle = '', after = ''] = /^(\s*)([\s\S]*?)(\s*)$/.exec(text) ?? [];
  return middle === ''
    ? forMarkdown(text)
    : `${before}${mark}${forMarkdown(middle)}${mark}${after}`;
}

/** For a merge request. */
export function diffMarkdown(found: Difference): string {
  const { texts, stale, codes, verdict } = found;
  const rows = texts.map((change) => {
    const words = wordChanges(change.before?.text ?? '', change.after?.text ?? '', change.locale)
      .map(({ text, change: how }) =>
        how === 'same' ? forMarkdown(text) : around(text, how === 'removed' ? '~~' : '**'),
      )
      .join('');
    return `| ${forMarkdown(addressText(change.what))} | ${change.locale} | ${changeName(change)} | ${words} | ${forMarkdown(argumentNotes(change).join('; '))} |`;
  });
  return [
    `**${VERDICTS[verdict]}** ${counts(found)}`,
    ...(rows.length > 0
      ? ['', '| text | locale | | words | arguments |', '| --- | --- | --- | --- | --- |', ...rows]
      : []),
    ...(codes.length > 0 ? ['', ...codes.map((code) => `- ${forMarkdown(codeText(code))}`)] : []),
    ...(stale.length > 0
      ? [
          '',
          `Made stale: ${stale.map(({ what, locale }) => `${forMarkdown(addressText(what))} (${locale})`).join(', ')}`,
        ]
      : []),
    '',
  ].join('\n');
}
