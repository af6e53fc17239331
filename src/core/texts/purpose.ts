import { keyed } from '../base/keyed.js';
import { getOrMake } from '../base/get-or-make.js';
import { ANY_DEPTH, type Pattern } from '../path/path.js';
import { Patterns } from '../path/patterns.js';
import { formsNamed } from './form-set.js';

/**
 * Who wrote a text: whoever owns the workspace, the author of a schema as its title, the house that
 * the workspace belongs to, or we.
 */
export type Layer = 'written' | 'title' | 'house' | 'starter';

/**
 * The kinds of texts in a field's entry; `inline` is a message beside its input, where the label
 * stands already.
 */
export type FieldTextKind = 'message' | 'inline' | 'label' | 'choice';

/**
 * The kinds of texts without a field: messages for all fields, words for types and formats, frames,
 * and problems of the whole request.
 */
export type ScopeTextKind = 'message' | 'inline' | 'word' | 'frame' | 'problem';

export type TextKind = FieldTextKind | ScopeTextKind;

/**
 * Whether a text goes with another one: an inflection, or what a message says beside the
 * input.
 */
export const goesWithAnother = ({
  kind,
  key,
}: {
  readonly kind: TextKind;
  readonly key: string;
}): boolean => kind === 'inline' || isInflection({ kind, key });

/** Whether a text is an inflection of a label or of a word; each language has its own. */
export const isInflection = ({
  kind,
  key,
}: {
  readonly kind: TextKind;
  readonly key: string;
}): boolean => (kind === 'label' && key !== '') || (kind === 'word' && key.split(' ').length > 2);

/**
 * How a language joins what is inserted: an element inside another, a field inside an element,
 * what is quoted, a date, the time of a day, and both together.
 */
export const FRAMES = {
  inside: ['outer', 'inner'],
  field: ['place', 'label'],
  quoted: ['text'],
  date: ['day', 'month', 'year'],
  clock: ['time'],
  moment: ['date', 'time', 'hour'],
} as const;
export type FrameName = keyof typeof FRAMES;

/** The parameters whose values have words. */
export const WORD_GROUPS = ['part', 'type', 'format', 'unit'] as const;
export type WordGroup = (typeof WORD_GROUPS)[number];

/** The arguments of words. */
const WORD_ARGUMENTS: Readonly<Partial<Record<string, readonly string[]>>> = keyed({
  format: ['format_name', 'example', 'hint'],
  unit: ['count'],
});

/** The arguments of a word. @param key its group and name, with a blank between them */
export const wordArguments = (key: string): readonly string[] =>
  WORD_ARGUMENTS[key.split(' ')[0] ?? ''] ?? [];

/** The members of a catalog under which its texts stand, each by its own name. */
export const SECTIONS: readonly (readonly string[])[] = [
  ['messages'],
  ['fields'],
  ['frames'],
  ...WORD_GROUPS.map((group) => ['words', group]),
  ['problems'],
];

/**
 * The keys that lead to a text in a catalog.
 * @param field how the file spells the field's path, of a field's own texts
 */
export function keysTo(kind: TextKind, key: string, field?: string): string[] {
  const around = field === undefined ? [] : ['fields', field];
  switch (kind) {
    case 'message':
      return [...around, 'messages', key];
    case 'inline':
      return [...around, 'messages', key, 'inline'];
    case 'choice':
      return [...around, 'choices', key];
    case 'label':
      return key === '' ? [...around, 'label'] : [...around, 'label', key];
    case 'frame':
      return ['frames', key];
    case 'word':
      return ['words', ...key.split(' ')];
    case 'problem':
      return ['problems', ...key.split(' ')];
  }
}

/** Names a text, whatever its language and file. */
export interface Address {
  readonly kind: TextKind;
  /** The form that it is for, or the name of a set of them; absent where it is for all. */
  readonly form?: string | undefined;
  /** The field's path pattern in its normal form, of a field's own texts. */
  readonly path?: string | undefined;
  /**
   * The rule's key, the label's inflection (empty for the label itself), the value, the
   * frame, or with blanks between them the problem and its part, or the group, the word and its
   * inflection.
   */
  readonly key: string;
}

