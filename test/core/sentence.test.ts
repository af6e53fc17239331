import { describe, expect, test } from '@jest/globals';
import { entryOf } from '../../src/core/texts/entry.js';
import { rungOf } from '../../src/core/texts/ladder.js';
import { World } from '../support/world.js';

const forms = {
  proposal: {
    fields: {
      title: { required: true, maxLength: 120 },
      'lead.name': { required: true },
      passphrase: { secret: true, minLength: 12 },
      account: { type: 'object' },
      'account.passphrase': { secret: true },
      lastNight: { earliest: { field: 'firstNight' } },
      firstNight: { earliest: '2027-02-01', format: 'date-time' },
      'targets[*].magnitude': { maximum: [{ max: 25 }, { max: 21, as: 'too-faint' }] },
      'targets[*].filter': { enum: ['ha', 'o3'], type: ['string', 'null'] },
      'targets[*].exposures[*].seconds': { minimum: 1, maximum: { field: 'targets[*].limit' } },
      'extras.*': { required: true },
      word: { enum: ['a'], secret: true },
      'grid[*][*]': { required: true },
      'targets[*].plan': { external: { fits: { hours: 6.5, why: ['rain', 'wind'] } } },
    },
  },
  log: { fields: { title: { required: true } } },
};

/** A world in which one rule says one text. */
const saying = (
  texts: Record<string, string>,
  more: Record<string, unknown> = {},
  locale = 'en',
): World => new World({ forms, texts: [{ locale, messages: texts, ...more }], original: locale });

