// Makes large workspaces for measuring, as teams keep them: so many locales, each with so many
// texts, in many small files or in one large one, written by one tool or by many hands.
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';

export const LOCALES =
  'en de fr es it pt nl pl cs uk tr ar he ja zh ko sv da nb fi hu ro sk sl hr lt lv et el bg ca eu ga cy vi id th hi fa ru sr mk sq bs is mt gl af sw ms fil bn ta te ml kn mr gu pa ur ne si km lo my ka hy az kk ky uz tg mn am zu xh yo ig ha so om rw'.split(
    ' ',
  );

export const PROBLEMS =
  'invalid-fields malformed-body empty-body wrong-media-type wrong-encoding wrong-method not-acceptable too-large not-signed-in not-allowed not-found gone conflict condition-failed condition-missing too-many-requests unexpected unavailable timed-out not-validated refused failed'.split(
    ' ',
  );

/** Letters of the scripts that the locales write, so that texts take as many bytes as real ones. */
const ALPHABETS = {
  cyrillic: ['бвгджзклмнпрстфхцчш', 'аеиоу', 'uk bg ru sr mk kk ky tg mn'],
  arabic: ['بتثجحخدذرزسشصضطظعغفقكلمن', 'اوي', 'ar fa ur'],
  hebrew: ['בגדהזחטכלמנסעפצקרשת', 'אוי', 'he'],
  greek: ['βγδζθκλμνξπρστφχψ', 'αεηιου', 'el'],
  han: ['天地人水火山石田日月星光明夜', '的在有和大小中上下', 'ja zh'],
  hangul: ['가나다라마바사아자차카타파하', '고노도로모보소오조', 'ko'],
  thai: ['กขคงจชซดตทนบปพมยรลวสห', 'าเแโไ', 'th'],
  devanagari: ['कखगघचछजझटठडतथदधनपबमयरलवसह', 'ािीेो', 'hi mr ne'],
};

/** Numbers that look like chance and are the same each time. */
export function chance(seed) {
  let state = (seed * 7919 + 17) % 2_147_483_647;
  return (below) => (state = (state * 48_271) % 2_147_483_647) % below;
}

export function wordsOf(tag, at) {
  const random = chance(at + 1);
  const [consonants, vowels] = Object.values(ALPHABETS).find(([, , tags]) =>
    tags.split(' ').includes(tag),
  ) ?? ['bdfgklmnprstvz', tag === 'en' ? 'aeiou' : 'aeiouäéó'];
  const one = () =>
    Array.from(
      { length: 2 + random(3) },
      () =>
        Array.from(consonants)[random(Array.from(consonants).length)] +
        Array.from(vowels)[random(Array.from(vowels).length)],
    ).join('');
  const words = Array.from({ length: 400 }, one);
  return (random, count) =>
    Array.from({ length: count }, () => words[random(words.length)]).join(' ');
}

export const categoriesOf = (tag) => new Intl.PluralRules(tag).resolvedOptions().pluralCategories;

export function shuffled(object, random) {
  const entries = Object.entries(object);
  for (let at = entries.length - 1; at > 0; at--) {
    const other = random(at + 1);
    [entries[at], entries[other]] = [entries[other], entries[at]];
  }
  return Object.fromEntries(entries);
}

/**
 * Makes a workspace.
 * @param files so many files for each locale: a general one and those of so many areas; 1 for one
 * file alone
 * @param lived keys in other orders, notes beside some texts, tabs and blanks, texts that
 * translations leave to general ones
 * @param structured the share of texts that are plurals or selects
 * @param findings about so many texts have something wrong
 * @returns the number of bytes of the catalogs
 */
