import { MarkupKind, type Hover } from 'vscode-languageserver/node';
import type { Row } from '../core/check/subject/context.js';
import type { Finding } from '../core/finding.js';
import type { Locale } from '../core/locale/tag.js';
import { messageCursor } from '../core/message/cursor.js';
import { codeOf, keysOf, type RuleUse } from '../core/rules/form.js';
import { VOCABULARY } from '../core/rules/vocabulary.js';
import { forMarkdown } from '../core/text/media.js';
import { cleaned } from '../core/text/value.js';
import type { Entry } from '../core/texts/entry.js';
import { termsFor, toldTerm } from '../core/texts/terms.js';
import { rungOf } from '../core/texts/ladder.js';
import { sampleIn } from '../core/violation/samples.js';
import { sentencesOf } from '../workspace/answering/answering.js';
import { argumentMeaning, placesOf } from '../workspace/editing/briefing.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import { termsOf } from '../workspace/reading/terms.js';
import { aboutKind } from './diagnostics.js';
import type { Cursor } from './session.js';
import { rowOf, targetAt, type Target, type TextTarget } from './target.js';

/** So many fields that a text is for are named. */
const NAMED = 5;

/** Escapes marks that Markdown would read as layout. */
const plain = (text: string): string => forMarkdown(cleaned(text));

/** How a rule is declared, on a line. */
function declared(use: RuleUse): string {
  const params = Object.entries(use.params).map(
    ([name, value]) => `${name}: ${JSON.stringify(value)}`,
  );
  return `${use.rule}${use.as === undefined ? '' : ` as ${use.as}`}${params.length === 0 ? '' : ` (${params.join(', ')})`}`;
}

/**
 * Formats the text of one language; the language in hand is bold. Clients without layout show lists
 * well.
 */
const line = (locale: string, text: string, isMine: boolean, from = ''): string =>
  `- ${isMine ? `**${locale}**` : locale}: ${text}${from === '' ? '' : ` *(${from})*`}`;

/**
 * Returns the sentences that clients read in every language when a rule is broken, with sample
 * values.
 */
export function sentencesOfAll(row: Row, workspace: Workspace, mine?: Locale): string {
  const form = workspace.form(row.form.id);
  const violation = sampleIn(form.form, row.field, row.use);
  const sentences = sentencesOf(workspace, form);
  const lines = workspace.config.locales.map((locale) => {
    const { text } = sentences.say(violation, locale);
    const found = workspace.texts.message(
      { form: row.form.id, path: row.field.pattern, keys: row.keys },
      locale,
    );
    const from = !found
      ? 'none: the text for "unnamed"'
      : found.purpose.layer === 'starter' || found.purpose.layer === 'house'
        ? `the ${found.purpose.layer}${found.locale === locale ? '' : ` of ${found.locale}`}`
        : found.locale === locale
          ? ''
          : `text of ${found.locale}`;
    return line(locale, plain(text), locale === mine, from);
  });
  return lines.join('\n');
}

const placeOf = (entry: Entry, workspace: Workspace): string => {
  const { file, line } = workspace.place({ ...entry.origin, at: 'value' });
  return plain(line === undefined ? file : `${file}:${line}`);
};

const RUNG_NAMES = {
  'field-of-form': 'for this field in one form',
  field: 'for this field',
  'message-of-form': 'for the rule in one form',
  message: 'for the rule',
  house: 'of the house',
  starter: 'of the starter',
} as const;

/** Returns the text that clients would read without this one. */
function insteadOf({ entry }: TextTarget, row: Row, workspace: Workspace): string {
  const all = workspace.allTexts.whole(
    { form: row.form.id, path: row.field.pattern, keys: row.keys },
    entry.locale,
  );
  const at = all.findIndex((one) => one === entry || one.details.inline === entry);
  if (at > 0 && all[0])
    return `Clients do not get this text for ${row.field.path || 'the body'}: ${placeOf(all[0], workspace)} stands in front of it.`;
  if (entry.purpose.kind === 'inline')
    return 'Were it not there, the whole sentence would stand beside the input too.';
  const next = all[at + 1];
  if (!next) return 'Were it not there, clients would get the text for "unnamed".';
  const where = `${RUNG_NAMES[rungOf(next.purpose)]}${next.locale === entry.locale ? '' : ` in ${next.locale}`}`;
  return `Were it not there, clients would get the text ${where} (${placeOf(next, workspace)}): ${plain(next.text)}`;
}

function usersOf(rows: readonly Row[]): string {
  if (rows.length === 0) return 'No rule uses this text.';
  const lines = placesOf(rows, NAMED, plain).map((line) => `For ${line}.`);
  return lines.join(' ');
}

