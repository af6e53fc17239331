import type { Entry } from '../catalog/entry.js';
import type { Row } from './context.js';
import type { Role } from './roles.js';

/** What texts are there for, whatever their language: the same object for all of them, so that what is worked out of it can be kept. */
export interface Purpose {
  readonly rows: readonly Row[];
  /** The text of the original locale; absent where it has none. */
  readonly original: Entry | undefined;
}

/** The purposes of the texts of one field entry, or of all that stands outside of field entries. */
export class Purposes {
  private readonly known: Readonly<Record<Role['kind'], Map<string, Purpose>>> = {
    ...{ message: new Map(), label: new Map(), choice: new Map(), problem: new Map() },
  };

  constructor(private readonly make: (kind: Role['kind'], key: string) => Purpose) {}

  of(kind: Role['kind'], key: string): Purpose {
    const known = this.known[kind];
    let purpose = known.get(key);
    if (!purpose) known.set(key, (purpose = this.make(kind, key)));
    return purpose;
  }
}
