import type { Remark } from '../../core/finding.js';
import { UNNAMED } from '../../core/rules/unnamed.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import { suggestion } from '../../core/text/closest.js';
import { mapOf, type RuleTarget } from '../../exchange/violations/declared.js';
import { CONFIG_FILE } from '../disk/find.js';
import type { Workspace } from '../reading/workspace.js';

/** The rules that an entry of a map leads to, each with the keys that lead to it. */
function rulesIn(target: RuleTarget): [rule: string, keys: (string | number)[]][] {
  if (typeof target === 'string') return [[target, []]];
  if ('rule' in target)
    return [
      [target.rule, ['rule']],
      ...(target.as === undefined ? [] : [[target.as, ['as']] as [string, string[]]]),
    ];
  return target.map((rule, at) => [rule, [at]]);
}

/**
 * Rules that readers map names to, and that neither the vocabulary nor a form has: their violations
 * would have the sentence for rules without a text.
 */
export function mappedRules({ config, forms }: Workspace): Remark[] {
  if (Object.keys(config.readers).length === 0) return [];
  const known = new Set([...VOCABULARY.keys(), UNNAMED]);
  for (const { form } of forms.values())
    for (const { uses } of form.fields)
      for (const { rule, as } of uses) known.add(rule).add(as ?? rule);
  return Object.entries(config.readers).flatMap(([reader, declared]) =>
    (['rule', 'rules'] as const).flatMap((key) =>
      Object.entries(mapOf<RuleTarget>(declared[key])).flatMap(([name, target]) =>
        rulesIn(target).flatMap(([rule, keys]): Remark[] => {
          if (known.has(rule)) return [];
          const message = `The reader "${reader}" maps "${name}" to "${rule}", which no form declares${suggestion(rule, known)}. Correct the name, or declare the rule.`;
          return [
            {
              kind: 'unknown-rule',
              rule,
              message,
              spot: {
                file: CONFIG_FILE,
                keys: ['readers', reader, key, 'map', name, ...keys],
                at: 'value',
              },
            },
          ];
        }),
      ),
    ),
  );
}
