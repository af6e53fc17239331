import * as z from 'zod';
import { getOrMake } from '../../core/base/get-or-make.js';
import { LocaleError, parseLocale, type Locale } from '../../core/locale/tag.js';
import { Terms, type Concept, type Term } from '../../core/texts/terms.js';
import { readTbx } from '../../exchange/terms/tbx.js';
import { TranslationFileError } from '../../exchange/translations/unit.js';
import { complaint } from '../disk/complaint.js';
import { parseJson } from '../documents/json.js';
import { jsonLocator } from '../documents/json-places.js';
import { positionAt } from '../documents/position.js';
import { explainIssue } from './zod-issues.js';
import type { WorkspaceFolder } from './folder.js';

const words = z.array(z.string().min(1)).default([]);
const termSchema = z.union([
  z.string().min(1),
  z.strictObject({
    text: z.string().min(1).describe('the term'),
    forms: words.describe('other forms of it, such as its plural'),
    never: words.describe('words that must not be used for it'),
  }),
]);

/** A file of terms: concepts, each with its terms by language. */
export const termsSchema = z.strictObject({
  $schema: z.string().optional(),
  concepts: z.array(
    z.strictObject({
      id: z.string().min(1),
      note: z.string().optional().describe('what it is, for translators'),
      terms: z.record(z.string(), termSchema),
    }),
  ),
});

const KEYS = ['id', 'note', 'terms', 'text', 'forms', 'never', 'concepts'];

function fromJson(text: string, named: string): Concept[] {
  const value = parseJson(text, named, true);
  const refuse = (keys: readonly (string | number)[], at: 'key' | 'value', why: string): never => {
    const offset = jsonLocator(text)({ file: named, keys, at });
    throw complaint('wrong-content', [why], { file: named, ...positionAt(text, offset) });
  };
  const read = termsSchema.safeParse(value);
  if (!read.success) {
    const { keys, at, sentence } = explainIssue(read.error, value, 'a file of terms', () => KEYS);
    return refuse(keys, at, sentence);
  }
  return read.data.concepts.map(({ id, note, terms }, nth) => ({
    id,
    ...(note === undefined ? {} : { note }),
    terms: new Map(
      Object.entries(terms).map(([tag, term]): [Locale, Term] => {
        try {
          const one = typeof term === 'string' ? { text: term, forms: [], never: [] } : term;
          return [parseLocale(tag), one];
        } catch (error) {
          if (!(error instanceof LocaleError)) throw error;
          return refuse(['concepts', nth, 'terms', tag], 'key', error.message);
        }
      }),
    ),
  }));
}

function fromTbx(text: string, named: string): Concept[] {
  try {
    return readTbx(text);
  } catch (error) {
    if (!(error instanceof TranslationFileError)) throw error;
    const { line, column, message } = error;
    const place = line === undefined ? {} : { line, column: column ?? 1 };
    throw complaint('wrong-content', [message], { file: named, ...place });
  }
}

const known = new WeakMap<WorkspaceFolder, Terms>();

/** Returns the terms, read once for a reading of the workspace. */
export const termsOf = (folder: WorkspaceFolder): Terms =>
  getOrMake(known, folder, () => readTerms(folder));

/**
 * The terms of a workspace, and those of its house: JSON of our own, and TBX.
 * @throws {Complaint} when a file of them cannot be read
 */
function readTerms(folder: WorkspaceFolder): Terms {
  const { config, house } = folder;
  const files = [...folder.files(config.terms), ...(house?.files(house.config.terms) ?? [])];
  const concepts = files.flatMap((file) => {
    const text = folder.readFile(file, 'terms');
    const named = folder.shown(file);
    return /\.tbx$/i.test(file) ? fromTbx(text, named) : fromJson(text, named);
  });
  return new Terms(concepts);
}
