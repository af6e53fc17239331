import { MOST_TOLD, type AnswerOptions } from '../body/answer.js';
import { parseLocale, type Locale } from '../locale/tag.js';
import { isSharedRoot, parsePattern, printPath, type Pattern } from '../path/path.js';
import { FormIndex } from '../rules/form-index.js';
import { codeOf, type Field, type Join } from '../rules/form.js';
import type { TextLookup } from '../texts/lookup.js';
import { Phrase, type PhraseDetails } from '../texts/phrase.js';
import type { TextKind } from '../texts/purpose.js';
import type {
  Pack,
  PackField,
  PackJoin,
  PackLabel,
  PackProblems,
  PackText,
  PackWording,
} from './pack.js';
import { PackTexts, type Bag } from './texts.js';
import { unpackTree } from './trees.js';

/** A pack made ready to answer with. */
export interface Unpacked {
  readonly locale: Locale;
  readonly forms: ReadonlyMap<string, FormIndex>;
  readonly texts: TextLookup;
  readonly options: AnswerOptions;
}

const NOWHERE = { file: '', keys: [] };

class Unpacker {
  private readonly locale: Locale;
  private readonly texts: PackTexts;

  constructor(private readonly pack: Pack) {
    this.locale = parseLocale(pack.locale);
    this.texts = new PackTexts([this.locale, ...(pack.fallbacks ?? []).map(parseLocale)]);
  }

  private phrase(
    text: string,
    locale: Locale,
    about: Pattern | undefined,
    details?: PhraseDetails,
  ): Phrase {
    const { trees = {} } = this.pack;
    const tree = Object.hasOwn(trees, text) ? trees[text] : undefined;
    return new Phrase(
      text,
      { file: '', locale, field: about },
      details,
      tree && (() => unpackTree(tree)),
    );
  }

  private add(
    bag: Bag,
    kind: TextKind,
    key: string,
    { text, locale, inflections = {}, gender, of, key: own = key, inline }: PackLabel,
  ): void {
    const spoken = locale === undefined ? this.locale : parseLocale(locale);
    this.texts.speaks(spoken);
    const about = of === undefined ? bag.about : parsePattern(of);
    const inflected = Object.entries(inflections).map(([name, form]): [string, Phrase] => [
      name,
      this.phrase(form, spoken, about),
    ]);
    const details = {
      inflections: new Map(inflected),
      ...(gender === undefined ? {} : { gender }),
      key: own,
      ...(inline === undefined ? {} : { inline: this.phrase(inline, spoken, about) }),
    };
    bag.add(kind, key, this.phrase(text, spoken, about, details));
  }

  private all(
    bag: Bag,
    kind: TextKind,
    texts: Readonly<Record<string, PackText | readonly PackText[]>>,
  ): void {
    for (const [key, rungs] of Object.entries(texts))
      for (const text of [rungs].flat()) this.add(bag, kind, key, text);
  }

  private problems(bag: Bag, problems: PackProblems): void {
    for (const [id, texts] of Object.entries(problems))
      for (const part of ['title', 'detail'] as const) {
        const text = texts[part];
        if (text) this.add(bag, 'problem', `${id} ${part}`, text);
      }
  }

  /** Frames and words of a form, or of all. */
  private wording(bag: Bag, { frames = {}, words = {} }: PackWording): void {
    this.all(bag, 'frame', frames);
    this.all(bag, 'word', words);
  }

  /** Puts a field's texts where its form finds them. */
  private fieldTexts(
    form: string,
    { path, labels, rules, choices = {}, messages = {} }: PackField,
  ): void {
    const bag = this.texts.bag(form, parsePattern(path));
    for (const label of labels) this.add(bag, 'label', '', label);
    // Of several uses under one key the first is what the key says.
    for (const rule of rules) {
      const key = codeOf(rule);
      if (rule.message) this.all(bag, 'message', { [key]: rule.message });
    }
    this.all(bag, 'choice', choices);
    this.all(bag, 'message', messages);
  }

  private field(field: PackField): Field {
    const pattern = parsePattern(field.path);
    return {
      pattern,
      path: printPath(pattern),
      in: field.in ?? 'body',
      optional: false,
      trim: false,
      secret: field.secret ?? false,
      blank: field.blank ?? false,
      uses: field.rules.map(({ rule, as, external, params, problem, field: other }) => ({
        rule,
        external: external ?? false,
        params,
        origin: NOWHERE,
        ...(external ? { constants: params } : {}),
        ...(as === undefined ? {} : { as }),
        ...(problem === undefined ? {} : { problem }),
        ...(other === undefined ? {} : { counterpart: parsePattern(other) }),
      })),
      origin: NOWHERE,
    };
  }

  private join(form: string, { path, in: part = 'body', to, isChoice }: PackJoin): Join[] {
    const [root] = parsePattern(to);
    if (!isSharedRoot(root)) return [];
    const join = {
      pattern: parsePattern(path),
      in: part,
      root,
      ...(isChoice ? { isChoice } : {}),
    };
    this.texts.join(form, join);
    return [join];
  }

  unpack(): Unpacked {
    const forms = new Map<string, FormIndex>();
    for (const [id, form] of Object.entries(this.pack.forms)) {
      const bag = this.texts.bag(id);
      this.wording(bag, form);
      this.all(bag, 'message', form.messages ?? {});
      this.problems(bag, form.problems ?? {});
      for (const field of form.fields) this.fieldTexts(id, field);
      const { request, partial = false } = form;
      const joins = (form.joins ?? []).flatMap((join) => this.join(id, join));
      const fields = form.fields.filter(({ texts }) => !texts).map((field) => this.field(field));
      forms.set(
        id,
        new FormIndex({
          id,
          ...(request === undefined ? {} : { request }),
          partial,
          fields,
          ...(joins.length > 0 ? { joins } : {}),
          origin: NOWHERE,
        }),
      );
    }
    this.pack.fields?.forEach((field) => {
      this.fieldTexts('', field);
    });
    const { general } = this.texts;
    this.wording(general, this.pack);
    const { messages, problems } = this.pack;
    this.all(general, 'message', messages);
    this.problems(general, problems);
    const { settings } = this.pack;
    return {
      locale: this.locale,
      forms,
      texts: this.texts,
      options: {
        ...settings,
        maxViolations: settings.maxViolations ?? MOST_TOLD,
        statuses: new Map(Object.entries(problems).map(([id, { status }]) => [id, status])),
      },
    };
  }
}

/** Makes a pack ready to answer with; no lookup is left to do but by path. */
export function unpack(pack: Pack): Unpacked {
  return new Unpacker(pack).unpack();
}
