import { getOrMake } from '../../../base/get-or-make.js';
import type { Locale } from '../../../locale/tag.js';
import { MAY_HOLD } from '../../../message/may-hold.js';
import type { Signature } from '../../../message/signature.js';
import type { Field } from '../../../rules/form.js';
import type { Entry } from '../../../texts/entry.js';
import type { Texts } from '../../../texts/ladder.js';
import type { Row } from '../../subject/context.js';
import type { Kind } from '../../subject/kind.js';
import { aboutText, type CheckedText } from '../../subject/checked-text.js';
import { keyed } from '../../../base/keyed.js';

/** The label of each field in each language, looked up once. */
class Labels {
  private readonly known = new Map<Locale, Map<Field, Entry | undefined>>();

  constructor(private readonly texts: Texts) {}

  of({ form, field }: Row, locale: Locale): Entry | undefined {
    const byField = getOrMake(this.known, locale, () => new Map());
    if (!byField.has(field)) {
      const label = this.texts.label(form.id, field.pattern, locale);
      byField.set(field, label && this.texts.serves(label.locale, locale) ? label : undefined);
    }
    return byField.get(field);
  }
}

/** Whether messages with a signature name the field, decided once for all that have it. */
function naming(name: RegExp): (signature: Signature) => boolean {
  const known = new WeakMap<Signature, boolean>();
  return (signature) => {
    return getOrMake(known, signature, () => [...signature.names].some((one) => name.test(one)));
  };
}

const AT_START = /^\{(label|subject|place)\}/;
/** Behind something that no sentence begins after: a letter, a digit or a comma, and a blank. */
const INSIDE = /[\p{L}\p{N},)] \{((?:label|subject|place)_start)\}/u;

/** Where `_start}` may stand at the soonest in a name that has something before it. */
const INSIDE_FROM = 'a {label'.length;

const isSmall = (text: string, locale: string): boolean => {
  const first = text.charAt(0);
  return first.toLocaleUpperCase(locale) !== first;
};

export const startInflection: Kind = {
  kind: 'start-inflection',
  severity: 'warning',
  about: 'A label begins a sentence with a small letter, or stands inside of one with a capital.',
  remedy:
    'Write {label_start} or {subject_start} where a sentence begins, and {label} or {subject} inside.',
  example: '"maxLength": "{label} is too long."     // "title is too long."',
  look: ({ texts }, report) => {
    const labels = new Labels(texts);
    const isNamed = naming(/^(?:label|subject|place)(?:_start)?$/);
    const small = ({ rows, entry }: CheckedText): Entry | undefined =>
      rows
        .map((row) => labels.of(row, entry.locale))
        .find((label) => label !== undefined && isSmall(label.text, entry.locale));
    return {
      needs: MAY_HOLD.argument,
      sorts: ['message'],
      concerns: ({ entry: { signature } }) => isNamed(signature),
      text: (checked) => {
        const { text } = checked.entry;
        const first = AT_START.exec(text)?.[1];
        // Most labels of a language are written alike, so one without capitals decides.
        const label = first === undefined ? undefined : small(checked);
        if (first !== undefined && label !== undefined) {
          const message = `This sentence begins with {${first}}, so with the small letter of "${label.text}". Write {${first}_start}.`;
          report({ message, ...aboutText(checked) });
          return;
        }
        // Mostly such names stand at the start alone, and then the expression need not look.
        const inside = text.includes('_start}', INSIDE_FROM) ? INSIDE.exec(text) : null;
        const name = inside?.[1];
        if (!inside || name === undefined || small(checked) === undefined) return;
        const message = `{${name}} puts a capital letter inside of a sentence. Write {${name.replace('_start', '')}}.`;
        report({ message, ...aboutText(checked, inside.index + 2) });
      },
    };
  },
};

/** Verbs in the singular that follow the name of one thing, by language. */
const SINGULAR: Readonly<Record<string, RegExp>> = keyed({
  en: /^ (?:is|has|was|does)\b/,
  de: /^ (?:ist|muss|darf|hat|soll|kann|wird)\b/,
  nl: /^ (?:is|moet|mag|heeft|kan|wordt)\b/,
  fr: /^ (?:est|doit|peut|a)\b/,
  es: /^ (?:es|debe|puede|tiene|está)(?=[\s.,])/,
  it: /^ (?:è|deve|può|ha)(?=[\s.,])/,
  pt: /^ (?:é|deve|pode|tem|está)(?=[\s.,])/,
  pl: /^ (?:jest|musi|może|ma)(?=[\s.,])/,
  cs: /^ (?:je|smí|má|bude)(?=[\s.,])/,
  ru: /^ (?:является|может|имеет|должен|должна|должно)(?=[\s.,])/,
  ro: /^ (?:este|poate|are)(?=[\s.,])/,
  sk: /^ (?:je|musí|smie|má|môže|bude)(?=[\s.,])/,
  fi: /^ (?:on|saa|ei)(?=[\s.,])/,
  el: /^ (?:μπορεί|έχει)(?=[\s.,])/,
  uk: /^ (?:є|має|може|повинен|повинна|повинно)(?=[\s.,])/,
});

const SUBJECT = /^\{(?:label_start|subject_start|label|subject)\}/;

/** The verbs of a locale's language. */
const singularIn = (locale: string): RegExp | undefined => SINGULAR[locale.split('-', 1)[0] ?? ''];

export const agreement: Kind = {
  kind: 'agreement',
  severity: 'warning',
  about:
    'A verb in the singular follows the name of a field, and the label of some such field is in the plural.',
  remedy:
    'Choose the verb by {label_gender, select, plural {…} other {…}}, or let the sentence speak of the value.',
  example: '"maxItems": "{label_start} ist zu lang."   // for a label with the gender "plural"',
  look: ({ texts }, report) => {
    const labels = new Labels(texts);
    const isNamed = naming(/^(?:label|subject)(?:_start)?$/);
    // Texts of a language come one after the other.
    let verbs: { readonly locale: Locale; readonly singular: RegExp | undefined } | undefined;
    return {
      needs: MAY_HOLD.argument,
      sorts: ['message'],
      concerns: ({ entry: { signature } }) =>
        !signature.names.has('label_gender') && isNamed(signature),
      text: (checked) => {
        const { entry, rows } = checked;
        if (verbs?.locale !== entry.locale)
          verbs = { locale: entry.locale, singular: singularIn(entry.locale) };
        const { singular } = verbs;
        if (!singular) return;
        const subject = SUBJECT.exec(entry.text)?.[0];
        const verb =
          subject === undefined
            ? undefined
            : singular.exec(entry.text.slice(subject.length))?.[0].trim();
        if (subject === undefined || verb === undefined) return;
        const plural = rows.find(
          (row) => labels.of(row, entry.locale)?.details.gender === 'plural',
        );
        if (!plural) return;
        const message = `"${verb}" is the singular, and the label of ${plural.field.path || 'the body'} is in the plural. Choose the verb by {label_gender}, or say it of the value.`;
        report({ message, ...aboutText(checked, subject.length + 1) });
      },
    };
  },
};
