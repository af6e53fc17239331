import type { Remark } from '../finding.js';
import type { Kind } from './kind.js';

export const secretValue: Kind = {
  kind: 'secret-value',
  severity: 'error',
  about: 'The message of a secret field asks for what was given; clients see a mask in its place.',
  remedy: 'Leave {value} out of the message.',
  example: '"fields": { "passphrase": { "messages": { "minLength": "{value} is too short." } } }',
  *find(context) {
    const { rows, subject } = context;
    const told = new Set<unknown>();
    for (const [at, { form, field, code }] of rows.entries()) {
      if (!field.secret) continue;
      for (const locale of subject.locales) {
        const found = context.messagesIn(locale)[at];
        if (!found?.entry.signature.names.has('value') || told.has(found.entry)) continue;
        told.add(found.entry);
        const remark: Remark = {
          kind: 'secret-value',
          locale: found.locale,
          form: form.id,
          path: field.path,
          rule: code,
          message: `${field.path} is secret, so {value} shows only a mask. Leave it out.`,
          spot: { ...found.entry.origin, at: 'value', offset: found.entry.arguments.get('value')?.start ?? 0 },
        };
        yield remark;
      }
    }
  },
};
