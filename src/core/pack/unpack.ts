import { MOST_TOLD, type AnswerOptions } from '../body/answer.js';
import type { Catalog, FieldTexts, Label, ProblemTexts } from '../catalog/catalog.js';
import { Entry } from '../catalog/entry.js';
import { Texts } from '../catalog/texts.js';
import { parseLocale, type Locale } from '../locale/tag.js';
import { parsePattern, printPath } from '../path/path.js';
import { FormIndex } from '../rules/form-index.js';
import { codeOf, type Field } from '../rules/form.js';
import type { Pack, PackField, PackLabel, PackText } from './pack.js';

/** A pack made ready to answer with. */
export interface Unpacked {
  readonly locale: Locale;
  readonly forms: ReadonlyMap<string, FormIndex>;
  readonly texts: Texts;
  readonly options: AnswerOptions;
}

const NOWHERE = { file: '', keys: [] };

class Unpacker {
  /** Catalogs by locale and form, made as texts of them come up. */
  private readonly catalogs = new Map<string, Catalog>();
  private readonly locale: Locale;

  constructor(private readonly pack: Pack) {
    this.locale = parseLocale(pack.locale);
  }

  private entry({ text, locale }: PackText): Entry {
    return new Entry(text, locale === undefined ? this.locale : parseLocale(locale), NOWHERE);
  }

  private catalog(locale: Locale, form?: string): Catalog {
    const id = `${locale} ${form ?? ''}`;
    let catalog = this.catalogs.get(id);
    if (!catalog) {
      const more = { messages: new Map(), fields: [], problems: new Map(), excused: [], remarks: [] };
      catalog = { file: '', locale, ...(form === undefined ? {} : { form }), ...more };
      this.catalogs.set(id, catalog);
    }
    return catalog;
  }

  private label({ forms = {}, gender, ...text }: PackLabel): Label {
    const base = this.entry(text);
    return {
      base,
      forms: new Map(Object.entries(forms).map(([name, one]) => [name, new Entry(one, base.locale, NOWHERE)])),
      ...(gender === undefined ? {} : { gender }),
    };
  }

  /** Puts a field's texts into the catalogs of their languages. */
  private fieldTexts(form: string, field: PackField): void {
    const pattern = parsePattern(field.path);
    const byLocale = new Map<Locale, { label?: Label; messages: Map<string, Entry>; choices: Map<string, Entry> }>();
    const of = (locale: Locale): { label?: Label; messages: Map<string, Entry>; choices: Map<string, Entry> } => {
      const known = byLocale.get(locale) ?? { messages: new Map<string, Entry>(), choices: new Map<string, Entry>() };
      byLocale.set(locale, known);
      return known;
    };
    for (const packed of field.labels) {
      const label = this.label(packed);
      of(label.base.locale).label ??= label;
    }
    for (const rule of field.rules) {
      const entry = rule.message && this.entry(rule.message);
      // Of several uses under one key the first is what the key says.
      if (entry && !of(entry.locale).messages.has(codeOf(rule))) of(entry.locale).messages.set(codeOf(rule), entry);
    }
    for (const [value, text] of Object.entries(field.choices ?? {})) {
      const entry = this.entry(text);
      of(entry.locale).choices.set(value, entry);
    }
    for (const [locale, texts] of byLocale) {
      const entry: FieldTexts = { pattern, path: field.path, ...texts, origin: NOWHERE };
      (this.catalog(locale, form).fields as FieldTexts[]).push(entry);
    }
  }

  private field(field: PackField): Field {
    const pattern = parsePattern(field.path);
    return {
      ...{
        pattern,
        path: printPath(pattern),
        in: field.in ?? 'body',
        optional: false,
        trim: false,
        secret: field.secret ?? false,
      },
      uses: field.rules.map(({ rule, as, external, params, field: other }) => ({
        ...{ rule, external: external ?? false, params, origin: NOWHERE },
        ...(as === undefined ? {} : { as }),
        ...(other === undefined ? {} : { counterpart: parsePattern(other) }),
      })),
      origin: NOWHERE,
    };
  }

  unpack(): Unpacked {
    const forms = new Map<string, FormIndex>();
    for (const [id, form] of Object.entries(this.pack.forms)) {
      for (const field of form.fields) this.fieldTexts(id, field);
      const { request, partial = false } = form;
      const fields = form.fields.map((field) => this.field(field));
      forms.set(id, new FormIndex({ id, ...(request === undefined ? {} : { request }), partial, fields, origin: NOWHERE }));
    }
    for (const [key, text] of Object.entries(this.pack.messages)) {
      const entry = this.entry(text);
      (this.catalog(entry.locale).messages as Map<string, Entry>).set(key, entry);
    }
    for (const [id, texts] of Object.entries(this.pack.problems)) this.problem(id, texts);
    const { original, zone, limit, each, most = MOST_TOLD, typeBase } = this.pack.settings;
    const locales = [...this.catalogs.values()].map(({ locale }) => locale);
    const then = new Map([[this.locale, [...new Set(locales)].filter((one) => one !== this.locale)]]);
    return {
      locale: this.locale,
      forms,
      texts: new Texts([...this.catalogs.values()], () => undefined, { original: parseLocale(original), then }),
      options: {
        ...{ zone, limit, each, most, typeBase },
        statuses: new Map(Object.entries(this.pack.problems).map(([id, { status }]) => [id, status])),
      },
    };
  }

  private problem(id: string, { title, detail }: { title?: PackText; detail?: PackText }): void {
    for (const [part, text] of [
      ['title', title],
      ['detail', detail],
    ] as const) {
      if (!text) continue;
      const entry = this.entry(text);
      const problems = this.catalog(entry.locale).problems as Map<string, ProblemTexts>;
      problems.set(id, { ...problems.get(id), [part]: entry });
    }
  }
}

/** Makes a pack ready to answer with; no lookup is left to do but by path. */
export function unpack(pack: Pack): Unpacked {
  return new Unpacker(pack).unpack();
}