export function makeLarge(
  folder,
  { locales = 40, messages = 5000, files = 1, lived = false, structured = 0, findings = 0 } = {},
) {
  const fieldsPerForm = 50;
  // A label and a message for each field, and an external rule's text: about two and a half texts a
  // field.
  const fields = Math.round(messages / 2.5);
  const areas = Math.max(1, files - 1);
  const tags = LOCALES.slice(0, locales);
  mkdirSync(path.join(folder, 'rules'), { recursive: true });
  writeFileSync(
    path.join(folder, 'zeitwort.yaml'),
    `original: en\nlocales: [${tags.map((tag) => `'${tag}'`).join(', ')}]\nrules: [rules/*.json]\ntexts: ['messages/**/*.json']\n`,
  );
  const fieldOf = (at) => `group${at % 7}.field${at}`;
  const declared = {};
  for (let at = 0; at < fields; at++) {
    const form = (declared[`form-${Math.floor(at / fieldsPerForm)}`] ??= { fields: {} });
    const own = at % 2 === 0 ? { external: { [`rule-${at}`]: { hours: 6.5 } } } : {};
    form.fields[fieldOf(at)] = {
      type: 'string',
      required: true,
      maxLength: 100 + (at % 50),
      ...own,
    };
  }
  writeFileSync(path.join(folder, 'rules/all.json'), JSON.stringify({ forms: declared }));
  const all = fields * 2.5 * locales;
  let bytes = 0;
  for (const [number, tag] of tags.entries()) {
    const random = chance(number + 1);
    const words = wordsOf(tag, number);
    const say = (before, after = '.', at = 0) => {
      const plain = () => `${before} ${words(random, 5)} ${words(random, 4)}${after}`;
      const wrong = findings > 0 && random(Math.round(all / findings)) === 0;
      if (wrong) return plain().replace(' ', '  ');
      if (structured === 0 || random(1000) >= structured * 1000) return plain();
      if (at % 3 === 0) return `{nested, select, yes {${plain()}} other {${plain()}}}`;
      return `${before} ${words(random, 3)} {max, plural, ${categoriesOf(tag)
        .map((category) => `${category} {# ${words(random, 1)}}`)
        .join(' ')}} ${words(random, 2)}${after}`;
    };
    const noted = (text) =>
      lived && random(12) === 0 ? { text, note: `as it was agreed on, ${random(90)}` } : text;
    const general = {
      locale: tag,
      messages: {
        required: say('{label_start}'),
        ...(lived ? { maxLength: say('{label_start} {max}') } : {}),
        type: `{label_start} ${words(random, 2)} {expected, select, string {${words(random, 2)}} object {${words(random, 2)}} other {${words(random, 2)}}}.`,
      },
      fields: { '': { label: words(random, 2) } },
      frames: { quoted: '“{text}”' },
      problems: Object.fromEntries(
        PROBLEMS.map((id) => [id, { title: words(random, 3), detail: `${words(random, 6)}.` }]),
      ),
    };
    for (let group = 0; group < 7; group++)
      general.fields[`group${group}`] = { label: words(random, 2) };
    const parts = Array.from({ length: files === 1 ? 0 : areas }, () => ({
      locale: tag,
      fields: {},
      messages: {},
    }));
    for (let at = 0; at < fields; at++) {
      const part = files === 1 ? general : parts[Math.floor(at / Math.ceil(fields / areas))];
      const left = lived && random(50) === 0;
      part.fields[fieldOf(at)] = {
        label: words(random, 2),
        ...(left ? {} : { messages: { maxLength: noted(say('{label_start} {max}', '.', at)) } }),
      };
      if (at % 2 === 0)
        part.messages[`rule-${at}`] = noted(
          say('{label_start} {hours}').replaceAll('{max, plural', '{hours, plural'),
        );
    }
    const write = (name, catalog) => {
      const own = lived
        ? {
            ...catalog,
            fields: shuffled(catalog.fields, random),
            messages: shuffled(catalog.messages, random),
          }
        : catalog;
      const indent = lived ? ['\t', 1, 2, 2, 4][random(5)] : 2;
      const text = `${JSON.stringify(own, undefined, indent)}\n`;
      bytes += Buffer.byteLength(text);
      mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
      writeFileSync(path.join(folder, name), text);
    };
    if (files === 1) write(`messages/${tag}.json`, general);
    else {
      write(`messages/${tag}/general.json`, general);
      for (const [at, part] of parts.entries())
        if (Object.keys(part.fields).length > 0) write(`messages/${tag}/area-${at}.json`, part);
    }
  }
  return bytes;
}

if (process.argv[1]?.endsWith('large-workspace.mjs')) {
  const [folder, options = '{}'] = process.argv.slice(2);
  console.log(`${(makeLarge(folder, JSON.parse(options)) / 1e6).toFixed(1)} MB`);
}
