import { BOUNDS } from './bounds.js';
import { CHOICES } from './choices.js';
import type { ArgumentDefinition, RuleDefinition } from './definition.js';
import { KINDS } from './kinds.js';
import { PRESENCE } from './presence.js';
import { RELATIONS } from './relations.js';
import { SCHEMAS } from './schemas.js';
import { SIZES } from './sizes.js';
import { TEXTS } from './texts.js';
import { UPLOADS } from './uploads.js';

/**
 * The rules that Zeitwort knows. The sheets, the messages' arguments, the check and the starter
 * catalogs all go by it.
 */
export const VOCABULARY: ReadonlyMap<string, RuleDefinition> = new Map(
  [
    ...PRESENCE,
    ...KINDS,
    ...SIZES,
    ...UPLOADS,
    ...BOUNDS,
    ...TEXTS,
    ...CHOICES,
    ...RELATIONS,
    ...SCHEMAS,
  ].map((rule) => [rule.id, rule]),
);

/** The keys of a field in a sheet that are no rules. */
export const FIELD_SETTINGS = ['optional', 'trim', 'secret', 'blank', 'label'] as const;

/** The settings for null and blank texts, and whether these count as missing. */
export const BLANKS = { missing: true, kept: false } as const;

/** The key under which a sheet declares rules that only the backend can check. */
export const EXTERNAL = 'external';

/**
 * The arguments of every message about a field, besides the arrays' and maps' own and the
 * inflections of labels.
 */
export const FIELD_ARGUMENTS: readonly ArgumentDefinition[] = [
  {
    name: 'subject',
    kind: 'text',
    about: 'what the sentence is about: the label, inside an element together with its place',
    sample: 'magnitude',
  },
  {
    name: 'subject_start',
    kind: 'text',
    about: 'the subject as it stands at the start of a sentence',
    sample: 'Magnitude',
  },
  { name: 'label', kind: 'text', about: "the field's label", sample: 'magnitude' },
  {
    name: 'label_start',
    kind: 'text',
    about: 'the label as it stands at the start of a sentence',
    sample: 'Magnitude',
  },
  {
    name: 'label_gender',
    kind: 'key',
    about: "the label's grammatical gender, where the catalog says it",
    sample: 'feminine',
  },
  {
    name: 'place',
    kind: 'text',
    about: 'the elements around the field, in words',
    sample: 'target 3, exposure 1',
  },
  {
    name: 'place_start',
    kind: 'text',
    about: 'the elements around the field, as at the start of a sentence',
    sample: 'Target 3, exposure 1',
  },
  { name: 'nested', kind: 'key', about: '`yes` inside an element, else `no`', sample: 'no' },
  { name: 'value', kind: 'text', about: 'what was given, as text, shortened', sample: '27.5' },
];
