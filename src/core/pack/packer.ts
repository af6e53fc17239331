import { getOrMake } from '../base/get-or-make.js';
import type { Entry } from '../texts/entry.js';
import {
  isInflection,
  type FieldEntry,
  type FrameName,
  type ScopeTextKind,
  type WordGroup,
} from '../texts/purpose.js';
import type { Question } from '../texts/lookup.js';
import type { Locale } from '../locale/tag.js';
import { ANY_ELEMENT, printPath, type Pattern } from '../path/path.js';
import { isBlankMissing } from '../rules/blank.js';
import { canonical } from '../rules/equality.js';
import { codesOf, narrowerPatterns, sayable, Undeclared } from './written-at.js';
import { meet } from '../path/cover.js';
import { codeOf, keysOf, type Field, type Form, type Join, type RuleUse } from '../rules/form.js';

import type {
  PackText,
  PackRungs,
  PackLabel,
  PackRule,
  PackField,
  PackWording,
  PackProblems,
  PackForm,
  PackJoin,
  Pack,
  PackSource,
} from './pack.js';

const packedJoin = ({ pattern, in: part, root, isChoice }: Join): PackJoin => ({
  path: printPath(pattern),
  ...(part === 'body' ? {} : { in: part }),
  to: printPath([root]),
  ...(isChoice ? { isChoice } : {}),
});

/** Whether a field's entry says more than what the field is called. */
const saysMore = (field: FieldEntry): boolean =>
  (['message', 'choice'] as const).some((kind) => field.has(kind));

class Packer {
  constructor(
    private readonly source: PackSource,
    private readonly locale: Locale,
  ) {
    this.undeclared = new Undeclared(source.texts, locale);
  }

  private readonly undeclared: Undeclared;
  private readonly paths = new Map<Form, ReadonlySet<string>>();

  /** The languages that messages of the pack are in. */
  private readonly spoken = new Set<Locale>();

  private text(entry: Entry): PackText {
    return { text: entry.text, ...(entry.locale === this.locale ? {} : { locale: entry.locale }) };
  }

  private message(entry: Entry, code: string): PackText {
    const inline = this.source.texts.inline(entry);
    return {
      ...this.text(entry),
      ...(entry.key === code ? {} : { key: entry.key }),
      ...(inline ? { inline: inline.text } : {}),
    };
  }

  private rungs(entries: readonly Entry[], code: string): PackRungs {
    const texts = entries.map((entry) => this.message(entry, code));
    const [only] = texts;
    return only && texts.length === 1 ? only : texts;
  }

  private label(label: Entry): PackLabel {
    const { inflections, details } = label;
    const { gender } = details;
    const inflected = Object.fromEntries(
      [...inflections].map(([name, entry]) => [name, entry.text]),
    );
    return {
      ...this.text(label),
      ...(gender === undefined ? {} : { gender }),
      ...(inflections.size > 0 ? { inflections: inflected } : {}),
    };
  }

  /**
   * Returns the texts of a rule: the first one, and those that stand in for it, without texts for
   * all forms, which are in the pack once.
   */
  private asked(question: Question): readonly Entry[] {
    const messages = this.source.texts.messages(question, this.locale);
    const [first] = messages;
    if (first) this.spoken.add(first.locale);
    const isGeneral = question.path.length === 0 && question.form === '';
    return sayable(messages).filter(
      ({ purpose: { field, scope } }, at) =>
        at === 0 || isGeneral || field !== undefined || scope.form !== undefined,
    );
  }

  private rule(form: Form, pattern: Pattern, use: RuleUse): PackRule {
    const question = { form: form.id, path: pattern, keys: keysOf(use) };
    const messages = this.asked(question);
    const code = codeOf(use);
    return {
      rule: use.rule,
      ...(use.as === undefined ? {} : { as: use.as }),
      ...(use.external ? { external: true } : {}),
      ...(use.problem === undefined ? {} : { problem: use.problem }),
      // A sample says only what a parameter may be like.
      params: use.external ? (use.constants ?? {}) : use.params,
      ...(use.counterpart ? { field: printPath(use.counterpart) } : {}),
      ...(messages.length > 0 ? { message: this.rungs(messages, code) } : {}),
    };
  }

  /** Texts for rules that nobody declares at a pattern, or in the form at all. */
  private others(
    form: Form,
    pattern?: Pattern,
    declared?: ReadonlySet<string>,
  ): Pick<PackForm, 'messages'> {
    const found = this.undeclared.at(form, pattern, declared);
    for (const [, entries] of found) for (const { locale } of entries) this.spoken.add(locale);
    const messages = found.map(([key, entries]) => [key, this.rungs(entries, key)] as const);
    return messages.length > 0 ? { messages: Object.fromEntries(messages) } : {};
  }

