import { wordInflections } from '../../message/word-inflections.js';
import { getOrMake } from '../../base/get-or-make.js';
import { printPath, type Pattern } from '../../path/path.js';
import type { Entry } from '../../texts/entry.js';
import { STATE } from '../../texts/table.js';
import { isCovered } from '../subject/coverage.js';
import type { Kind } from '../subject/kind.js';

export const missingInflection: Kind = {
  kind: 'missing-inflection',
  severity: 'warning',
  about: 'A message asks for an inflection that a label lacks; the label stands there uninflected.',
  remedy: 'Add the inflection to each label that the sentence lists.',
  example: '"required": "Bitte {label_accusative} angeben."  // a label without "accusative"',
  look: ({ texts }, report) => {
    // By the message and the argument that asks: the paths whose labels lack the form.
    const gaps = new Map<
      Entry,
      Map<string, { readonly form: string; readonly labels: Set<string> }>
    >();
    return {
      cell: {
        wants: (_row, coverage, state) => (state & STATE.asksForm) !== 0 && isCovered(coverage),
        see: ({ row: { form: own, field, use }, locale, entry }) => {
          const wanted = (entry && wordInflections(entry.signature)) ?? [];
          if (!entry) return;
          for (const { name, word, inflection: form } of wanted) {
            const pattern: Pattern | undefined = word === 'label' ? field.pattern : use.counterpart;
            const label = pattern && texts.label(own.id, pattern, locale);
            // Without any label of this locale there is another finding already.
            if (!label || !texts.serves(label.locale, locale)) continue;
            if (
              form === 'gender' ? label.details.gender !== undefined : label.inflections.has(form)
            )
              continue;
            const byName = getOrMake(gaps, entry, () => new Map());
            const gap = getOrMake(byName, name, () => ({ form, labels: new Set<string>() }));
            gap.labels.add(printPath(pattern));
          }
        },
      },
      end: () => {
        for (const [entry, names] of gaps) {
          for (const [name, { form, labels }] of names)
            report({
              locale: entry.locale,
              message: `{${name}} asks for an inflection that ${labels.size === 1 ? 'this label lacks' : 'these labels lack'}: ${[...labels].join(', ')}. Add "${form}".`,
              spot: { ...entry.origin, at: 'value', offset: entry.arguments.get(name)?.start ?? 0 },
            });
        }
      },
    };
  },
};
