import type { Entry } from '../catalog/entry.js';
import type { Locale } from '../locale/tag.js';
import { TRAIT } from '../message/traits.js';
import type { Kind } from './kind.js';

const asksForValue = (entry: Entry): boolean => entry.signature.names.has('value');

export const secretValue: Kind = {
  kind: 'secret-value',
  severity: 'error',
  about: 'The message of a secret field asks for what was given; clients see a mask in its place.',
  remedy: 'Leave {value} out of the message.',
  example: '"fields": { "passphrase": { "messages": { "minLength": "{value} is too short." } } }',
  texts: (context, report) => {
    const { rows } = context;
    if (!rows.some(({ field }) => field.secret)) return undefined;
    // Looked up only where some text asks for it at all.
    const found = new Set<Locale>();
    return {
      needs: TRAIT.argument,
      sorts: ['message'],
      each: (role) => {
        if (asksForValue(role.entry) && role.rows.some(({ field }) => field.secret)) found.add(role.entry.locale);
      },
      end: () => {
        const locales = context.servedBy(found, asksForValue);
        const told = new Set<Entry>();
        for (const [at, { form, field, code }] of rows.entries()) {
          for (const locale of field.secret ? locales : []) {
            const message = context.messagesIn(locale)[at];
            if (!message || !asksForValue(message.entry) || told.has(message.entry)) continue;
            told.add(message.entry);
            report({
              ...{ locale: message.locale, form: form.id, path: field.path, rule: code },
              message: `${field.path} is secret, so {value} shows only a mask. Leave it out.`,
              spot: { ...message.entry.origin, at: 'value', offset: message.entry.arguments.get('value')?.start ?? 0 },
            });
          }
        }
      },
    };
  },
};
