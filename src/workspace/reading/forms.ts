import type { FormIndex } from '../../core/rules/form-index.js';

/** The forms of a workspace by id; each is made ready when it is first asked for. */
export class FormTable {
  private readonly makers = new Map<string, () => FormIndex>();
  private readonly made = new Map<string, FormIndex>();
  /** Called with the id of each form once it is made ready. */
  onMade: ((id: string) => void) | undefined;

  /** Adds a form that is read later; the first of an id holds. */
  add(id: string, make: () => FormIndex): void {
    if (!this.makers.has(id)) this.makers.set(id, make);
  }

  has(id: string): boolean {
    return this.makers.has(id);
  }

  get(id: string): FormIndex | undefined {
    let form = this.made.get(id);
    if (!form) {
      form = this.makers.get(id)?.();
      if (form) {
        this.made.set(id, form);
        this.onMade?.(id);
      }
    }
    return form;
  }

  keys(): IterableIterator<string> {
    return this.makers.keys();
  }

  /** All of them, in the order in which they were declared. */
  *values(): Generator<FormIndex> {
    for (const id of this.makers.keys()) {
      const form = this.get(id);
      if (form) yield form;
    }
  }
}
