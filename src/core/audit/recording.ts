import type { Loose } from '../reading.js';

/** A body as it was kept: as its text, or as what its JSON holds. */
export type Kept = { readonly text: string } | { readonly value: Loose };

/** A body as text. */
export const textOf = (kept: Kept): string =>
  'text' in kept ? kept.text : JSON.stringify(kept.value);

/** Parses the JSON of a body; returns nothing where it is not JSON. */
export function jsonOf(kept: Kept): { readonly value: Loose } | undefined {
  if ('value' in kept) return kept;
  try {
    return { value: JSON.parse(kept.text) as Loose };
  } catch {
    return undefined;
  }
}

/** One response as it was recorded, whatever recorded it. */
export interface Recorded {
  /** Where it stands: a file and, in a file of many, which one of them or which line. */
  readonly location: { readonly file: string; readonly entry?: number; readonly line?: number };
  /**
   * The request's method and path without its query, such as `POST /proposals`; absent where only
   * bodies were kept.
   */
  readonly endpoint?: string | undefined;
  readonly query?: string | undefined;
  /** The body that was sent, where it was kept. */
  readonly sent?: Kept | undefined;
  readonly status?: number | undefined;
  readonly mediaType?: string | undefined;
  readonly language?: string | undefined;
  readonly body: Kept;
}

export type DeviationKind =
  | 'other-shape'
  | 'other-status'
  | 'other-media-type'
  | 'wrong-language'
  | 'raw-path'
  | 'unknown-text'
  | 'leak'
  | 'too-few';

/** One way in which a response departs from the contract. */
export interface Deviation {
  readonly kind: DeviationKind;
  readonly message: string;
}

/** Explains each kind, for reports and the reference. */
export const DEVIATIONS: Readonly<Record<DeviationKind, string>> = {
  'other-shape': 'An error body is not laid out as the contract says.',
  'other-status': 'A problem comes with another status than it has.',
  'other-media-type': 'An error body comes with another media type than its shape has.',
  'wrong-language':
    'Content-Language is missing, names a language that is not spoken, or not that of the texts.',
  'raw-path': 'A text for people names a field by its path, such as targets.2.name.',
  'unknown-text': 'A text stands in no catalog.',
  leak: 'A body shows what is internal: a stack trace, a class, a query, a file of the server.',
  'too-few': 'A body has fewer violations than the request, though it should have all.',
};
