import { check, type CheckResult } from '../../src/core/check/check.js';
import type { Catalog } from '../../src/core/catalog/catalog.js';
import { CatalogFamily } from '../../src/core/catalog/alike.js';
import { Texts } from '../../src/core/catalog/texts.js';
import { parseLocale, type Locale } from '../../src/core/locale/tag.js';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import { Sentences, type Sentence } from '../../src/core/violation/sentence.js';
import type { Violation } from '../../src/core/violation/violation.js';

type Json = Record<string, unknown>;

/** A workspace of plain objects: what the core makes of catalogs and a sheet, without a file. */
export class World {
  readonly forms: FormIndex[];
  readonly texts: Texts;
  private readonly catalogs;
  private readonly remarks;

  constructor(
    readonly parts: {
      texts: Json[];
      forms?: Json;
      starters?: Json[];
      then?: Record<string, string[]>;
      original?: string;
      limit?: number;
      problems?: string[];
      /** Whether catalogs are read as large ones are. */
      large?: boolean;
    },
  ) {
    const sheet = readSheet({ forms: parts.forms ?? {} }, 'rules.yaml');
    this.forms = sheet.forms.map((form) => new FormIndex(form));
    const family = new CatalogFamily();
    const read = (root: Json, at: number): Catalog =>
      family.read(root, `${String(at)}.json`, parseLocale(String(root.locale)), parts.large ? JSON.stringify(root) : undefined)
        .catalog;
    this.catalogs = parts.texts.map(read);
    this.remarks = [...sheet.remarks, ...this.catalogs.flatMap((catalog) => catalog.remarks)];
    const then = new Map(Object.entries(parts.then ?? {}).map(([tag, chain]) => [parseLocale(tag), chain.map(parseLocale)]));
    const starters = (parts.starters ?? []).map(read);
    this.texts = new Texts(this.catalogs, (locale) => starters.find((starter) => starter.locale === locale), {
      original: parseLocale(parts.original ?? 'en'),
      then,
    });
  }

  say(violation: Partial<Violation> & { path: string; rule: string }, locale = 'en', form = 0): Sentence {
    const index = this.forms[form];
    if (!index) throw new Error('no such form');
    return new Sentences(this.texts, index, { zone: 'UTC', limit: this.parts.limit ?? 40 }).say(violation, parseLocale(locale));
  }

  check(...locales: string[]): CheckResult {
    const asked: Locale[] = (locales.length > 0 ? locales : ['en']).map(parseLocale);
    return check({
      forms: this.forms.map(({ form }) => form),
      catalogs: this.catalogs,
      texts: this.texts,
      locales: asked,
      languages: asked,
      original: parseLocale(this.parts.original ?? 'en'),
      problems: this.parts.problems ?? [],
      settings: 'zeitwort.yaml',
      remarks: this.remarks,
    });
  }
}