  /** Returns the labels of a field, in every language that a message of the pack is in. */
  private labels(form: string, pattern: Pattern): PackLabel[] {
    const found = [...this.spoken].flatMap(
      (sentence) => this.source.texts.label(form, pattern, this.locale, sentence) ?? [],
    );
    const own = printPath(pattern);
    return [...new Set(found)].map((label) => {
      const of = label.about && printPath(label.about);
      return { ...this.label(label), ...(of === undefined || of === own ? {} : { of }) };
    });
  }

  private choices(form: Form, { pattern, uses }: Field): Record<string, PackText> {
    const values = uses.flatMap(({ params }) =>
      Array.isArray(params.choices) ? (params.choices as unknown[]) : [],
    );
    return Object.fromEntries(
      values.flatMap((value): [string, PackText][] => {
        const key = typeof value === 'string' ? value : canonical(value);
        const entry = this.source.texts.choice(form.id, pattern, key, this.locale);
        return entry ? [[key, this.text(entry)]] : [];
      }),
    );
  }

  private field(form: Form, field: Field): PackField {
    const rules = field.uses.map((use) => this.rule(form, field.pattern, use));
    const choices = this.choices(form, field);
    return {
      path: printPath(field.pattern),
      ...(field.in === 'body' ? {} : { in: field.in }),
      ...(field.secret ? { secret: true } : {}),
      ...(isBlankMissing(field) ? { blank: true } : {}),
      labels: this.labels(form.id, field.pattern),
      ...(Object.keys(choices).length > 0 ? { choices } : {}),
      rules,
      ...this.others(form, field.pattern, codesOf(field)),
    };
  }

  /** A field, and what texts say of it at places and keys that they name literally. */
  private fields(form: Form, field: Field): PackField[] {
    const general = this.field(form, field);
    const contentOf = ({ labels, choices, rules, messages }: PackField): string =>
      JSON.stringify([labels, choices, rules, messages]);
    const special = narrowerPatterns(
      this.source.texts,
      form.id,
      field.pattern,
      (one) => saysMore(one) || !this.isField(form, one.path),
    )
      .map((pattern) => this.field(form, { ...field, pattern }))
      .filter((one) => contentOf(one) !== contentOf(general));
    return [general, ...special.map((one): PackField => ({ ...one, texts: true }))];
  }

  /** Whether a form declares a field of this path. */
  private isField(form: Form, path: string): boolean {
    const paths = getOrMake(
      this.paths,
      form,
      () => new Set(form.fields.map((field) => field.path)),
    );
    return paths.has(path);
  }

  /** Elements that no field stands for have labels all the same. */
  private elements(form: Form): PackField[] {
    const known = new Set<string>();
    return form.fields.flatMap(({ pattern }) =>
      pattern.flatMap((segment, at): PackField[] => {
        const element = pattern.slice(0, at + 1);
        const path = printPath(element);
        if (segment !== ANY_ELEMENT || this.isField(form, path) || known.has(path)) return [];
        known.add(path);
        const labels = this.labels(form.id, element);
        const special = this.source.texts.narrower(form.id, element).map((one): PackField => ({
          path: printPath(one),
          labels: this.labels(form.id, one),
          rules: [],
          texts: true,
        }));
        return [...(labels.length > 0 ? [{ path, labels, rules: [] }] : []), ...special];
      }),
    );
  }

  /** Returns the texts of a form at places that it does not declare. */
  private elsewhere(form: Form): PackField[] {
    const declared = form.fields.map(({ pattern }) => pattern);
    const { purposes } = this.source.texts.table;
    const own = purposes.writtenFor(form.id);
    const paths = new Map(
      [...own, ...purposes.forAll()]
        .flatMap((scope) =>
          [...scope.fields.values()].filter(
            // What all forms call a place stands in the pack once.
            (one) => saysMore(one) || (own.includes(scope) && one.has('label')),
          ),
        )
        .filter((one) => !declared.some((pattern) => meet(pattern, one.pattern)))
        .map((one) => [one.path, one.pattern]),
    );
    return [...paths].map(([path, pattern]) => ({
      path,
      labels: this.labels(form.id, pattern),
      rules: [],
      ...this.others(form, pattern),
      texts: true,
    }));
  }

  /**
   * Returns the labels of fields in all forms: a backend may report rules at places of other forms.
   */
  private general(): PackField[] {
    const scopes = this.source.texts.table.purposes.forAll();
    const fields = new Map(scopes.flatMap((scope) => [...scope.fields]));
    return [...fields.values()].flatMap(({ path, pattern }) => {
      const labels = this.labels('', pattern);
      return labels.length > 0 ? [{ path, labels, rules: [] }] : [];
    });
  }

