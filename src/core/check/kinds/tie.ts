import { ANY_DEPTH, samplePath, type Pattern, type PatternSegment } from '../../path/path.js';
import type { FieldEntry, Scope } from '../../texts/purpose.js';
import type { Context } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';

const rank = (segment: PatternSegment): number =>
  segment === ANY_DEPTH ? 0 : typeof segment === 'symbol' ? 1 : 2;

/** Whether neither of two patterns is more literal than the other, compared from the left. */
const equallyLiteral = (one: Pattern, other: Pattern): boolean =>
  one.slice(0, other.length).every((segment, at) => rank(segment) === rank(other[at] ?? ANY_DEPTH));

const isOpen = ({ pattern }: FieldEntry): boolean => pattern.includes(ANY_DEPTH);

type Rivals = ReadonlyMap<FieldEntry, ReadonlySet<FieldEntry>>;

const found = new WeakMap<Scope, { readonly size: number; readonly rivals: Rivals }>();

/**
 * By field of a scope, those that cover the same fields and are as literal. Without `..` patterns
 * that overlap and are equally literal are one and the same.
 */
function rivalsIn(scope: Scope, texts: Context['texts']): Rivals {
  const { size } = scope.fields;
  const known = found.get(scope);
  // Fields are only ever added to a scope.
  if (known?.size === size) return known.rivals;
  const rivals = new Map<FieldEntry, Set<FieldEntry>>();
  const enter = (one: FieldEntry, other: FieldEntry): void => {
    const others = rivals.get(one);
    if (others) others.add(other);
    else rivals.set(one, new Set([other]));
  };
  for (const one of scope.fields.values()) {
    if (!isOpen(one)) continue;
    for (const other of texts.covering(scope, samplePath(one.pattern))) {
      if (other === one || !isOpen(other) || !equallyLiteral(one.pattern, other.pattern)) continue;
      enter(one, other);
      enter(other, one);
    }
  }
  found.set(scope, { size, rivals });
  return rivals;
}

export const tie: Kind = {
  kind: 'tie',
  severity: 'warning',
  about:
    'Two field entries cover the same fields, and neither is more literal: which one holds is a matter of chance.',
  remedy: 'Make one of the two patterns more literal.',
  example: '"fields": { "..name": { … }, "..[*].name": { … } }',
  look: (context, report) => {
    const { purposes } = context.table;
    if (!purposes.scopesOf('written').some(({ fields, shallow }) => fields.size > shallow.length))
      return undefined;
    return {
      catalog: ({ fields, locale, file }) => {
        /** First spelling of each field in this catalog, with its index. */
        const seen = new Map<FieldEntry, { readonly path: string; readonly at: number }>();
        for (const { path, keys, normal } of fields.filter(isOpen)) {
          const before = [
            normal,
            ...(rivalsIn(normal.scope, context.texts).get(normal) ?? []),
          ].flatMap((one) => seen.get(one) ?? []);
          const [rival] = before.sort((one, other) => one.at - other.at);
          if (!seen.has(normal)) seen.set(normal, { path, at: seen.size });
          if (!rival) continue;
          const message = `${path} and ${rival.path} cover the same fields and are equally literal. Make one of them more literal.`;
          report({ locale, path, message, spot: { file, keys, at: 'key' } });
        }
      },
    };
  },
};
