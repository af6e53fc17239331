import type { DeskData, DeskText } from '../../core/desk/data.js';
import type { TranslationState } from '../../core/texts/state.js';
import { csv } from '../../exchange/translations/csv.js';
import type { Unit } from '../../exchange/translations/unit.js';

/** A translator's work on one text. */
export interface Done {
  readonly text?: string;
  /** It is right as it is. */
  readonly isRight?: true;
  readonly note?: string;
}

type Maybe<T> = { readonly [K in keyof T]: T[K] | undefined };

const doneOf = ({ text, isRight, note }: Maybe<Required<Done>>): Done => ({
  ...(text === undefined ? {} : { text }),
  ...(isRight ? { isRight } : {}),
  ...(note ? { note } : {}),
});

/** How far a text is. */
export type Progress = 'missing' | 'stale' | 'draft' | 'ready';

const STATE: TranslationState = 'translated';

/** A translator's work, and its storage. */
export class Work {
  private readonly done = new Map<string, Done>();
  private readonly name: string;
  /** Whether the browser keeps it. */
  isKept = true;
  /** Whether all of it is in a file. */
  isSaved = true;

  constructor(private readonly data: DeskData) {
    this.name = `zeitwort ${data.name} ${data.locale}`;
    this.load();
  }

  private load(): void {
    try {
      const kept = JSON.parse(localStorage.getItem(this.name) ?? '{}') as Record<
        string,
        Done & { exported?: string }
      >;
      for (const { key, exported } of this.data.texts) {
        // What was done about another text than this page has is not about it.
        if (!Object.hasOwn(kept, key) || kept[key]?.exported !== exported) continue;
        const { text, isRight, note } = kept[key] ?? {};
        this.done.set(key, doneOf({ text, isRight, note }));
      }
      this.isSaved = this.done.size === 0;
    } catch {
      this.isKept = false;
    }
    this.keep();
  }

  private keep(): void {
    const kept = this.data.texts.flatMap(({ key, exported }) => {
      const done = this.done.get(key);
      return done ? [[key, { ...done, exported }] as const] : [];
    });
    try {
      localStorage.setItem(this.name, JSON.stringify(Object.fromEntries(kept)));
      this.isKept = true;
    } catch {
      this.isKept = false;
    }
  }

  of(key: string): Done | undefined {
    return this.done.get(key);
  }

  /** Notes what was done; what leaves a text as it came is nothing. */
  set({ key, target = '' }: DeskText, { text, isRight, note }: Partial<Maybe<Done>>): void {
    const done = doneOf({ text: text === target ? undefined : text, isRight, note });
    if (Object.keys(done).length === 0) this.done.delete(key);
    else this.done.set(key, done);
    this.isSaved = false;
    this.keep();
  }

  /** The translation as it is now. */
  textOf({ key, target = '' }: DeskText): string {
    return this.done.get(key)?.text ?? target;
  }

  /** All that was typed, by key. */
  typed(): Map<string, string> {
    return new Map(
      Array.from(this.done).flatMap(([key, { text }]) => (text === undefined ? [] : [[key, text]])),
    );
  }

  progressOf(text: DeskText): Progress {
    if (this.textOf(text).trim() === '') return 'missing';
    const { text: typed, isRight } = this.done.get(text.key) ?? {};
    if (typed !== undefined || isRight) return 'ready';
    if (text.stale) return 'stale';
    return text.state === 'initial' ? 'draft' : 'ready';
  }

  private unitOf(text: DeskText): Unit {
    const { text: typed, isRight, note } = this.done.get(text.key) ?? {};
    const isTouched = (typed ?? '') !== '' || isRight === true;
    return {
      ...text,
      target: typed ?? text.target,
      note: note ?? text.note,
      ...(isTouched ? { state: STATE, stale: false } : {}),
    };
  }

  /** The file that goes back. */
  file(): string {
    const { original, locale, texts } = this.data;
    const units = texts.map((text) => this.unitOf(text));
    return csv.write({ original, locale, units }, { bom: true });
  }

  /**
   * Takes what such a file has.
   * @returns how many texts are otherwise than this page has them
   * @throws {TranslationFileError}
   */
  take(file: string): number {
    const { units } = csv.read(file, {});
    const known = new Map(this.data.texts.map((text) => [text.key, text]));
    let count = 0;
    for (const { key, target = '', state, note = '' } of units) {
      const text = known.get(key);
      if (!text) continue;
      const before = text.state ?? (text.target === undefined ? 'initial' : STATE);
      const isRight =
        target === text.target && state === STATE && (text.stale === true || before !== STATE);
      const done = doneOf({
        text: target === (text.target ?? '') ? undefined : target,
        isRight: isRight ? true : undefined,
        note: note === (text.note ?? '') ? undefined : note,
      });
      if (Object.keys(done).length === 0) continue;
      count += 1;
      this.set(text, done);
    }
    return count;
  }
}
