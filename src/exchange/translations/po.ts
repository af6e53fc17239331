import { po as gettext, type GetTextTranslation } from 'gettext-parser';
import { stateOf, TranslationFileError, type ReadUnit, type ReadUnits, type TranslationFormat, type UnitFile } from './unit.js';

// gettext PO, with whole ICU messages: PO's own plural forms know one number and no other case, so nothing is cut up for them.

function write({ original, locale, units }: UnitFile): string {
  const translations: Record<string, Record<string, GetTextTranslation>> = {};
  for (const { key, source, target, state, stale, before, note, limit } of units) {
    const comments = {
      translator: '',
      extracted: [
        ...(note === undefined ? [] : note.split('\n')),
        ...(limit === undefined ? [] : [`limit: ${limit}`]),
        ...(target === undefined || state === undefined ? [] : [`state: ${state}`]),
      ].join('\n'),
      reference: '',
      flag: target !== undefined && (stale || state === 'initial') ? 'fuzzy' : '',
      previous: before === undefined ? '' : `msgid ${JSON.stringify(before)}`,
    };
    (translations[key] ??= {})[source] = { msgctxt: key, msgid: source, msgstr: [target ?? ''], comments };
  }
  const text = gettext
    .compile(
      {
        charset: 'utf-8',
        headers: {
          'Content-Type': 'text/plain; charset=UTF-8',
          'Content-Transfer-Encoding': '8bit',
          'MIME-Version': '1.0',
          Language: locale,
          'X-Source-Language': original,
        },
        translations,
      },
      { foldLength: 0 },
    )
    .toString('utf8');
  return text.endsWith('\n') ? text : `${text}\n`;
}

function read(text: string): ReadUnits {
  let file: ReturnType<typeof gettext.parse>;
  try {
    file = gettext.parse(text, { defaultCharset: 'utf-8', validation: false });
  } catch (error) {
    const { message, lineNumber } = error as Error & { lineNumber?: number };
    throw new TranslationFileError(`this is no PO file: ${message}`, lineNumber, lineNumber === undefined ? undefined : 1);
  }
  const units = Object.values(file.translations).flatMap((byId) =>
    Object.values(byId).flatMap(({ msgctxt, msgid, msgstr, comments }): ReadUnit[] => {
      if (msgid === '' && msgctxt === undefined) return [];
      const fuzzy = /\bfuzzy\b/.test(comments?.flag ?? '');
      const told = /^state: (translated|reviewed|final|initial)$/m.exec(comments?.extracted ?? '')?.[1];
      // The parser gives none where the file has none.
      const [first = ''] = (msgstr as string[] | undefined) ?? [];
      const target = first === '' ? undefined : first;
      // A text that is no longer fuzzy was looked at by somebody.
      const state = fuzzy ? 'initial' : told === 'initial' ? 'translated' : stateOf(told);
      return [{ key: msgctxt ?? msgid, source: msgid, target, state }];
    }),
  );
  // A file may come without the entry that holds the headers.
  const { headers = {} } = file as { headers?: Readonly<Record<string, string | undefined>> };
  const locale = headers.Language ?? headers.language;
  return { ...(locale === undefined || locale === '' ? {} : { locale: locale.replace('_', '-') }), units };
}

export const po: TranslationFormat = { extension: 'po', write, read };
