import type { Remark } from '../finding.js';
import type { Kind } from './kind.js';

export const secretValue: Kind = {
  kind: 'secret-value',
  severity: 'error',
  about: 'The message of a secret field asks for what was given; clients see a mask in its place.',
  remedy: 'Leave {value} out of the message.',
  *find({ rows, subject }) {
    const told = new Set<unknown>();
    for (const { form, field, keys, code } of rows) {
      if (!field.secret) continue;
      for (const locale of subject.locales) {
        const found = subject.texts.message({ form: form.id, path: field.pattern, keys }, locale);
        const span = found?.entry.arguments.get('value');
        if (!found || !span || told.has(found.entry)) continue;
        told.add(found.entry);
        const remark: Remark = {
          kind: 'secret-value',
          locale: found.locale,
          form: form.id,
          path: field.path,
          rule: code,
          message: `${field.path} is secret, so {value} shows only a mask. Leave it out.`,
          spot: { ...found.entry.origin, at: 'value', offset: span.start },
        };
        yield remark;
      }
    }
  },
};
