import { checking, done } from '../../src/core/check/check.js';
import { Context } from '../../src/core/check/subject/context.js';
import type { CheckResult } from '../../src/core/check/subject/result.js';
import { parseLocale, type Locale } from '../../src/core/locale/tag.js';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import type { Catalog } from '../../src/core/texts/catalog.js';
import { Texts } from '../../src/core/texts/ladder.js';
import type { Layer, Purposes } from '../../src/core/texts/purpose.js';
import { readCatalog } from '../../src/core/texts/read.js';
import { Table } from '../../src/core/texts/table.js';
import { Sentences, type Sentence } from '../../src/core/violation/sentence.js';
import type { Violation } from '../../src/core/rules/violation.js';
import type { Warn } from '../../src/core/violation/warning.js';

type Json = Record<string, unknown>;

/** A workspace of plain objects: what the core makes of catalogs and a sheet, without a file. */
export class World {
  readonly forms: FormIndex[];
  readonly texts: Texts;
  private readonly remarks;
  private readonly sentences: Sentences[] = [];

  constructor(
    readonly parts: {
      texts: Json[];
      forms?: Json;
      starters?: Json[];
      then?: Record<string, string[]>;
      original?: string;
      limit?: number;
      problems?: string[];
      warn?: Warn;
      asksInline?: boolean;
    },
  ) {
    const sheet = readSheet({ forms: parts.forms ?? {} }, 'rules.yaml');
    this.forms = sheet.forms.map((form) => new FormIndex(form));
    const original = parseLocale(parts.original ?? 'en');
    const localeOf = (root: Json): Locale => parseLocale(String(root.locale));
    const read = (
      root: Json | undefined,
      file: string,
      layer: Layer,
      purposes: Purposes,
    ): Catalog | undefined =>
      root && readCatalog(root, file, localeOf(root), layer, purposes).catalog;
    const nowhere = (): never => {
      throw new Error('no such file');
    };
    const table = new Table({
      original,
      files: parts.texts.map((root, at) => ({
        file: `${String(at)}.json`,
        locale: localeOf(root),
      })),
      read: (file, purposes) =>
        read(parts.texts[parseInt(file)], file, 'written', purposes) ?? nowhere(),
      starter: (locale, purposes) =>
        read(
          parts.starters?.find((root) => root.locale === locale),
          'starter.json',
          'starter',
          purposes,
        ),
      titles: () => [],
    });
    this.remarks = [...sheet.remarks, ...table.catalogs.flatMap((catalog) => catalog.remarks)];
    const then = new Map(
      Object.entries(parts.then ?? {}).map(([tag, chain]) => [
        parseLocale(tag),
        chain.map(parseLocale),
      ]),
    );
    this.texts = new Texts(table, { original, fallbacks: then });
  }

  say(
    violation: Partial<Violation> & { path: string; rule: string },
    locale = 'en',
    form = 0,
    inline = false,
  ): Sentence {
    const index = this.forms[form];
    if (!index) throw new Error('no such form');
    const options = { zone: 'UTC', shorten: this.parts.limit ?? 40, warn: this.parts.warn };
    const sentences = (this.sentences[form] ??= new Sentences(this.texts, index, options));
    return sentences.say(violation, parseLocale(locale), inline);
  }

  check(...locales: string[]): CheckResult {
    const asked: Locale[] = (locales.length > 0 ? locales : ['en']).map(parseLocale);
    const context = new Context({
      forms: this.forms.map(({ form }) => form),
      indexOf: (form) => this.forms.find((index) => index.form === form) ?? new FormIndex(form),
      texts: this.texts,
      locales: asked,
      allLocales: asked,
      original: parseLocale(this.parts.original ?? 'en'),
      problems: new Map((this.parts.problems ?? []).map((name) => [name, 409])),
      settings: 'zeitwort.yaml',
      asksInline: this.parts.asksInline,
      remarks: this.remarks,
    });
    return done(checking(context));
  }
}
