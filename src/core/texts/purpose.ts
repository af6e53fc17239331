import type { Pattern } from '../path/path.js';
import { Patterns } from '../path/patterns.js';

/** Who wrote a text: whoever owns the workspace, the author of a schema as its title, or we. */
export type Layer = 'written' | 'title' | 'starter';

export type TextKind = 'message' | 'label' | 'choice' | 'problem';

/** What names a text, whatever its language and file. */
export interface Address {
  readonly kind: TextKind;
  /** The one form that it is for; absent where it is for all. */
  readonly form?: string | undefined;
  /** The field's path pattern in its normal form, of a field's own texts. */
  readonly path?: string | undefined;
  /** The rule's key, the label's grammatical form (empty for the label itself), the value, or the problem and its part. */
  readonly key: string;
}

/** What texts are there for, whatever their language. There is one object of it, so that what is worked out of it can be kept. */
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

/** A purpose as a file spells it: the keys that lead to its text there, the same in all files that spell it so. */
export interface Slot {
  readonly purpose: Purpose;
  readonly keys: readonly string[];
}

/** A field as catalogs name it, in one spelling of its path. */
export class FieldEntry {
  readonly keys: readonly string[];
  /** By the message's key, by the label's form (empty for itself), by the value. */
  readonly messages = new Map<string, Slot>();
  readonly labels = new Map<string, Slot>();
  readonly choices = new Map<string, Slot>();
  /** The same field in the normal spelling, which has the purposes; itself where it is that. */
  readonly normal: FieldEntry;

  constructor(
    readonly scope: Scope,
    readonly pattern: Pattern,
    /** The path in its normal form. */
    readonly path: string,
    written: string,
    normal?: FieldEntry,
  ) {
    this.keys = ['fields', written];
    this.normal = normal ?? this;
  }

  /** The slot of a message, of the label or a form of it, or of a value's name. */
  slot(kind: Exclude<TextKind, 'problem'>, key: string): Slot {
    const slots = kind === 'message' ? this.messages : kind === 'label' ? this.labels : this.choices;
    let slot = slots.get(key);
    if (!slot) {
      const purpose = this.normal === this ? this.scope.purpose(kind, key, this) : this.normal.slot(kind, key).purpose;
      const inner =
        kind === 'message' ? ['messages', key] : kind === 'choice' ? ['choices', key] : key === '' ? ['label'] : ['label', key];
      slots.set(key, (slot = { purpose, keys: [...this.keys, ...inner] }));
    }
    return slot;
  }

  /** What stands for a key already, in some language. */
  known(kind: Exclude<TextKind, 'problem'>, key: string): Purpose | undefined {
    const { messages, labels, choices } = this.normal;
    return (kind === 'message' ? messages : kind === 'label' ? labels : choices).get(key)?.purpose;
  }
}

/** All that catalogs of one layer say of one form, or of all. */
export class Scope {
  readonly messages = new Map<string, Slot>();
  readonly problems = new Map<string, Slot>();
  /** By the path in its normal form. */
  readonly fields = new Map<string, FieldEntry>();
  /** Those whose paths name a place of an array literally. */
  readonly placed: FieldEntry[] = [];
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

  message(key: string): Slot {
    let slot = this.messages.get(key);
    if (!slot) this.messages.set(key, (slot = { purpose: this.purpose('message', key), keys: ['messages', key] }));
    return slot;
  }

  problem(id: string, part: 'title' | 'detail'): Slot {
    const key = `${id} ${part}`;
    let slot = this.problems.get(key);
    if (!slot) this.problems.set(key, (slot = { purpose: this.purpose('problem', key), keys: ['problems', id, part] }));
    return slot;
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
        this.purposes.note(pattern);
      }
      this.written.set(written, field);
    }
    return field;
  }
}

/** The purposes of all texts of a workspace: one numbering for all its languages. */
export class Purposes {
  readonly all: Purpose[] = [];
  readonly patterns = new Patterns();
  /** Names and places that some pattern names literally. */
  readonly literals = new Set<string | number>();
  /** Becomes another when there is a purpose or a pattern more. */
  version = 0;
  private readonly scopes = new Map<Layer, Map<string | undefined, Scope>>();

  scope(layer: Layer, form: string | undefined): Scope {
    return this.known(layer, form) ?? this.begin(layer, form);
  }

  private begin(layer: Layer, form: string | undefined): Scope {
    const scope = new Scope(this, layer, form);
    let scopes = this.scopes.get(layer);
    if (!scopes) this.scopes.set(layer, (scopes = new Map<string | undefined, Scope>()));
    scopes.set(form, scope);
    return scope;
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

  /** The purpose of written texts that an address names; nothing where no language has such a text. */
  find({ kind, form, path, key }: Address): Purpose | undefined {
    const scope = this.known('written', form);
    if (kind === 'problem') return scope?.problems.get(key)?.purpose;
    return path === undefined ? scope?.messages.get(key)?.purpose : scope?.fields.get(path)?.known(kind, key);
  }
}
