import { csv } from './csv.js';
import { po } from './po.js';
import { properties } from './properties.js';
import type { TranslationFormat } from './unit.js';
import { xliff } from './xliff.js';

/** The formats that go to translators and come back, by name. */
export const TRANSLATION_FORMATS = { xliff, po, csv, properties } as const satisfies Readonly<
  Record<string, TranslationFormat>
>;
export type TranslationFormatName = keyof typeof TRANSLATION_FORMATS;