/**
 * The purpose of texts, whatever their language. There is one object for each, so that results can
 * be kept by it.
 */
export class Purpose implements Address {
  constructor(
    /** Its number, from 0: its place in every column. */
    readonly id: number,
    readonly scope: Scope,
    readonly kind: TextKind,
    readonly key: string,
    /** The field that it speaks of; absent outside of all. */
    readonly field: FieldEntry | undefined,
  ) {}

  get layer(): Layer {
    return this.scope.layer;
  }

  get form(): string | undefined {
    return this.scope.form;
  }

  get path(): string | undefined {
    return this.field?.path;
  }
}

/**
 * A purpose as a file spells it: the keys that lead to its text there, the same in all files that
 * spell it so.
 */
export interface Slot {
  readonly purpose: Purpose;
  readonly keys: readonly string[];
}

type Slots<K extends TextKind> = Readonly<Record<K, Map<string, Slot>>>;

/** A field as catalogs name it, in one spelling of its path. */
export class FieldEntry {
  /** By kind, then by the message's key, by the label's form (empty for itself), by the value. */
  private readonly slots: Slots<FieldTextKind> = {
    message: new Map(),
    inline: new Map(),
    label: new Map(),
    choice: new Map(),
  };
  readonly keys: readonly string[];
  /**
   * The same field in the normal spelling, which has the purposes; itself where it has that
   * spelling.
   */
  readonly normal: FieldEntry;

  constructor(
    readonly scope: Scope,
    readonly pattern: Pattern,
    /** The path in its normal form. */
    readonly path: string,
    private readonly written: string,
    normal?: FieldEntry,
  ) {
    this.keys = ['fields', written];
    this.normal = normal ?? this;
  }

  /** The slot of a message, of the label or a form of it, or of a value's name. */
  slot(kind: FieldTextKind, key: string): Slot {
    const slots = this.slots[kind];
    let slot = slots.get(key);
    if (!slot) {
      const purpose =
        this.normal === this
          ? this.scope.purpose(kind, key, this)
          : this.normal.slot(kind, key).purpose;
      slots.set(key, (slot = { purpose, keys: keysTo(kind, key, this.written) }));
    }
    return slot;
  }

  /** Returns the purpose of a key, where some language has it. */
  known(kind: FieldTextKind, key: string): Purpose | undefined {
    return this.normal.slots[kind].get(key)?.purpose;
  }

  /** Whether some language has a text of a kind. */
  has(kind: FieldTextKind): boolean {
    return this.slots[kind].size > 0;
  }

  /** The texts of a kind that some language has. */
  slotsOf(kind: FieldTextKind): Iterable<Slot> {
    return this.slots[kind].values();
  }
}

/** All that catalogs of one layer say of one form, of a set of them, or of all. */
export class Scope {
  private readonly slots: Slots<ScopeTextKind> = {
    message: new Map(),
    inline: new Map(),
    word: new Map(),
    frame: new Map(),
    problem: new Map(),
  };
  /** By the path in its normal form. */
  readonly fields = new Map<string, FieldEntry>();
  /** Those whose paths name a place of an array literally. */
  readonly placed: FieldEntry[] = [];
  /** Those whose paths have no `..`. */
  readonly shallow: FieldEntry[] = [];
  private readonly written = new Map<string, FieldEntry>();

  constructor(
    private readonly purposes: Purposes,
    readonly layer: Layer,
    readonly form: string | undefined,
  ) {}

  /** @internal */
  purpose(kind: TextKind, key: string, field?: FieldEntry): Purpose {
    return this.purposes.add(this, kind, key, field);
  }

  /** The slot of a text of no field. */
  slot(kind: ScopeTextKind, key: string): Slot {
    const slots = this.slots[kind];
    return getOrMake(slots, key, () => ({
      purpose: this.purpose(kind, key),
      keys: keysTo(kind, key),
    }));
  }

  /** Returns the purpose of a key, where some language has it. */
  known(kind: ScopeTextKind, key: string): Purpose | undefined {
    return this.slots[kind].get(key)?.purpose;
  }

