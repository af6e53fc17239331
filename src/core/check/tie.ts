import { structureOf } from '../catalog/alike.js';
import { ANY_DEPTH, printPath, samplePath, type Pattern, type PatternSegment } from '../path/path.js';
import { isCoveredBy } from '../path/trie.js';
import type { Kind } from './kind.js';

const rank = (segment: PatternSegment): number => (segment === ANY_DEPTH ? 0 : typeof segment === 'symbol' ? 1 : 2);

/** Whether neither of two patterns is more literal than the other, compared from the left. */
const equallyLiteral = (one: Pattern, other: Pattern): boolean =>
  one.slice(0, other.length).every((segment, at) => rank(segment) === rank(other[at] ?? ANY_DEPTH));

export const tie: Kind = {
  kind: 'tie',
  severity: 'warning',
  about: 'Two field entries cover the same places, and neither is more literal: which one holds is a matter of chance.',
  remedy: 'Make one of the two patterns more literal.',
  example: '"fields": { "..name": { … }, "..[*].name": { … } }',
  *find({ subject }) {
    for (const catalog of subject.catalogs) {
      const { locale, file } = catalog;
      const { fields } = structureOf(catalog);
      // Without `..` patterns that overlap and are equally literal are one and the same.
      const open = fields.filter(({ pattern }) => pattern.includes(ANY_DEPTH));
      for (const [at, { pattern, path, origin }] of open.entries()) {
        const rival = open.slice(0, at).find((one) => {
          const overlap = isCoveredBy(one.pattern, samplePath(pattern)) || isCoveredBy(pattern, samplePath(one.pattern));
          return overlap && equallyLiteral(one.pattern, pattern);
        });
        if (!rival) continue;
        const message = `${path} and ${printPath(rival.pattern)} cover the same places and are equally literal. Make one of them more literal.`;
        yield { kind: 'tie', locale, path, message, spot: { file, keys: origin.keys, at: 'key' } };
      }
    }
  },
};
