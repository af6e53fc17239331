import type { Row } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';

/** Arguments that use an example. */
const OF_EXAMPLES = ['example', 'hint'];

const lacksExample = ({ use }: Row): boolean =>
  use.rule === 'pattern' && use.params.example === undefined;

export const noExample: Kind = {
  kind: 'no-example',
  severity: 'warning',
  about:
    'A regular expression has no example, so clients read that a certain form is required, but not which.',
  remedy:
    'Give an `example` with the expression (`examples` in a schema), or write a message that says what is wanted.',
  example: "semester: { pattern: '^\\d{4}[AB]$' }   # write { regex: …, example: 2027A }",
  look: (_, report) => {
    const reported = new Set<object>();
    return {
      cell: {
        wants: lacksExample,
        see: ({ row: { form, field, use, code }, entry }) => {
          if (
            reported.has(use) ||
            !entry ||
            !OF_EXAMPLES.some((name) => entry.signature.names.has(name))
          )
            return;
          reported.add(use);
          report({
            form: form.id,
            path: field.path,
            rule: code,
            message: `"${code}" of ${field.path || 'the body'} has no example, and its message would show one. Give one beside the expression.`,
            spot: { ...use.origin, at: 'value' },
          });
        },
      },
    };
  },
};
