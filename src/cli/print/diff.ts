import type { CodeChange, Difference, TextChange, Verdict } from '../../core/diff/diff.js';
import type { FieldChange } from '../../core/diff/moves.js';
import { forMarkdown } from '../../core/text/media.js';
import { addressText } from '../../workspace/reading/address.js';
import { counted, paint } from './out.js';
import { wordChanges } from './words.js';

const VERDICTS: Readonly<Record<Verdict, string>> = {
  same: 'Nothing changed for clients: they read no drafts.',
  texts: 'Clients: texts read differently, no code and no field changed.',
  added: 'Clients: there are new codes or fields; none went.',
  breaking:
    'Clients break: a code or a field that they may look for is gone, or a code comes with another status.',
};

const verdictText = ({ verdict, texts }: Difference): string =>
  verdict === 'same' && texts.length === 0 ? 'Nothing changed.' : VERDICTS[verdict];

/** Marks the changes inside of a text with signs, so that they can be read without colours. */
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

/** A draft is `released` when clients read it, and text is `withdrawn` that is a draft again. */
type ChangeName = 'added' | 'removed' | 'changed' | 'released' | 'withdrawn';

function changeName({ before, after, wasDraft, isDraft }: TextChange): ChangeName {
  if (before === undefined) return 'added';
  if (after === undefined) return 'removed';
  return wasDraft === isDraft ? 'changed' : isDraft ? 'withdrawn' : 'released';
}

/** Whether no client reads the text, before or after. */
const isUnread = ({ before, after, wasDraft, isDraft }: TextChange): boolean =>
  (before === undefined || wasDraft) && (after === undefined || isDraft);

function textLines(change: TextChange): string[] {
  const name = changeName(change);
  const draft = isUnread(change) ? ' (draft)' : '';
  const head = `${paint.bold(addressText(change.what))}  ${change.locale}  ${name}${draft}`;
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

const fieldText = ({ form, in: part, path, change, to }: FieldChange): string => {
  const where = part === 'body' ? '' : ` (${part})`;
  const field = `${form} ${path || 'the body'}${where}`;
  return to === undefined
    ? `${field}: ${change}`
    : `${field}: renamed to ${to}; pointers of errors change`;
};

function counts({ texts, stale, fields, codes }: Difference): string {
  const of = (name: ChangeName): number =>
    texts.filter((change) => changeName(change) === name).length;
  const rare = (['released', 'withdrawn'] as const).flatMap((name) =>
    of(name) > 0 ? [`, ${of(name)} ${name}`] : [],
  );
  const drafts = texts.filter(isUnread).length;
  return [
    `${of('added')} added, ${of('removed')} removed, ${of('changed')} changed${rare.join('')}`,
    ...(drafts > 0 ? [`${counted(drafts, 'draft')} among them, which clients do not read`] : []),
    `${counted(stale.length, 'translation')} made stale`,
    ...(fields.length > 0 ? [`${counted(fields.length, 'field')} changed`] : []),
    `${counted(codes.length, 'code')} changed`,
  ].join('; ');
}

/**
 * For people: each text with the words that changed, then codes, translations made stale, and what
 * it means to clients.
 */
export function diffText(found: Difference): string {
  const { texts, stale, fields, codes, verdict } = found;
  return [
    ...texts.flatMap(textLines),
    ...(fields.length > 0
      ? ['', paint.bold('Fields'), ...fields.map((field) => `  ${fieldText(field)}`)]
      : []),
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
    ...(texts.length + fields.length + codes.length > 0 ? ['', counts(found)] : []),
    verdict === 'breaking' ? paint.red(verdictText(found)) : verdictText(found),
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
      draft: isUnread(change),
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
    fields: found.fields,
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
  const { texts, stale, fields, codes } = found;
  const rows = texts.map((change) => {
    const words = wordChanges(change.before?.text ?? '', change.after?.text ?? '', change.locale)
      .map(({ text, change: how }) =>
        how === 'same' ? forMarkdown(text) : around(text, how === 'removed' ? '~~' : '**'),
      )
      .join('');
    return `| ${forMarkdown(addressText(change.what))} | ${change.locale} | ${changeName(change)}${isUnread(change) ? ' (draft)' : ''} | ${words} | ${forMarkdown(argumentNotes(change).join('; '))} |`;
  });
  return [
    `**${verdictText(found)}** ${counts(found)}`,
    ...(rows.length > 0
      ? ['', '| text | locale | | words | arguments |', '| --- | --- | --- | --- | --- |', ...rows]
      : []),
    ...(fields.length + codes.length > 0
      ? [
          '',
          ...[...fields.map(fieldText), ...codes.map(codeText)].map(
            (one) => `- ${forMarkdown(one)}`,
          ),
        ]
      : []),
    ...(stale.length > 0
      ? [
          '',
          `Made stale: ${stale.map(({ what, locale }) => `${forMarkdown(addressText(what))} (${locale})`).join(', ')}`,
        ]
      : []),
    '',
  ].join('\n');
}
