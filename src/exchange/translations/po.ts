import { po as gettext, type GetTextTranslation } from 'gettext-parser';
import {
  TranslationFileError,
  type ReadUnit,
  type ReadUnits,
  type TranslationFormat,
  type UnitFile,
} from './unit.js';
import { toldTerm } from '../../core/texts/terms.js';
import { keyed } from '../../core/base/keyed.js';

// gettext PO, with whole ICU messages: PO's own plural forms know one number and no other case, so
// nothing is cut up for them.

function write({ original, locale, units }: UnitFile): string {
  const translations: Record<string, Record<string, GetTextTranslation>> = keyed();
  for (const unit of units) {
    const { key, source, target, state, stale, before, note, about, room, exported, terms } = unit;
    const comments = {
      translator: '',
      extracted: [
        ...(note === undefined ? [] : note.split('\n')),
        ...(about === undefined ? [] : about.split('\n')),
        ...(terms ?? []).map((term) => `term: ${toldTerm(term)}`),
        ...(room === undefined ? [] : [`room: ${room}`]),
        ...(target === undefined || state === undefined ? [] : [`state: ${state}`]),
        ...(target !== undefined && stale ? ['stale'] : []),
      ].join('\n'),
      reference: exported === undefined ? '' : `${EXPORTED}${exported}`,
      flag: target !== undefined && (stale || state === 'initial') ? 'fuzzy' : '',
      previous: before === undefined ? '' : `msgid ${JSON.stringify(before)}`,
    };
    (translations[key] ??= keyed())[source] = {
      msgctxt: key,
      msgid: source,
      msgstr: [target ?? ''],
      comments,
    };
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

/** Stands before the word that comes back as it went: programs keep references. */
const EXPORTED = 'exported:';

const SIGNS: Readonly<Record<string, number>> = keyed({ a: 7, b: 8, f: 12, v: 11 });

/** A text as it stands between the quotes of a PO file. */
const requoted = (text: string): string =>
  text.replace(/["\\]/g, (sign) => `\\${sign}`).replaceAll('\n', '\\n');

/**
 * Escapes of C that the parser does not know: octal and hexadecimal ones are bytes, of which
 * several make a character (gettext manual, section on the format of PO files).
 */
function withoutEscapes(text: string): string {
  if (!/\\[0-7xabfv]/.test(text)) return text;
  // Line by line, each from its first quotation mark to its last.
  return text.replace(
    /^([^"\n]*)(".*")/gm,
    (_, before: string, quoted: string) =>
      before +
      quoted.replace(
        /\\(?:[^0-7xabfv]|x(?![0-9a-f]))|(?:\\(?:[0-7]{1,3}|x[0-9a-f]{1,2}|[abfv]))+/gi,
        (run) => {
          if (!/^\\(?:[0-7abfv]|x[0-9a-f])/i.test(run)) return run;
          const bytes = [...run.matchAll(/\\(?:([0-7]{1,3})|x([0-9a-f]{1,2})|([abfv]))/gi)].map(
            ([, octal, hex, sign]) =>
              octal !== undefined
                ? Number.parseInt(octal, 8)
                : hex !== undefined
                  ? Number.parseInt(hex, 16)
                  : (SIGNS[sign?.toLowerCase() ?? ''] ?? 0),
          );
          return requoted(new TextDecoder().decode(Uint8Array.from(bytes)));
        },
      ),
  );
}

/**
 * The parser keeps entries in objects by context and by text, where names such as `__proto__` mean
 * something else. A sign that no text has stands before each, so that none is such a name.
 */
const SIGN = '\u0001';

const marked = (text: string): string =>
  text.replace(/^([ \t]*(?:#~[ \t]*)?msg(?:ctxt|id)[ \t]*")/gm, `$1${SIGN}`);
const unmarked = (text: string): string => (text.startsWith(SIGN) ? text.slice(1) : text);

function read(text: string): ReadUnits {
  let file: ReturnType<typeof gettext.parse>;
  try {
    file = gettext.parse(marked(withoutEscapes(text)), {
      defaultCharset: 'utf-8',
      validation: false,
    });
  } catch (error) {
    const { message, lineNumber } = error as Error & { lineNumber?: number };
    throw new TranslationFileError(
      `this is not a PO file: ${message}`,
      lineNumber,
      lineNumber === undefined ? undefined : 1,
    );
  }
  let headers = '';
  const units = Object.values(file.translations).flatMap((byId) =>
    Object.values(byId).flatMap(({ msgctxt: context, msgid: id, msgstr, comments }): ReadUnit[] => {
      const [msgctxt, msgid] = [
        context === undefined ? undefined : unmarked(context),
        unmarked(id),
      ];
      if (msgid === '' && msgctxt === undefined) {
        headers = (msgstr as string[] | undefined)?.[0] ?? '';
        return [];
      }
      const fuzzy = /\bfuzzy\b/.test(comments?.flag ?? '');
      const noted = /^state: (\w+)$/m.exec(comments?.extracted ?? '')?.[1];
      const wasStale = /^stale$/m.test(comments?.extracted ?? '');
      // What came stale and is still fuzzy is as it went; a text that is no longer fuzzy was looked
      // at by somebody.
      const state = fuzzy
        ? wasStale
          ? 'stale'
          : 'initial'
        : noted === 'initial'
          ? 'translated'
          : noted;
      const words = comments?.reference?.split(/\s+/) ?? [];
      return [
        {
          key: msgctxt ?? msgid,
          source: msgid,
          // The parser gives none where the file has none.
          target: (msgstr as string[] | undefined)?.[0],
          state,
          isDraft: fuzzy && !wasStale,
          exported: words.find((word) => word.startsWith(EXPORTED))?.slice(EXPORTED.length),
          note: comments?.translator,
        },
      ];
    }),
  );
  // A file may come without the entry that holds the headers.
  const locale = /^language:[ \t]*(\S+)/im.exec(headers)?.[1];
  return {
    ...(locale === undefined || locale === '' ? {} : { locale: locale.replace('_', '-') }),
    units,
  };
}

export const po: TranslationFormat = { extension: 'po', write, read };