/** The terms of the house in a text, as its language has them. */
function termsAbout({ locale, text, purpose }: Entry, workspace: Workspace): string[] {
  const { original } = workspace.config;
  const source = workspace.table.cell(original, purpose)?.text ?? text;
  const terms = termsFor(termsOf(workspace), source, original, locale);
  return terms.length === 0 ? [] : [`Terms: ${terms.map(toldTerm).map(plain).join('; ')}.`];
}

function aboutText(cursor: Cursor, target: TextTarget): string[] {
  const { entry, offset } = target;
  const { purpose } = entry;
  const rows = cursor.places.rows(entry);
  const [row] = rows;
  const name = offset === undefined ? undefined : argumentAt(entry, offset);
  const terms = termsAbout(entry, cursor.workspace);
  const argument =
    name === undefined ? [] : [`\`{${name}}\`: ${argumentMeaning(name, purpose, row)}`];
  if (purpose.kind !== 'message' && purpose.kind !== 'inline') {
    const others = cursor.workspace.config.locales.flatMap((locale) => {
      const other = cursor.workspace.table.cell(locale, purpose);
      return other ? [line(locale, plain(other.text), locale === entry.locale)] : [];
    });
    const users = purpose.field ? [usersOf(rows)] : [];
    return [...argument, others.join('\n'), ...terms, ...users];
  }
  if (!row) return [...argument, ...terms, usersOf(rows)];
  const rule = VOCABULARY.get(row.use.rule);
  return [
    ...argument,
    `**${plain(declared(row.use))}**${rule ? `: ${rule.about}` : ', which the backend checks'}`,
    sentencesOfAll(row, cursor.workspace, entry.locale),
    ...terms,
    usersOf(rows),
    insteadOf(target, row, cursor.workspace),
  ];
}

/** The argument that is named at an offset of a text. */
function argumentAt({ text }: Entry, offset: number): string | undefined {
  const cursor = messageCursor(text, offset);
  if (cursor.in === 'name') return /^[\w-]+/.exec(text.slice(cursor.from))?.[0];
  return cursor.in === 'text' ? undefined : cursor.name;
}

function aboutTarget(cursor: Cursor, target: Target): string[] {
  const { workspace } = cursor;
  switch (target.sort) {
    case 'text':
      return aboutText(cursor, target);
    case 'kind':
      return [aboutKind(target.name) ?? `There is no kind of finding "${plain(target.name)}".`];
    case 'rule': {
      const row = rowOf(target);
      const rule = VOCABULARY.get(target.use.rule);
      const about = rule ? rule.about : 'only the backend can check it';
      const code = codeOf(target.use);
      return [
        `**${plain(declared(target.use))}** of ${plain(target.field.path) || 'the body'}: ${about}`,
        ...(row ? [sentencesOfAll(row, workspace)] : []),
        `Texts under ${keysOf(target.use)
          .map((key) => `\`${key}\``)
          .join(' or ')}; clients see the code \`${code}\`.`,
      ];
    }
    case 'field':
    case 'path': {
      const { pattern } = target.field;
      const forms = target.sort === 'field' ? [target.form.id] : [...workspace.forms.keys()];
      const [form = ''] = forms;
      const lines = workspace.config.locales.map((locale) => {
        const label = workspace.texts.label(
          target.sort === 'path' ? (target.catalog.form ?? form) : form,
          pattern,
          locale,
        );
        return line(locale, label ? plain(label.text) : 'no label', false);
      });
      return [`**${plain(target.field.path) || 'the body'}**`, lines.join('\n')];
    }
    case 'form': {
      const { id, request, fields } = target.form;
      return [
        `**${plain(id)}**${request === undefined ? '' : ` (${plain(request)})`}: ${fields.length} fields`,
      ];
    }
  }
}

/** Explains the findings at a place. */
function aboutFindings(findings: readonly Finding[]): string[] {
  const kinds = new Set(findings.map(({ kind }) => kind));
  return [...kinds].flatMap((kind) => aboutKind(kind) ?? []);
}

/**
 * Returns the hover at a place.
 * @param findings the findings at this place
 */
export function hoverAt(
  cursor: Cursor,
  offset: number,
  findings: readonly Finding[],
): Hover | undefined {
  const target = targetAt(cursor, offset);
  const parts = [...(target ? aboutTarget(cursor, target) : []), ...aboutFindings(findings)];
  if (parts.length === 0) return undefined;
  const range = target && cursor.source.range(target.extent);
  return {
    contents: { kind: MarkupKind.Markdown, value: parts.join('\n\n') },
    ...(range ? { range } : {}),
  };
}
