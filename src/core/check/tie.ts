import { ANY_DEPTH, samplePath, type Pattern, type PatternSegment } from '../path/path.js';
import { isCoveredBy } from '../path/cover.js';
import type { FieldEntry } from '../texts/purpose.js';
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
  look: ({ table }, report) => {
    const isOpen = ({ pattern }: FieldEntry): boolean => pattern.includes(ANY_DEPTH);
    if (!table.purposes.scopesOf('written').some(({ fields }) => [...fields.values()].some(isOpen))) return undefined;
    return {
      catalog: ({ fields, locale, file }) => {
        // Without `..` patterns that overlap and are equally literal are one and the same.
        const open = fields.filter(isOpen);
        for (const [at, { pattern, path, keys }] of open.entries()) {
          const rival = open.slice(0, at).find((one) => {
            const overlap = isCoveredBy(one.pattern, samplePath(pattern)) || isCoveredBy(pattern, samplePath(one.pattern));
            return overlap && equallyLiteral(one.pattern, pattern);
          });
          if (!rival) continue;
          const message = `${path} and ${rival.path} cover the same places and are equally literal. Make one of them more literal.`;
          report({ locale, path, message, spot: { file, keys, at: 'key' } });
        }
      },
    };
  },
};