describe('arguments', () => {
  test('of many choices a few are named, with how many there are', () => {
    const choices = Array.from({ length: 2000 }, (_, at) => `Place_${at}`);
    const world = saying({ enum: '{choices}|{choices_literal}|{choices_listed}' });
    const { text } = world.say({ path: 'targets[0].filter', rule: 'enum', params: { choices } });
    expect(text.match(/Place_9”?, … \(2,000\)(?=\||$)/g) ?? text).toHaveLength(3);
    expect(text).not.toContain('Place_10');
    // The one that was probably meant comes first, whoever asks next; the choices of something
    // secret are compared with nothing.
    const first = (value: unknown, path = 'targets[0].filter'): string =>
      world.say({ path, rule: 'enum', params: { choices }, value }).text.split(',')[0] ?? '';
    expect(first('place_1234')).toBe('“Place_1234”');
    expect(first('Place_3')).toBe('“Place_3”');
    expect(first('observatory')).toBe('“Place_0”');
    expect(first(1234)).toBe('“Place_0”');
    expect(first('place_1234', 'word')).toBe('“Place_0”');
  });

  test('the places on the path, from 1, through the labels of the elements', () => {
    const fields = {
      'targets[*]': { label: 'target {targets_number}' },
      'targets[*].exposures[*]': { label: 'exposure {exposures_number}' },
      'targets[*].exposures[*].seconds': { label: 'time' },
    };
    const world = saying(
      {
        minimum:
          '{place_start}|{place}|{label_start}|{targets_number}.{exposures_number}|{nested}|{min}',
      },
      { fields },
    );
    expect(world.say({ path: 'targets[2].exposures[0].seconds', rule: 'minimum' }).text).toBe(
      'Target 3, exposure 1|target 3, exposure 1|Time|3.1|yes|1',
    );
    // The same place as a JSON Pointer, plain and as a fragment.
    for (const path of ['/targets/2/exposures/0/seconds', '#/targets/2/exposures/0/seconds']) {
      expect(world.say({ path, rule: 'minimum' }).text).toContain('exposure 1|target 3');
    }
  });

  test('elements without a label are called after their array, fields after their last word, members of maps as they were sent', () => {
    const places = (required: string): World =>
      saying(
        { minimum: '{place}: {label}', required },
        { fields: { targets: { label: 'stars' } } },
      );
    const world = places('{label} {extras_key} ({nested})');
    expect(world.say({ path: 'targets[2].exposures[0].seconds', rule: 'minimum' }).text).toBe(
      'stars 3, exposures 1: seconds',
    );
    expect(world.say({ path: 'extras.lensCap', rule: 'required' }).text).toBe(
      'lensCap lensCap (no)',
    );
    const grid = places('{label} {grid_number}/{grid_number_2} ({nested})');
    expect(grid.say({ path: 'grid[0][4]', rule: 'required' }).text).toBe('grid 1 5 1/5 (yes)');
  });

  test('a violation may say what its field is called', () => {
    const world = saying(
      {
        required:
          '{subject_start} ({label_quoted}, {label_gender}, {has_label_genitive}, {label_genitive})',
      },
      { fields: { 'extras.*': { label: { text: 'extra', genitive: 'extra’s', gender: 'n' } } } },
    );
    const at = (label?: string): string =>
      world.say({ path: 'extras.f7', rule: 'required', ...(label ? { label } : {}) }).text;
    const own = 'Extra (“extra”, n, yes, extra’s)';
    expect([at(), at('moon phase'), at('night\u202e'), at()]).toEqual([
      own,
      'Moon phase (“moon phase”, other, no, moon phase)',
      'Night (“night”, other, no, night)',
      own,
    ]);
    expect(world.say({ path: 'extras.f7', rule: 'ours', label: 'moon phase' }).text).toBe(
      'Moon phase',
    );
  });

  test('the number of an element is never lost: where neither its label nor the message has it, it stands behind the label', () => {
    const fields = { 'targets[*]': { label: 'target' }, 'targets[0]': { label: 'main target' } };
    const world = saying(
      {
        minimum: '{place_start}: {label}',
        maximum: 'Target {targets_number} ({place})',
        fits: '{label}?',
      },
      { fields },
    );
    const at = (path: string, rule: string): string => world.say({ path, rule }).text;
    expect(at('targets[2].exposures[0].seconds', 'minimum')).toBe('Target 3, exposures 1: seconds');
    expect(at('targets[2].magnitude', 'maximum')).toBe('Target 3 (target)');
    expect(at('targets[0].exposures[0].seconds', 'minimum')).toBe(
      'Main target, exposures 1: seconds',
    );
    expect(at('targets[3].exposures[0].seconds', 'unheard-of')).toBe(
      'Target 4, exposures 1, seconds',
    );
    expect(at('targets[3]', 'fits')).toBe('target 4?');
  });

  test('what asks for an argument that nobody gave is passed over, and the caller is told', () => {
    const told: string[] = [];
    const forms = {
      plan: {
        fields: {
          'parts[*]': {
            external: { night: { hours: 6.5, unit: { constant: 'h' } } },
            maxLength: 9,
          },
        },
      },
    };
    const fields = {
      'parts[*]': {
        messages: {
          night: 'Needs {hours, plural, other {#}} {unit}.',
          maxLength: '{label}: {oops}',
        },
      },
    };
    const messages = {
      night: 'Longer than the night ({unit}).',
      maxLength: '{max, plural, other {At most #}}{why, select, a { {gone}} other {}}',
    };
    const world = new World({
      forms,
      texts: [
        { locale: 'en', messages, fields, problems: { 'invalid-fields': { title: '{gone}' } } },
      ],
      warn: ({ message }) => told.push(message),
    });
    const say = (rule: string, params?: Record<string, unknown>): string =>
      world.say({ path: 'parts[1]', rule, ...(params ? { params } : {}) }).text;
    expect(say('night', { hours: 7 })).toBe('Needs 7 h.');
    expect(told).toEqual([]);
    expect(say('night')).toBe('Longer than the night (h).');
    expect(say('maxLength')).toBe('At most 9');
    expect(say('maxLength', { why: 'a' })).toBe('Parts 2');
    expect(told.map((one) => /\{(\w+)\}/.exec(one)?.[1])).toEqual([
      'hours',
      'oops',
      'oops',
      'gone',
    ]);
  });

  test('grammatical forms and the gender of a label, and of the other field', () => {
    const fields = {
      firstNight: {
        label: { text: 'erste Nacht', gender: 'feminine', dative: 'der ersten Nacht' },
      },
      lastNight: { label: { text: 'letzte Nacht' } },
    };
    const world = saying(
      {
        earliest:
          '{label_gender}|{label_dative}|{counterpart_dative}|{counterpart_gender, select, feminine {sie} other {es}}|{bound}',
      },
      { fields },
      'de',
    );
    expect(world.say({ path: 'lastNight', rule: 'earliest' }, 'de').text).toBe(
      'other|letzte Nacht|der ersten Nacht|sie|field',
    );
  });

  test('bounds: a value, a field, today; another field in the same element', () => {
    const world = saying(
      { earliest: '{bound} {limit, date, long} {exclusive}', maximum: '{bound} {counterpart}' },
      { fields: { 'targets[*].limit': { label: 'limit of target {targets_number}' } } },
    );
    expect(world.say({ path: 'firstNight', rule: 'earliest' }).text).toBe(
      'value February 1, 2027 no',
    );
    expect(
      world.say({
        path: 'firstNight',
        rule: 'earliest',
        params: { limit: 'today', exclusive: true },
      }).text,
    ).toBe('today today yes');
    expect(world.say({ path: 'targets[3].exposures[0].seconds', rule: 'maximum' }).text).toBe(
      'field limit of target 4',
    );
    expect(
      world.say({
        path: 'targets[3].exposures[0].seconds',
        rule: 'maximum',
        params: { counterpart: 'title' },
      }).text,
    ).toBe('field title');
  });

  test('keys for select, lists of choices by their names, external parameters', () => {
    const world = saying(
      {
        type: '{expected}',
        format: '{format}',
        enum: '{choices}',
        fits: '{hours, plural, other {# h}} {why}',
        required: '{label}',
      },
      { fields: { 'targets[*].filter': { choices: { ha: 'H-alpha' } } } },
    );
    expect(world.say({ path: 'targets[0].filter', rule: 'type' }).text).toBe('string');
    expect(
      world.say({ path: 'account', rule: 'type', params: { expected: ['string', 'object'] } }).text,
    ).toBe('several');
    expect(world.say({ path: 'firstNight', rule: 'format' }).text).toBe('date_time');
    expect(world.say({ path: 'targets[0].filter', rule: 'enum' }).text).toBe('H-alpha or “o3”');
    expect(
      world.say({
        path: 'targets[0].plan',
        rule: 'fits',
        params: { hours: 7, why: ['rain', 'wind'] },
      }).text,
    ).toBe('7 h rain or wind');
  });

  test.each([
    ['el', 'όνομα', 'Όνομα'],
    ['tr', 'isim', 'İsim'],
    ['de', 'ölstand', 'Ölstand'],
    ['en', 'pH value', 'pH value'],
  ])('a sentence begins as %s writes it: %s', (locale, label, start) => {
    const texts = [{ locale, messages: { fits: '{label_start}!' }, fields: { title: { label } } }];
    const world = new World({
      texts,
      original: locale,
      forms: { form: { fields: { title: { external: { fits: {} } } } } },
    });
    expect(world.say({ path: 'title', rule: 'fits' }, locale).text).toBe(`${start}!`);
  });

  test("the violation's parameters win over the form's, and `actual` is measured where it is not told", () => {
    const world = saying({
      maxLength: '{actual} of {max}',
      'too-faint': '{max}',
      maximum: '{max}',
    });
    expect(world.say({ path: 'title', rule: 'maxLength', value: 'a\u{1F52D}' }).text).toBe(
      '2 of 120',
    );
    expect(
      world.say({ path: 'title', rule: 'maxLength', value: 'a', params: { max: 3, actual: 9 } })
        .text,
    ).toBe('9 of 3');
    expect(world.say({ path: 'targets[0].magnitude', rule: 'maximum', as: 'too-faint' }).text).toBe(
      '21',
    );
    expect(world.say({ path: 'targets[0].magnitude', rule: 'maximum' }).text).toBe('25');
  });
});

