// Random workspaces for those who read packs: odd names, languages, settings and messages.
import { folderWith } from './program.js';
import { oneOf, type Random } from './torture.js';

const LANGUAGES =
  'de ar he pl ja fa fr uk hi pt-PT zh ru cs lt es it nl tr ko sv zh-Hant de-AT'.split(' ');
const NAMES = ['a', 'targets', 'Odd name', 'ключ', 'x-y', '3rd', 'notes', 'b.c', '*', 'q"z'];
const SLOTS = ['{NAME}', '%(NAME)s', '<NAME>', '${NAME}'];
const STYLES = [
  '',
  'body: { perField: first, inline: true, maxViolations: 3 }\n',
  'body: { inline: alone, detail: joined, separator: " | " }\n',
  'body: { detail: first, prefix: /data, texts: joined }\n',
  `shapes:
  ours: { body: { e: { each: violation, node: { w: '<field>', t: '<code>: <text>', b: '<beside>' } }, l: { join: ['<title>', '<texts>'] } } }
`,
];
const PARTS = [
  ...['{label}', '{subject_start}', '{place}', '{value}', '{value_quoted}', '{count}', '{of}'],
  ...['{who_quoted}', '{list}', '{list_quoted}', '{max}', '{min}', '100%', '«x»', 'نص', "it''s"],
  ...['{name}', '{name_quoted}', '{targets_key}', '{targets_key_quoted}', '{targets_number}'],
  '{count, plural, one {# a} other {# bs}}',
  '{count, plural, =0 {no} one {# a {of}} few {# few} other {#}}',
  '{who, select, yes {y} no {n} north {N {count}} other {o}}',
];
/** What plain packs leave out. */
const NEEDS_ICU = [
  '{count, selectordinal, one {#st} other {#th}}',
  '{count, plural, offset:1 one {# a} other {#}}',
  '{count, number, percent}',
  '<a>',
];
const PARAMS = [3, 1.5, 'north', ['a', 'b'], [1, 2, 3, 4], true, false, -1000, 'ليلى', '5 %%'];
const RULES: Readonly<Record<string, (random: Random) => unknown>> = {
  type: (random) => oneOf<unknown>(random, ['string', 'integer', ['string', 'number']]),
  required: () => true,
  maxLength: (random) => 1 + random(2000),
  minimum: (random) => oneOf(random, [0, -2.5, 1234.5, 1e6]),
  maximum: (random) => oneOf(random, [10, 99999.125]),
  enum: (random) => some(random, ['red', 'O3', 'λ 5', 'ليلى', 7, true, 'a b'], 3),
  multipleOf: (random) => oneOf(random, [0.25, 7]),
  minItems: (random) => 1 + random(9),
  additionalProperties: () => false,
  format: (random) => oneOf(random, ['date', 'email', 'uuid']),
};

/** Some of a list, each once, in an order of chance. */
function some<T>(random: Random, all: readonly T[], count: number): T[] {
  const left = [...all];
  return Array.from({ length: Math.min(count, all.length) }, () =>
    left.splice(random(left.length), 1),
  ).flat();
}

function field(random: Random): string {
  if (random(7) === 0) return oneOf(random, ['..deep', '..a']);
  let path = '';
  for (let left = 1 + random(4); left > 0; left -= 1) {
    const name = oneOf(random, NAMES);
    path += /[ ."*[\]']/.test(name) ? `[${JSON.stringify(name)}]` : (path === '' ? '' : '.') + name;
    path += oneOf(random, ['[*]', '[*]', '.*', '', '', '']);
  }
  return path;
}

function rulesOf(random: Random): Record<string, unknown> {
  const rules: Record<string, unknown> = {};
  for (const name of some(random, Object.keys(RULES), 1 + random(3)))
    rules[name] = RULES[name]?.(random);
  if (random(2) === 0)
    rules.external = {
      [oneOf(random, ['our-rule', 'other-rule'])]: Object.fromEntries(
        some(random, ['count', 'of', 'who', 'list'], random(4)).map((name) => [
          name,
          oneOf<unknown>(random, PARAMS),
        ]),
      ),
    };
  if (random(6) === 0) rules.secret = true;
  return rules;
}

const message = (random: Random): string =>
  Array.from({ length: 1 + random(6) }, () =>
    oneOf(random, random(20) === 0 ? NEEDS_ICU : PARTS),
  ).join(' ');

function catalog(random: Random, locale: string, fields: readonly string[]): string {
  const messages: Record<string, unknown> = {};
  for (const key of [
    'our-rule',
    'other-rule',
    'maxLength',
    'required',
    'additionalProperties',
    'enum',
  ])
    if (random(2) === 0)
      messages[key] =
        random(5) < 2 ? { text: message(random), inline: message(random) } : message(random);
  const labels = Object.fromEntries(
    fields.flatMap((path) => {
      if (random(5) < 2) return [];
      const named = path.includes('targets[*]') && random(5) < 3 ? ' {targets_number}' : '';
      const label = oneOf(random, ['name', 'ليلى', 'شاشة 5', 'the field', '3D', 'λ']);
      return [[path, { label: label + named }]];
    }),
  );
  return JSON.stringify({ locale, messages, fields: labels });
}

/** Returns the folder of a workspace, and how slots are written in its packs. */
export function randomWorkspace(random: Random): { folder: string; slot: string } {
  const locales = ['en', ...some(random, LANGUAGES, 1 + random(4))];
  const fields = Object.fromEntries(
    Array.from({ length: 2 + random(6) }, () => [field(random), rulesOf(random)]),
  );
  const form = {
    request: 'POST /f',
    fields,
    query: { page: { type: 'integer', minimum: 1 } },
  };
  const folder = folderWith({
    'zeitwort.yaml': `original: en\nlocales: [${locales.join(', ')}]\ntexts: [texts/*.json]\nrules: [rules/*.yaml]\nvalues: { shorten: ${oneOf(random, [10, 40, 120])} }\n${oneOf(random, STYLES)}`,
    'rules/r.yaml': JSON.stringify({ forms: { f: form } }),
    ...Object.fromEntries(
      locales.map((locale) => [
        `texts/${locale}.json`,
        catalog(random, locale, Object.keys(fields)),
      ]),
    ),
  });
  return { folder, slot: oneOf(random, SLOTS) };
}
