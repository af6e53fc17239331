import type { Locale } from '../locale/tag.js';
import type { FormIndex } from '../rules/form-index.js';
import { MASK, valueText } from '../text/value.js';
import type { Phrase } from '../texts/phrase.js';
import { declaredBy, type Sentence } from '../violation/sentence.js';
import type { Violation } from '../rules/violation.js';

/** Finds file and line of a text; nothing where no file is known, as in packs. */
export type LocationOf = (
  text: Phrase,
) => { readonly file: string; readonly line?: number } | undefined;

/** The details of one violation for developers; clients never get them. */
export interface DeveloperDetail {
  readonly rule: string;
  readonly params?: Readonly<Record<string, unknown>>;
  /** The sent value, as text; masked where it is secret. */
  readonly value?: string;
  /** The key of the message in its catalog, and where it stands; absent where nobody wrote one. */
  readonly key?: string;
  readonly file?: string;
  readonly line?: number;
  /** The language of the text, where it is not the one asked for. */
  readonly fallback?: string;
}

/** Makes the details for developers. */
export function developerDetail(
  { case: { path, in: part, found, use } }: Sentence,
  { rule, params, value }: Violation,
  form: FormIndex,
  locale: Locale,
  limit: number,
  placeOf: LocationOf,
): DeveloperDetail {
  const secret = form.isSecretAt(path, part);
  const shown = secret
    ? MASK
    : value === undefined
      ? undefined
      : valueText(value, limit, path, form.gate(path, part));
  const all = {
    ...(use && declaredBy(use)),
    ...params,
    ...(secret && params?.name !== undefined ? { name: MASK } : {}),
  };
  // JSON has no numbers that large.
  const merged = Object.fromEntries(
    Object.entries(all).map(([name, one]) => [name, typeof one === 'bigint' ? String(one) : one]),
  );
  const where = found && placeOf(found);
  return {
    rule,
    ...(Object.keys(merged).length > 0 ? { params: merged } : {}),
    ...(shown === undefined ? {} : { value: shown }),
    ...(found?.key === undefined ? {} : { key: found.key }),
    ...(where ? { file: where.file } : {}),
    ...(where?.line === undefined ? {} : { line: where.line }),
    ...(found && found.locale !== locale ? { fallback: found.locale } : {}),
  };
}
