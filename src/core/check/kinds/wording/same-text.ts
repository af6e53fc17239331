import { getOrMake } from '../../../base/get-or-make.js';
import type { Catalog } from '../../../texts/catalog.js';
import type { FieldEntry } from '../../../texts/purpose.js';
import { generalOf } from '../../../rules/unnamed.js';
import type { Kind } from '../../subject/kind.js';
import { aboutText, PerPurpose, type CheckedText } from '../../subject/checked-text.js';
import { keyed } from '../../../base/keyed.js';

/** Rules that ask the same of people, in other words of the standard. */
const SYNONYMS: Readonly<Record<string, string>> = keyed({
  unevaluatedProperties: 'additionalProperties',
});

const meaning = (key: string): string => SYNONYMS[key] ?? key;

export const sameText: Kind = {
  kind: 'same-text',
  severity: 'warning',
  about:
    'Two rules that mean different things share one text, so that nobody knows which of them was broken.',
  remedy: 'Say in each what it asks for.',
  example: '"minLength": "Mind the length.", "maxLength": "Mind the length."',
  look: ({ table }, report) => {
    const beside = new PerPurpose(({ field }): readonly number[] =>
      Array.from(field?.slotsOf('message') ?? [], ({ purpose }) => purpose.id),
    );
    // Most texts of fields have no equal, and then nothing is kept of them.
    const mayHaveEqual = (checked: CheckedText): boolean => {
      const { catalog, entry } = checked;
      const { cells, covered } = table.column(catalog.locale);
      return (
        !checked.field ||
        covered.length > 0 ||
        beside.of(checked).some((id) => cells[id] !== entry && cells[id]?.text === entry.text)
      );
    };
    // By language and form: the keys of the messages of each field, or of all, by what they say.
    const seen = new Map<string, Map<FieldEntry | undefined, Map<string, string>>>();
    let last:
      | {
          readonly catalog: Catalog;
          readonly fields: Map<FieldEntry | undefined, Map<string, string>>;
        }
      | undefined;
    const fieldsOf = (catalog: Catalog): Map<FieldEntry | undefined, Map<string, string>> => {
      if (last?.catalog === catalog) return last.fields;
      const id = `${catalog.locale} ${catalog.form ?? ''}`;
      const fields = getOrMake(seen, id, () => new Map());
      last = { catalog, fields };
      return fields;
    };
    return {
      sorts: ['message'],
      // A field's only message has no other beside it.
      concerns: ({ field }) => !field || [...field.slotsOf('message')].length > 1,
      // Rules that ask for different things may say the same without their parameters.
      text: (checked) => {
        const { catalog, field, entry, key } = checked;
        if (!mayHaveEqual(checked) || entry.error || generalOf(key) !== undefined) return;
        const fields = fieldsOf(catalog);
        const texts = getOrMake(fields, field, () => new Map());
        const earlier = texts.get(entry.text);
        if (earlier === undefined) texts.set(entry.text, key);
        else if (meaning(earlier) !== meaning(key)) {
          const message = `"${key}" says the same as "${earlier}". Say in each what it asks for.`;
          report({ message, ...aboutText(checked) });
        }
      },
    };
  },
};
