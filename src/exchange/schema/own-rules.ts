import type { Remark } from '../../core/finding.js';
import type { Origin } from '../../core/origin.js';
import { parsePattern, PathSyntaxError, type Pattern } from '../../core/path/path.js';
import { isObject, Reading, type Loose, type LooseObject } from '../../core/reading.js';
import type { RuleUse } from '../../core/rules/form.js';
import { readExternal, readUses } from '../../core/rules/uses.js';
import { EXTERNAL, VOCABULARY } from '../../core/rules/vocabulary.js';
import { suggestion } from '../../core/text/closest.js';

/**
 * The keyword under which a schema has rules that JSON Schema has no keyword for: by path from
 * here, as a sheet has them.
 */
export const OWN_RULES = 'x-zeitwort-rules';

/** The uses of one path. */
export interface OwnRules {
  readonly pattern: Pattern;
  readonly uses: readonly RuleUse[];
}

class OwnReader {
  readonly reading: Reading;

  constructor(private readonly origin: Origin) {
    this.reading = new Reading(origin.file);
  }

  private uses(rules: LooseObject, start: Pattern, keys: Origin['keys']): RuleUse[] {
    const texts = keys.map(String);
    return Object.entries(rules).flatMap(([id, value]): RuleUse[] => {
      // Code tests it; whether a sheet declares it is another question.
      if (id === EXTERNAL)
        return readExternal(this.reading, value, [...texts, id]).map((use) => ({
          ...use,
          undeclared: true,
        }));
      const definition = VOCABULARY.get(id);
      if (!definition) {
        const message = `There is no rule "${id}"${suggestion(id, VOCABULARY.keys())}.`;
        this.reading.note('unknown-rule', [...keys, id], 'key', message, { rule: id });
        return [];
      }
      return readUses(this.reading, definition, value, [...texts, id]).map((use) =>
        use.counterpart ? { ...use, counterpart: [...start, ...use.counterpart] } : use,
      );
    });
  }

  read(value: Loose, start: Pattern): OwnRules[] {
    const keys = [...this.origin.keys, OWN_RULES];
    return this.reading
      .members(value, keys, `"${OWN_RULES}"`)
      .flatMap(([path, rules]): OwnRules[] => {
        const at = [...keys, path];
        try {
          const pattern = [...start, ...parsePattern(path)];
          if (isObject(rules)) return [{ pattern, uses: this.uses(rules, start, at) }];
          this.reading.wrongStructure(
            at,
            'value',
            `The rules of "${path}" are an object, as in a sheet.`,
          );
        } catch (error) {
          if (!(error instanceof PathSyntaxError)) throw error;
          this.reading.wrongStructure(at, 'key', `${error.message}.`);
        }
        return [];
      });
  }
}

/**
 * Reads the rules of our own vocabulary that stand in a schema.
 * @param start where the schema stands
 */
export function ownRules(
  value: Loose,
  start: Pattern,
  origin: Origin,
): { readonly rules: readonly OwnRules[]; readonly remarks: readonly Remark[] } {
  const reader = new OwnReader(origin);
  return { rules: reader.read(value, start), remarks: reader.reading.remarks };
}
