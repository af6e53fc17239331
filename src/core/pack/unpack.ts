import { MOST_TOLD, type AnswerOptions } from '../body/answer.js';
import { parseLocale, type Locale } from '../locale/tag.js';
import { parsePattern, printPath } from '../path/path.js';
import { FormIndex } from '../rules/form-index.js';
import { codeOf, type Field } from '../rules/form.js';
import { Entry, type EntryDetails } from '../texts/entry.js';
import { Texts } from '../texts/ladder.js';
import { Purposes, type Slot } from '../texts/purpose.js';
import { Table } from '../texts/table.js';
import type { Pack, PackField, PackLabel, PackText, PackWording } from './pack.js';
import { unpackTree } from './trees.js';

/** A pack made ready to answer with. */
export interface Unpacked {
  readonly locale: Locale;
  readonly forms: ReadonlyMap<string, FormIndex>;
  readonly texts: Texts;
  readonly options: AnswerOptions;
}

const NOWHERE = { file: '', keys: [] };

class Unpacker {
  private readonly purposes = new Purposes();
  /** The texts by locale: of several for one purpose the first. */
  private readonly texts = new Map<Locale, Map<Slot, Entry>>();
  private readonly locale: Locale;

  constructor(private readonly pack: Pack) {
    this.locale = parseLocale(pack.locale);
  }

  private entry(text: string, locale: Locale, slot: Slot, details?: EntryDetails): Entry {
    const { trees = {} } = this.pack;
    const tree = Object.hasOwn(trees, text) ? trees[text] : undefined;
    return new Entry(text, { file: '', locale }, slot, details, tree && (() => unpackTree(tree)));
  }

  private add({ text, locale }: PackText, slot: Slot, details?: (locale: Locale) => EntryDetails): void {
    const spoken = locale === undefined ? this.locale : parseLocale(locale);
    let texts = this.texts.get(spoken);
    if (!texts) this.texts.set(spoken, (texts = new Map<Slot, Entry>()));
    if (!texts.has(slot)) texts.set(slot, this.entry(text, spoken, slot, details?.(spoken)));
  }

  /** A label or a word, with its forms. */
  private word({ forms = {}, gender, ...text }: PackLabel, slotOf: (form: string) => Slot): void {
    this.add(text, slotOf(''), (locale) => ({
      forms: new Map(Object.entries(forms).map(([name, form]) => [name, this.entry(form, locale, slotOf(name))])),
      ...(gender === undefined ? {} : { gender }),
    }));
  }

  /** Frames and words of a form, or of all. */
  private wording(form: string | undefined, { frames = {}, words = {} }: PackWording): void {
    const scope = this.purposes.scope('written', form);
    for (const [name, texts] of Object.entries(frames)) for (const text of texts) this.add(text, scope.slot('frame', name));
    for (const [key, texts] of Object.entries(words))
      for (const text of texts) this.word(text, (form) => scope.slot('word', form === '' ? key : `${key} ${form}`));
  }

  /** Puts a field's texts where its form finds them. */
  private fieldTexts(form: string, { path, labels, rules, choices = {} }: PackField): void {
    const field = this.purposes.scope('written', form).field(path);
    for (const label of labels) this.word(label, (name) => field.slot('label', name));
    // Of several uses under one key the first is what the key says.
    for (const rule of rules) {
      if (rule.message) this.add(rule.message, field.slot('message', codeOf(rule)));
      if (rule.inline) this.add(rule.inline, field.slot('inline', codeOf(rule)));
    }
    for (const [value, text] of Object.entries(choices)) this.add(text, field.slot('choice', value));
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
        blank: field.blank ?? false,
      },
      uses: field.rules.map(({ rule, as, external, params, problem, field: other }) => ({
        ...{ rule, external: external ?? false, params, origin: NOWHERE },
        ...(external ? { constants: params } : {}),
        ...(as === undefined ? {} : { as }),
        ...(problem === undefined ? {} : { problem }),
        ...(other === undefined ? {} : { counterpart: parsePattern(other) }),
      })),
      origin: NOWHERE,
    };
  }

  private table(original: Locale): Table {
    const files = [...this.texts.keys()].map((locale) => ({ file: locale, locale }));
    return new Table(
      {
        ...{ files, original, starter: () => undefined, titles: () => [] },
        read: (file) => ({
          ...{ file: '', locale: file as Locale, fields: [], problems: [], remarks: [] },
          texts: [...(this.texts.get(file as Locale)?.values() ?? [])],
        }),
      },
      this.purposes,
    );
  }

  unpack(): Unpacked {
    const forms = new Map<string, FormIndex>();
    for (const [id, form] of Object.entries(this.pack.forms)) {
      this.wording(id, form);
      for (const field of form.fields) this.fieldTexts(id, field);
      const { request, partial = false } = form;
      const fields = form.fields.filter(({ texts }) => !texts).map((field) => this.field(field));
      forms.set(id, new FormIndex({ id, ...(request === undefined ? {} : { request }), partial, fields, origin: NOWHERE }));
    }
    const general = this.purposes.scope('written', undefined);
    this.wording(undefined, this.pack);
    const { messages, inlines = {} } = this.pack;
    for (const [key, text] of Object.entries(messages)) this.add(text, general.slot('message', key));
    for (const [key, text] of Object.entries(inlines)) this.add(text, general.slot('inline', key));
    for (const [id, { title, detail }] of Object.entries(this.pack.problems)) {
      if (title) this.add(title, general.slot('problem', `${id} title`));
      if (detail) this.add(detail, general.slot('problem', `${id} detail`));
    }
    const { zone, limit, perField, most = MOST_TOLD, typeBase, inline } = this.pack.settings;
    const original = parseLocale(this.pack.settings.original);
    const fallbacks = new Map([[this.locale, [...this.texts.keys()].filter((one) => one !== this.locale)]]);
    return {
      locale: this.locale,
      forms,
      texts: new Texts(this.table(original), { original, fallbacks }),
      options: {
        ...{ zone, limit, perField, most, typeBase, inline },
        statuses: new Map(Object.entries(this.pack.problems).map(([id, { status }]) => [id, status])),
      },
    };
  }
}

/** Makes a pack ready to answer with; no lookup is left to do but by path. */
export function unpack(pack: Pack): Unpacked {
  return new Unpacker(pack).unpack();
}
