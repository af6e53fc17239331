import type { Locale } from '../locale/tag.js';
import { Memo, type Room } from '../base/memo.js';
import { printPath, type Path, type Pattern } from '../path/path.js';
import type { FormIndex } from '../rules/form-index.js';
import type { RequestPart } from '../rules/form.js';
import type { TextLookup } from '../texts/lookup.js';

/**
 * Paths that differ only in places and keys that no text and no rule names: what is said of one is
 * said of all.
 */
export interface PathClass<T> {
  /** With `[*]` and `.*` where they differ. */
  readonly pattern: Pattern;
  /** Whether something of its paths may have to be hidden. */
  readonly isSecret: boolean;
  /** The plans, by locale, then by rule. */
  readonly plans: Map<Locale, Map<string, T>>;
}

/** A path that was read. */
export interface Located<T> {
  readonly path: Path;
  readonly class: PathClass<T>;
}

/** Reads the paths of violations, and knows the class of each. */
export class PathReader<T> {
  private readonly classes: Memo<PathClass<T>>;

  constructor(
    private readonly form: FormIndex,
    private readonly texts: TextLookup,
    room: Room,
  ) {
    this.classes = new Memo(room);
  }

  /** Forgets what classes there are. */
  forget(): void {
    this.classes.clear();
  }

  /** @throws {PathSyntaxError} */
  read(text: string, part: RequestPart): Located<T> {
    const path = this.form.readPath(text, part);
    const pattern = this.texts.classOf(path, this.form.literals);
    const id = `${part}@${printPath(pattern)}`;
    const paths = this.classes.getOrMake(id, () => ({
      pattern,
      isSecret: this.form.isSecretAt(pattern, part),
      plans: new Map(),
    }));
    return { path, class: paths };
  }
}
