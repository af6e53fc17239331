import { Memo } from '../base/memo.js';
import type { Loose } from '../reading.js';
import { leaksIn, type Leak } from './leaks.js';

/** Deeper than any answer is nested. */
const DEEPEST = 64;
/** Looks for what is internal in what bodies hold. */
export class LeakFinder {
  /** Texts with nothing internal in them: the members, codes and sentences of a service repeat. */
  private readonly harmless = new Memo<true>();

  /** Finds internals in the texts of a value, and in the names of its members. */
  in(value: Loose): readonly Leak[] {
    const found: Leak[] = [];
    this.walk(value, found, 0);
    return found;
  }

  private walk(value: Loose, found: Leak[], depth: number): void {
    if (typeof value === 'string') this.text(value, found);
    else if (typeof value === 'object' && value !== null && depth < DEEPEST) {
      if (Array.isArray(value))
        for (const member of value as Loose[]) this.walk(member, found, depth + 1);
      else {
        for (const name of Object.keys(value)) {
          this.text(name, found);
          this.walk((value as Record<string, Loose>)[name], found, depth + 1);
        }
      }
    }
  }

  private text(text: string, found: Leak[]): void {
    if (this.harmless.get(text)) return;
    // Where a text begins is not a begin of a line of a trace: "at most 21:30" is none.
    const leaks = leaksIn(`| ${text}`);
    found.push(...leaks);
    if (leaks.length === 0) this.harmless.set(text, true);
  }
}
