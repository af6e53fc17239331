import { en, message, of, type Case } from './mistakes.js';

/** The same for wording. */
export const WORDING_MISTAKES: Case[] = [
  {
    kind: 'start-inflection',
    at: message('0.json', 'maxLength'),
    says: 'begins with {label}',
    texts: [
      en({ maxLength: '{label} has more than {max} characters.' }, { title: { label: 'title' } }),
    ],
    mended: {
      texts: [
        en(
          { maxLength: '{label_start} has more than {max} characters.' },
          { title: { label: 'title' } },
        ),
      ],
    },
  },
  {
    kind: 'start-inflection',
    at: message('0.json', 'maxLength'),
    offset: 10,
    says: 'a capital letter inside of a sentence',
    texts: [
      en(
        { maxLength: 'Shorten a {label_start} to {max} characters.' },
        { title: { label: 'title' } },
      ),
    ],
    mended: {
      texts: [
        en({ maxLength: 'Wrong. {label_start}: {max} characters.' }, { title: { label: 'title' } }),
      ],
    },
  },
  {
    kind: 'start-inflection',
    at: message('0.json', 'maxLength'),
    offset: 2,
    says: 'a capital letter inside of a sentence',
    texts: [
      en(
        { maxLength: 'A {label_start} has at most {max} characters.' },
        { title: { label: 'title' } },
      ),
    ],
    mended: {
      texts: [
        en({ maxLength: 'A {label} has at most {max} characters.' }, { title: { label: 'title' } }),
      ],
    },
  },
  {
    kind: 'agreement',
    at: message('0.json', 'maxLength'),
    offset: 14,
    says: '"darf" is the singular, and the label of title is in the plural',
    texts: [
      of(
        'de',
        { maxLength: '{label_start} darf höchstens {max} Zeichen haben.' },
        { title: { label: { text: 'Titel', gender: 'plural' } } },
      ),
    ],
    mended: {
      texts: [
        of(
          'de',
          {
            maxLength:
              '{label_start} {label_gender, select, plural {dürfen} other {darf}} höchstens {max} Zeichen haben.',
          },
          { title: { label: { text: 'Titel', gender: 'plural' } } },
        ),
      ],
    },
    languages: ['de'],
  },
  {
    kind: 'bare-literal',
    severity: 'info',
    at: message('0.json', 'maxLength'),
    offset: 0,
    says: '{value} stands there without quotes. Write {value_quoted}',
    texts: [en({ maxLength: '{value} is longer than {max}.' })],
    mended: {
      texts: [en({ maxLength: '“{value}” is longer than {max}, and so is {value_quoted}.' })],
    },
  },
  {
    kind: 'number-lost',
    at: ['0.json', 'fields', 'list[*]', 'label'],
    says: 'Write {list_number}',
    fields: { 'list[*].name': { required: true } },
    texts: [en({}, { 'list[*]': { label: 'entry' } })],
    mended: { texts: [en({}, { 'list[*]': { label: 'entry {list_number}' } })] },
  },
  {
    kind: 'vague-message',
    at: message('0.json', 'maxLength'),
    offset: 11,
    says: '"invalid" does not say what would be right. Say it with {max}.',
    texts: [en({ maxLength: '{label} is invalid.' })],
    mended: { texts: [en({ maxLength: '{label} is invalid: {max} characters at most.' })] },
  },
  {
    kind: 'vague-message',
    at: message('0.json', 'maxLength'),
    says: '"ungültig"',
    texts: [of('de', { maxLength: 'Ungültige Länge.' })],
    mended: { texts: [of('de', { maxLength: 'Ungültige Länge: {max} Zeichen.' })] },
    languages: ['de'],
  },
  {
    kind: 'raw-path',
    at: message('0.json', 'required'),
    offset: 7,
    says: '"firstNight" is a name out of the code',
    fields: { firstNight: { required: true } },
    texts: [en({ required: 'Please firstNight.' }, { firstNight: { label: 'x' } })],
    mended: { texts: [en({ required: 'Please first night.' })] },
  },
  {
    kind: 'raw-path',
    at: message('0.json', 'required'),
    says: '"targets.2.name"',
    texts: [en({ required: 'Give targets.2.name at once.' })],
    mended: { texts: [en({ required: 'Give it at 12.30, see page 2.' })] },
  },
  {
    kind: 'same-as-original',
    at: message('1.json', 'required'),
    says: 'This text is the original in en, word by word',
    texts: [
      en({ required: 'Please give the {label}.' }),
      of('de', { required: 'Please give the {label}.' }),
    ],
    mended: {
      texts: [
        en({ required: 'Please give the {label}.' }),
        of('de', { required: 'Bitte {label}.' }),
      ],
    },
    languages: ['en', 'de'],
  },
  {
    kind: 'same-text',
    at: message('0.json', 'maxLength'),
    says: '"maxLength" says the same as "required"',
    texts: [en({ required: 'Mind the {label}.', maxLength: 'Mind the {label}.' })],
    mended: { texts: [en({ required: 'Mind the {label}.', maxLength: '{label}: {max}' })] },
  },
  {
    kind: 'too-long',
    at: ['0.json', 'messages', 'maxLength', 'text'],
    says: 'has 19 characters, and there is room for 18',
    texts: [en({ maxLength: { text: '{label} at most {max}', room: 18 } })],
    mended: { texts: [en({ maxLength: { text: '{label} at most {max}', room: 19 } })] },
    fields: { title: { maxLength: 1 }, more: { maxLength: 99_999 } },
  },
  {
    kind: 'too-long',
    at: ['0.json', 'messages', 'maxLength', 'text'],
    says: 'has 12 characters, and there is room for 11',
    texts: [en({ maxLength: { text: '{max, plural, one {#} other {a great many}}', room: 11 } })],
    mended: {
      texts: [en({ maxLength: { text: '{max, plural, one {#} other {a great many}}', room: 12 } })],
    },
    fields: { title: { maxLength: 1 } },
  },
  {
    kind: 'end-mark',
    at: message('0.json', 'd'),
    says: 'end with a full stop, and this one does not',
    fields: { title: { external: { a: true, b: true, c: true, d: true } } },
    texts: [en({ a: 'A.', b: '{nested, select, yes {B.} other {C!}}', c: 'C “c.”', d: 'D' })],
    mended: { texts: [en({ a: 'A', b: 'B', c: 'C', d: 'D' })] },
  },
  {
    kind: 'spacing',
    at: message('0.json', 'required'),
    offset: 6,
    says: 'has a double space',
    texts: [en({ required: 'Please  give it.' })],
    mended: {
      texts: [en({ required: 'Please give {label}{nested, select, yes { of {place}} other {}}.' })],
    },
  },
  {
    kind: 'spacing',
    at: message('0.json', 'required'),
    says: 'This text ends with a space',
    texts: [en({ required: 'Please ' })],
    mended: { texts: [en({ required: 'Please' })] },
  },
  {
    kind: 'spacing',
    at: message('0.json', 'required'),
    says: 'lacks the non-breaking space',
    texts: [of('fr', { required: 'Le champ « titre » : obligatoire' })],
    mended: { texts: [of('fr', { required: 'Le champ «\u00a0titre\u00a0»\u00a0: obligatoire' })] },
    languages: ['fr'],
  },
  {
    kind: 'mixed-direction',
    at: message('0.json', 'required'),
    offset: 12,
    says: '"JSON" runs against the direction of ar',
    texts: [of('ar', { required: 'محتوى الطلب JSON' })],
    mended: { texts: [of('ar', { required: 'محتوى الطلب \u2068JSON\u2069' })] },
    languages: ['ar'],
  },
  {
    kind: 'wrong-script',
    severity: 'error',
    at: message('0.json', 'required'),
    offset: 5,
    says: '"пoле" mixes letters of two scripts',
    texts: [of('uk', { required: 'Одне пoле.' })],
    mended: { texts: [of('uk', { required: 'Одне поле, Hα, JSON-документ.' })] },
    languages: ['uk'],
  },
  {
    kind: 'markup',
    at: message('0.json', 'required'),
    offset: 7,
    says: '"<b>" is markup',
    texts: [en({ required: 'Please <b>give</b> it.' })],
    mended: { texts: [en({ required: 'Please give 1 < 2 & 3 > 2.' })] },
  },
];