  /** The keys of a kind that some language has. */
  keysOf(kind: ScopeTextKind): Iterable<string> {
    return this.slots[kind].keys();
  }

  /**
   * A field by its path, as it is written.
   * @throws {PathSyntaxError}
   */
  field(written: string): FieldEntry {
    let field = this.written.get(written);
    if (!field) {
      const { pattern, path } = this.purposes.patterns.of(written);
      const normal = this.fields.get(path);
      field = new FieldEntry(this, pattern, path, written, normal);
      if (!normal) {
        this.fields.set(path, field);
        if (pattern.some((segment) => typeof segment === 'number')) this.placed.push(field);
        if (!pattern.includes(ANY_DEPTH)) this.shallow.push(field);
        this.purposes.note(pattern);
      }
      this.written.set(written, field);
    }
    return field;
  }
}

const NO_SCOPES: readonly Scope[] = [];

/** The purposes of all texts of a workspace: one numbering for all its languages. */
export class Purposes {
  readonly all: Purpose[] = [];
  readonly patterns = new Patterns();
  /** Names and places that some pattern names literally. */
  readonly literals = new Set<string | number>();
  /** Becomes another when there is a purpose or a pattern more. */
  version = 0;
  private readonly scopes = new Map<Layer, Map<string | undefined, Scope>>();
  /** The scopes of several forms, by each form; a set of fewer forms is more special. */
  private readonly sets = new Map<string, Scope[]>();

  scope(layer: Layer, form: string | undefined): Scope {
    return this.known(layer, form) ?? this.begin(layer, form);
  }

  private begin(layer: Layer, form: string | undefined): Scope {
    const scope = new Scope(this, layer, form);
    const scopes = getOrMake(this.scopes, layer, () => new Map());
    scopes.set(form, scope);
    if (layer === 'written' && form !== undefined) this.enter(scope, formsNamed(form));
    return scope;
  }

  private enter(scope: Scope, ids: readonly string[]): void {
    const rank = ({ form = '' }: Scope): string =>
      `${String(formsNamed(form).length).padStart(6, '0')} ${form}`;
    for (const id of ids.length > 1 ? ids : []) {
      const there = [...(this.sets.get(id) ?? []), scope];
      this.sets.set(
        id,
        there.sort((one, other) => (rank(one) < rank(other) ? -1 : 1)),
      );
    }
  }

  /**
   * Returns the scopes written for a form, the most special first: its own, then those of sets of
   * forms that it is in.
   */
  writtenFor(form: string): readonly Scope[] {
    const own = this.known('written', form);
    const sets = this.sets.get(form) ?? NO_SCOPES;
    return own ? [own, ...sets] : sets;
  }

  /** Returns the scopes that people wrote for all forms: here, and in the house. */
  forAll(): readonly Scope[] {
    return (['written', 'house'] as const).flatMap((layer) => this.known(layer, undefined) ?? []);
  }

  /** A scope that some text stands in. */
  known(layer: Layer, form: string | undefined): Scope | undefined {
    return this.scopes.get(layer)?.get(form);
  }

  /** The scopes of a layer. */
  scopesOf(layer: Layer): readonly Scope[] {
    return [...(this.scopes.get(layer)?.values() ?? [])];
  }

  /** @internal */
  add(scope: Scope, kind: TextKind, key: string, field: FieldEntry | undefined): Purpose {
    const purpose = new Purpose(this.all.length, scope, kind, key, field);
    this.all.push(purpose);
    this.version++;
    return purpose;
  }

  /** @internal */
  note(pattern: Pattern): void {
    for (const segment of pattern) if (typeof segment !== 'symbol') this.literals.add(segment);
    this.version++;
  }

  /**
   * The purpose of written texts that an address names; nothing where no language has such a text.
   */
  find({ kind, form, path, key }: Address): Purpose | undefined {
    const scope = this.known('written', form);
    const field = path === undefined ? undefined : scope?.fields.get(path);
    switch (kind) {
      case 'label':
      case 'choice':
        return field?.known(kind, key);
      case 'message':
      case 'inline':
        return path === undefined ? scope?.known(kind, key) : field?.known(kind, key);
      default:
        return scope?.known(kind, key);
    }
  }
}
