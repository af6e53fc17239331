import { parse } from 'csv-parse/sync';
import { parseLines } from 'dot-properties';
import { po as gettext } from 'gettext-parser';
import { isObject } from '../../core/reading.js';
import { delimiterOf } from '../delimiter.js';
import { TranslationFileError } from '../translations/unit.js';

/**
 * One text of an old catalog: its key, nested ones joined by dots, and one text or several for the
 * forms of a plural.
 */
export interface PlainText {
  readonly key: string;
  readonly texts: readonly string[];
}

/** Turns a package's error about a text into a refusal. */
function reading<T>(what: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    throw new TranslationFileError(
      `invalid ${what}: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
}

/** Flattens a nested catalog. Anything but texts and objects of them is listed as unreadable. */
export function flatten(root: unknown): { texts: PlainText[]; odd: string[] } {
  const texts: PlainText[] = [];
  const odd: string[] = [];
  const visit = (value: unknown, key: string): void => {
    if (typeof value === 'string') texts.push({ key, texts: [value] });
    else if (typeof value === 'number' || typeof value === 'boolean')
      texts.push({ key, texts: [String(value)] });
    else if (isObject(value))
      for (const [name, one] of Object.entries(value))
        visit(one, key === '' ? name : `${key}.${name}`);
    else odd.push(key);
  };
  visit(root, '');
  return { texts, odd };
}

/** PO: the key is the context, if there is one, else the original text. */
export function plainPo(text: string): PlainText[] {
  const { translations } = reading('PO file', () =>
    gettext.parse(text, { defaultCharset: 'utf-8', validation: false }),
  );
  return Object.values(translations).flatMap((byId) =>
    Object.values(byId).flatMap(({ msgctxt, msgid, msgstr }) => {
      const texts = (msgstr as string[] | undefined) ?? [];
      return msgid === '' || texts.every((one) => one === '')
        ? []
        : [{ key: msgctxt ?? msgid, texts }];
    }),
  );
}

/** CSV: the first column is the key, the second the text; a head is left out if it says so. */
export function plainCsv(text: string): PlainText[] {
  const rows: string[][] = reading('CSV', () =>
    parse(text, {
      bom: true,
      delimiter: delimiterOf(text),
      skip_empty_lines: true,
      relax_column_count: true,
    }),
  );
  const [head] = rows;
  const body = head && /^(key|id|name)$/i.test(head[0] ?? '') ? rows.slice(1) : rows;
  return body.map(([key = '', value = '']) => ({ key, texts: [value] }));
}

export function plainProperties(text: string): PlainText[] {
  const lines = reading(
    'properties file',
    () => parseLines(text.replace(/^\uFEFF/, '')) as (string | string[])[],
  );
  return lines.flatMap((line) => {
    const [key = '', value = ''] = Array.isArray(line) ? line : [];
    return Array.isArray(line) ? [{ key, texts: [value] }] : [];
  });
}
