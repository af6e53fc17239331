import type { Kind } from '../subject/kind.js';
import { placeArguments, ruleArguments } from './offers.js';

export const argumentClash: Kind = {
  kind: 'argument-clash',
  severity: 'warning',
  about:
    "A rule's parameter has the name of an array's argument; messages can only say the parameter.",
  remedy: 'Give the parameter another name.',
  example: "'targets[*].slot': { external: { free: { targets_number: 3 } } }",
  *findInRules({ rows }) {
    for (const { form, field, use, code } of rows) {
      const places = placeArguments(field.pattern);
      const clash = [...Object.keys(use.params), ...ruleArguments(use.rule)].find((name) =>
        places.includes(name),
      );
      if (clash === undefined) continue;
      const message = `The parameter "${clash}" hides the position in the array of the same name. Give it another name.`;
      yield {
        kind: 'argument-clash',
        form: form.id,
        path: field.path,
        rule: code,
        message,
        spot: { ...use.origin, at: 'value' },
      };
    }
  },
};
