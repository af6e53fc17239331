import { po as gettext, type GetTextTranslation } from 'gettext-parser';
import { stateOf, TranslationFileError, type ReadUnit, type ReadUnits, type TranslationFormat, type UnitFile } from './unit.js';
import { keyed } from '../../core/keyed.js';

// gettext PO, with whole ICU messages: PO's own plural forms know one number and no other case, so nothing is cut up for them.

function write({ original, locale, units }: UnitFile): string {
  const translations: Record<string, Record<string, GetTextTranslation>> = keyed();
  for (const { key, source, target, state, stale, before, note, about, limit } of units) {
    const comments = {
      translator: '',
      extracted: [
        ...(note === undefined ? [] : note.split('\n')),
        ...(about === undefined ? [] : about.split('\n')),
        ...(limit === undefined ? [] : [`limit: ${limit}`]),
        ...(target === undefined || state === undefined ? [] : [`state: ${state}`]),
        ...(target !== undefined && stale ? ['stale'] : []),
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

const SIGNS: Readonly<Record<string, number>> = keyed({ a: 7, b: 8, f: 12, v: 11 });

/** A text as it stands between the quotes of a PO file. */
const requoted = (text: string): string => text.replace(/["\\]/g, (sign) => `\\${sign}`).replaceAll('\n', '\\n');

/**
 * Escapes of C that the parser does not know: octal and hexadecimal ones are bytes, of which several make a character
 * (gettext manual, section on the format of PO files).
 */
function withoutEscapes(text: string): string {
  if (!/\\[0-7xabfv]/.test(text)) return text;
  return text.replace(/"(?:[^"\\\n]|\\.)*"/g, (quoted) =>
    quoted.replace(/\\(?:[^0-7xabfv]|x(?![0-9a-f]))|(?:\\(?:[0-7]{1,3}|x[0-9a-f]{1,2}|[abfv]))+/gi, (run) => {
      if (!/^\\(?:[0-7abfv]|x[0-9a-f])/i.test(run)) return run;
      const bytes = [...run.matchAll(/\\(?:([0-7]{1,3})|x([0-9a-f]{1,2})|([abfv]))/gi)].map(([, octal, hex, sign]) =>
        octal !== undefined
          ? Number.parseInt(octal, 8)
          : hex !== undefined
            ? Number.parseInt(hex, 16)
            : (SIGNS[sign?.toLowerCase() ?? ''] ?? 0),
      );
      return requoted(new TextDecoder().decode(Uint8Array.from(bytes)));
    }),
  );
}

function read(text: string): ReadUnits {
  let file: ReturnType<typeof gettext.parse>;
  try {
    file = gettext.parse(withoutEscapes(text), { defaultCharset: 'utf-8', validation: false });
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
      const wasStale = /^stale$/m.test(comments?.extracted ?? '');
      // What came stale and is still fuzzy is as it went; a text that is no longer fuzzy was looked at by somebody.
      const state = fuzzy ? (wasStale ? stateOf(told) : 'initial') : told === 'initial' ? 'translated' : stateOf(told);
      return [{ key: msgctxt ?? msgid, source: msgid, target, state, confirmed: wasStale && !fuzzy }];
    }),
  );
  // A file may come without the entry that holds the headers.
  const { headers = {} } = file as { headers?: Readonly<Record<string, string | undefined>> };
  const locale = headers.Language ?? headers.language;
  return { ...(locale === undefined || locale === '' ? {} : { locale: locale.replace('_', '-') }), units };
}

export const po: TranslationFormat = { extension: 'po', write, read };
