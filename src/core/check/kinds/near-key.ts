import { getOrMake } from '../../base/get-or-make.js';
import { closest } from '../../text/closest.js';
import type { Locale } from '../../locale/tag.js';
import type { Ladder } from '../../texts/climber.js';
import { generalOf, UNNAMED } from '../../rules/unnamed.js';
import { VOCABULARY } from '../../rules/vocabulary.js';
import { PerPurpose, type CheckedText } from '../subject/checked-text.js';
import type { Context, Row } from '../subject/context.js';

/** A key that a message was meant to have, and the rules under it where the message stands. */
interface Near {
  readonly key: string;
  readonly rows: readonly { readonly row: Row; readonly ladder: Ladder }[];
  /** By language, the first of the rules that has no text in it. */
  readonly lacking: Map<Locale, Row | undefined>;
}

/**
 * Finds the rules that messages under unknown keys are meant for. The nearest of very many keys is
 * slow to find, and an old catalog has many such messages in every language, so it is found once
 * for all languages.
 */
class NearKeys {
  private readonly rows = new Map<string | undefined, readonly Row[]>();
  private readonly keys = new Map<readonly Row[], ReadonlySet<string>>();
  private readonly found = new Map<readonly Row[], Map<string, Near>>();
  private readonly nears = new PerPurpose<Near | 'none'>((checked) => this.find(checked) ?? 'none');

  constructor(private readonly context: Context) {}

  /** The rules that a message in the same place could be for. */
  private rowsHere({ catalog, field }: CheckedText): readonly Row[] {
    const { context } = this;
    if (field) return context.fieldsFor(field).flatMap((one) => context.rowsOf(one));
    let rows = this.rows.get(catalog.form);
    if (!rows) {
      const forms = new Set(context.formsOf(catalog));
      this.rows.set(catalog.form, (rows = context.rows.filter(({ form }) => forms.has(form))));
    }
    return rows;
  }

  private find(checked: CheckedText): Near | undefined {
    const rows = this.rowsHere(checked);
    const keys = getOrMake(this.keys, rows, () => new Set(rows.flatMap((row) => row.keys)));
    const key = closest(checked.key, keys);
    if (key === undefined) return undefined;
    const byKey = getOrMake(this.found, rows, () => new Map());
    let near = byKey.get(key);
    if (!near) {
      const there = rows.filter((row) => row.keys.includes(key));
      const ladderOf = ({ form, field, keys: own }: Row): Ladder =>
        this.context.texts.messageLadder({ form: form.id, path: field.pattern, keys: own });
      byKey.set(
        key,
        (near = {
          key,
          rows: there.map((row) => ({ row, ladder: ladderOf(row) })),
          lacking: new Map(),
        }),
      );
    }
    return near;
  }

  of(checked: CheckedText): Near | undefined {
    const near = this.nears.of(checked);
    return near === 'none' ? undefined : near;
  }

  lackingIn({ rows, lacking }: Near, locale: Locale): Row | undefined {
    if (!lacking.has(locale)) {
      const climber = this.context.texts.climber(locale);
      lacking.set(locale, rows.find(({ ladder }) => !climber.isOwn(climber.climb(ladder)))?.row);
    }
    return lacking.get(locale);
  }
}

const made = new WeakMap<Context, NearKeys>();

function nearKeys(context: Context): NearKeys {
  return getOrMake(made, context, () => new NearKeys(context));
}

const keysOfRows = ({ rows }: Context): ReadonlySet<string> =>
  new Set(rows.flatMap(({ keys }) => keys));

/** Whether a text is said in place of a message that lacks its parameters. */
export function isStandIn(key: string, context: Context): boolean {
  const base = generalOf(key);
  return base === undefined
    ? key === UNNAMED
    : VOCABULARY.has(base) || context.once(keysOfRows).has(base);
}

/** The key that a message in its place is meant to have, where one is near. */
export const nearKey = (checked: CheckedText, context: Context): string | undefined =>
  nearKeys(context).of(checked)?.key;

/**
 * The rule that a message under a key of no rule is meant for, where its language has no text for
 * that.
 */
export function meantFor(checked: CheckedText, context: Context): Row | undefined {
  const keys = nearKeys(context);
  const near = keys.of(checked);
  return near && keys.lackingIn(near, checked.catalog.locale);
}