describe('values', () => {
  const said = (value: unknown, path = 'title', limit = 10): string =>
    new World({
      forms,
      limit,
      texts: [
        { locale: 'en', messages: { required: '{value}', minLength: '{value}', type: '{value}' } },
      ],
    }).say({
      path,
      rule: path === 'title' ? 'required' : path === 'account' ? 'type' : 'minLength',
      value,
    }).text;

  test.each([
    ['short', 'short'],
    ['twelve chars', 'twelve ch…'],
    ['👩‍🔬👩‍🔬👩‍🔬', '👩‍🔬👩‍🔬👩‍🔬'],
    ['👩‍🔬'.repeat(11), '👩‍🔬'.repeat(9) + '…'],
    ['a\nb\u0000\u202ec\u2069', 'a bc'],
    [27.5, '27.5'],
    [null, 'null'],
    [[1, 'x'], '[1, "x"]'],
    ['\ud800', '\ufffd'],
    ['x'.repeat(5_000_000), 'xxxxxxxxx…'],
  ])('%j', (value, expected) => {
    expect(said(value)).toBe(expected);
  });

  test('a value nested without end is cut', () => {
    let deep: unknown = 1;
    for (let level = 0; level < 100_000; level++) deep = [deep];
    expect(said(deep)).toBe('[[[[[[[[[…');
  });

  test('secrets are masked, also inside of an object', () => {
    expect(said('correct horse', 'passphrase')).toBe('•••');
    expect(said({ passphrase: 'correct horse' }, 'account', 60)).toBe('{"passphrase": "•••"}');
  });
});