  /** Frames and words that are written for a form, or those of all forms. */
  private wording(form: string | undefined): PackWording {
    const { texts } = this.source;
    const { purposes } = texts.table;
    const starter = purposes.known('starter', undefined);
    const scopes =
      form === undefined
        ? [...purposes.forAll(), ...(starter ? [starter] : [])]
        : purposes.writtenFor(form);
    const keysOf = (kind: ScopeTextKind): string[] => [
      ...new Set(scopes.flatMap((scope) => [...scope.keysOf(kind)])),
    ];
    const inEach = (look: (sentence: Locale) => Entry | undefined): Entry[] => [
      ...new Set([...this.spoken].flatMap((sentence) => look(sentence) ?? [])),
    ];
    const frames = keysOf('frame').map((name): [string, PackText[]] => {
      const found = inEach((sentence) =>
        texts.frame(form ?? '', name as FrameName, this.locale, sentence),
      );
      return [name, found.map((entry) => this.text(entry))];
    });
    const words = keysOf('word').flatMap((key): [string, PackLabel[]][] => {
      if (isInflection({ kind: 'word', key })) return [];
      const [group, name = ''] = key.split(' ');
      const found = inEach((sentence) =>
        texts.word(form ?? '', group as WordGroup, name, this.locale, sentence),
      );
      return [[key, found.map((entry) => this.label(entry))]];
    });
    return {
      ...(frames.length > 0 ? { frames: Object.fromEntries(frames) } : {}),
      ...(words.length > 0 ? { words: Object.fromEntries(words) } : {}),
    };
  }

  private problem(form: string, id: string): PackProblems[string] {
    const { title, detail } = this.source.texts.problem(form, id, this.locale);
    return {
      ...(title ? { title: this.text(title) } : {}),
      ...(detail ? { detail: this.text(detail) } : {}),
    };
  }

  private problemsOf({ id: form }: Form): PackProblems {
    const { statuses } = this.source.options;
    const written = this.source.texts.table.purposes.writtenFor(form);
    const keys = written.flatMap((scope) => [...scope.keysOf('problem')]);
    const ids = new Set(keys.map((key) => key.split(' ')[0] ?? ''));
    return Object.fromEntries(
      [...ids].filter((id) => statuses.has(id)).map((id) => [id, this.problem(form, id)]),
    );
  }

  private form(form: Form): PackForm {
    const fields = [
      ...form.fields.flatMap((field) => this.fields(form, field)),
      ...this.elements(form),
      ...this.elsewhere(form),
    ];
    const others = this.others(form);
    const problems = this.problemsOf(form);
    return {
      ...(form.request === undefined ? {} : { request: form.request }),
      ...(form.partial ? { partial: true } : {}),
      ...this.wording(form.id),
      fields,
      ...others,
      ...(Object.keys(problems).length > 0 ? { problems } : {}),
      ...(form.joins ? { joins: form.joins.map(packedJoin) } : {}),
    };
  }

  pack(): Omit<Pack, 'hash'> {
    const {
      forms,
      texts,
      original,
      parents,
      options,
      rules,
      style = {},
      audience,
      production,
    } = this.source;
    this.spoken.add(this.locale);
    const general: [string, PackRungs][] = [];
    for (const key of rules) {
      const messages = this.asked({ form: '', path: [], keys: [key] });
      if (messages.length > 0) general.push([key, this.rungs(messages, key)]);
    }
    // What a field is called in a language is packed where some message is in that, which is known
    // when all are packed.
    let packedForms: [string, PackForm][];
    let heard: number;
    do {
      heard = this.spoken.size;
      packedForms = forms.map((form) => [form.id, this.form(form)]);
    } while (this.spoken.size > heard);
    const fields = this.source.isPart ? [] : this.general();
    const problems = [...options.statuses].map(([id, status]) => [
      id,
      { status, ...this.problem('', id) },
    ]);
    const fallbacks = texts
      .chain(this.locale)
      .filter((one) => one !== this.locale && this.spoken.has(one));
    return {
      pack: 1,
      locale: this.locale,
      ...(fallbacks.length > 0 ? { fallbacks } : {}),
      settings: {
        original,
        ...(Object.keys(parents).length > 0 ? { parents } : {}),
        zone: options.zone,
        shorten: options.shorten,
        perField: options.perField,
        maxViolations: options.maxViolations,
        ...(options.typeBase === undefined ? {} : { typeBase: options.typeBase }),
        ...(options.inline ? { inline: true as const } : {}),
        ...(options.detail ? { detail: options.detail } : {}),
        ...(Object.keys(style).length > 0 ? { style } : {}),
        ...(audience === 'developer' ? { audience } : {}),
        ...(production ? { production } : {}),
      },
      problems: Object.fromEntries(problems) as Pack['problems'],
      messages: Object.fromEntries(general),
      ...this.wording(undefined),
      ...(fields.length > 0 ? { fields } : {}),
      forms: Object.fromEntries(packedForms),
    };
  }
}

/** Resolves every lookup of one locale; the hash of the result is whoever writes it to add. */
export function packLocale(source: PackSource, locale: Locale): Omit<Pack, 'hash'> {
  return new Packer(source, locale).pack();
}
