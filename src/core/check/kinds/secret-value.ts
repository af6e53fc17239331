import type { Entry } from '../../texts/entry.js';
import { STATE } from '../../texts/table.js';
import type { Kind } from '../subject/kind.js';

export const secretValue: Kind = {
  kind: 'secret-value',
  severity: 'error',
  about: 'The message of a secret field asks for what was given; clients see a mask in its place.',
  remedy: 'Leave {value} out of the message.',
  example: '"fields": { "passphrase": { "messages": { "minLength": "{value} is too short." } } }',
  look: (_, report) => {
    const reported = new Set<Entry>();
    return {
      cell: {
        wants: ({ field }, _coverage, state) => field.secret && (state & STATE.asksValue) !== 0,
        see: ({ row: { form, field, code }, entry }) => {
          if (!entry || reported.has(entry)) return;
          reported.add(entry);
          report({
            locale: entry.locale,
            form: form.id,
            path: field.path,
            rule: code,
            message: `${field.path} is secret, so {value} shows only a mask. Leave it out.`,
            spot: {
              ...entry.origin,
              at: 'value',
              offset: entry.arguments.get('value')?.start ?? 0,
            },
          });
        },
      },
    };
  },
};