describe('the ladder', () => {
  const world = new World({
    forms,
    original: 'en',
    texts: [
      {
        locale: 'de',
        form: 'proposal',
        fields: { title: { messages: { required: '1 form field' } } },
        messages: { maxLength: '3 form' },
      },
      {
        locale: 'de',
        fields: {
          title: { messages: { maxLength: '2 field', required: 'no' } },
          'targets[*].magnitude': { messages: { maximum: '{broken' } },
        },
      },
      { locale: 'de', messages: { required: '4 message', maxLength: 'no' } },
      {
        locale: 'en',
        messages: { minimum: 'other locale', maximum: 'en maximum', 'too-faint': 'en as' },
      },
    ],
    starters: [{ locale: 'de', messages: { minLength: '5 starter', maximum: '5 starter' } }],
  });

  test.each([
    ['title', 'required', undefined, '1 form field', 'field-of-form'],
    ['title', 'maxLength', undefined, '2 field', 'field'],
    ['lead.name', 'required', undefined, '4 message', 'message'],
    ['lead.name', 'maxLength', undefined, '3 form', 'message-of-form'],
    ['passphrase', 'minLength', undefined, '5 starter', 'starter'],
    ['targets[0].exposures[0].seconds', 'minimum', undefined, 'other locale', 'message'],
    // A broken text counts as absent; on each rung `as` comes before the rule, but a higher rung
    // before both.
    ['targets[0].magnitude', 'maximum', 'too-faint', '5 starter', 'starter'],
  ])('%s %s %s', (path, rule, as, text, rung) => {
    const sentence = world.say({ path, rule, as }, 'de');
    const entry = entryOf(sentence.case.found);
    expect([sentence.text, entry && rungOf(entry.purpose)]).toEqual([text, rung]);
  });

  test('`as` comes before the rule on a rung, and is the code', () => {
    const sentence = world.say(
      { path: 'targets[0].magnitude', rule: 'maximum', as: 'too-faint' },
      'en',
    );
    expect([sentence.text, sentence.case.code, entryOf(sentence.case.found)?.purpose.key]).toEqual([
      'en as',
      'too-faint',
      'too-faint',
    ]);
  });

  test('forms do not see the texts of other forms', () => {
    expect(world.say({ path: 'title', rule: 'required' }, 'de', 1).text).toBe('no');
  });

  test('most literal wins, for each text by itself', () => {
    const fields = {
      '..magnitude': { label: 'any', messages: { maximum: 'deep {label}' } },
      'targets[*].magnitude': { label: 'each' },
      'targets[0].magnitude': { messages: { maximum: 'first {label}' } },
    };
    const layered = saying({}, { fields });
    expect(layered.say({ path: 'targets[0].magnitude', rule: 'maximum' }).text).toBe('first each');
    expect(layered.say({ path: 'targets[1].magnitude', rule: 'maximum' }).text).toBe('deep each');
  });

  test('no client is told the name of a rule: the text of "unnamed" stands in, else the subject', () => {
    const lensCap = { path: 'extras.lensCap', rule: 'uniqueItems' };
    expect(world.say(lensCap, 'de').text).toBe('lensCap');
    expect(world.say({ path: 'title', rule: 'gone', as: 'gone-too' }, 'de').text).toBe('Title');
    expect(world.say({ path: '', rule: 'gone' }, 'de').text).toBe('…');
    const messages = { unnamed: '{label} stimmt nicht.', minLength: 'Nur {none}.' };
    const standing = new World({ forms, texts: [{ locale: 'de', messages }] });
    expect(standing.say(lensCap, 'de').text).toBe('lensCap stimmt nicht.');
    expect(standing.say({ path: 'title', rule: 'minLength' }, 'de').text).toBe(
      'title stimmt nicht.',
    );
  });

  test('a message may ask for a place in quotes', () => {
    const quoting = saying(
      { maximum: '{label}: {targets_number_quoted}' },
      { fields: { 'targets[*]': { label: 'Ziel' } } },
    );
    expect(quoting.say({ path: 'targets[2].magnitude', rule: 'maximum' }).text).toBe(
      'magnitude: “3”',
    );
  });

  test('a rule that lacks its parameters is said by its general text, before that of "unnamed"', () => {
    const starter = {
      locale: 'de',
      messages: {
        minLength: '{label} braucht {min} Zeichen.',
        'minLength.general': '{label} ist zu kurz.',
      },
    };
    const texts = [{ locale: 'de', messages: { unnamed: '{label} stimmt nicht.' } }];
    const standing = new World({ forms, texts, starters: [starter] });
    const say = (rule: string, as?: string, params?: Record<string, unknown>): string =>
      standing.say({ path: 'title', rule, ...(as === undefined ? {} : { as }), params }, 'de').text;
    expect(say('minLength', undefined, { min: 3 })).toBe('title braucht 3 Zeichen.');
    expect(say('minLength')).toBe('title ist zu kurz.');
    expect(say('minLength', 'too-short')).toBe('title ist zu kurz.');
    expect(say('maxLength')).toBe('title stimmt nicht.');
  });

  test('words inside a fallback sentence are of its language where there are any', () => {
    const mixed = new World({
      forms,
      texts: [
        { locale: 'de', fields: { title: { label: 'Titel' } } },
        {
          locale: 'en',
          messages: { required: 'Please give {label}.' },
          fields: { title: { label: 'a title' } },
        },
      ],
    });
    expect(mixed.say({ path: 'title', rule: 'required' }, 'de').text).toBe('Please give a title.');
    const regional = new World({
      forms,
      texts: [
        { locale: 'de-AT', fields: { title: { label: 'Überschrift' } } },
        {
          locale: 'de',
          messages: { required: '{label} fehlt.' },
          fields: { title: { label: 'Titel' } },
        },
      ],
    });
    expect(regional.say({ path: 'title', rule: 'required' }, 'de-AT').text).toBe(
      'Überschrift fehlt.',
    );
  });
});
