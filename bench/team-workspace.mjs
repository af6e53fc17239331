// Makes workspaces as several teams keep them together: one sheet of rules in YAML, a catalog for
// each form and locale, a label for each field and group, several messages a field, and plurals in
// all categories of each language.
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { categoriesOf, chance, LOCALES, PROBLEMS, shuffled, wordsOf } from './large-workspace.mjs';

/** The rules of a field by its number, with the arguments of each that a text may count. */
const KINDS = [
  [
    { type: 'string', required: true, minLength: 3, maxLength: 80 },
    { minLength: 'min', maxLength: 'max' },
  ],
  [
    { type: 'integer', required: true, minimum: 1, maximum: 40 },
    { minimum: 'min', maximum: 'max' },
  ],
  [
    { required: true, enum: ['dome', 'mirror', 'lens'], external: { booked: { days: 12 } } },
    { enum: undefined, booked: 'days' },
  ],
  [
    { type: 'string', required: true, format: 'email', maxLength: 200 },
    { format: undefined, maxLength: 'max' },
  ],
  [
    { type: 'array', required: true, minItems: 1, maxItems: 12 },
    { minItems: 'min', maxItems: 'max' },
  ],
];
const GROUP_SIZE = 10;

/** The fields of a form: path, rules, and what the texts of each rule count. */
function fieldsOf(form, fields) {
  return Array.from({ length: fields }, (_, at) => {
    const [rules, counted] = KINDS[(at + form) % KINDS.length];
    const group = `part${form}_${Math.floor(at / GROUP_SIZE)}`;
    return {
      path: `${group}.entry${at}`,
      rules,
      counted: { required: undefined, ...(rules.type ? { type: undefined } : {}), ...counted },
    };
  });
}

const flow = (value) =>
  JSON.stringify(value)
    .replaceAll(/"([a-zA-Z]+)":/g, '$1: ')
    .replaceAll(',', ', ');

function sheetOf(forms, fields) {
  const lines = ['# The fields of all forms; each team keeps a part of it.', 'forms:'];
  for (let form = 0; form < forms; form++) {
    lines.push(`  form-${form}:`, `    request: POST /things-${form}`, '    fields:');
    for (const { path: field, rules } of fieldsOf(form, fields)) {
      lines.push(`      ${field}: ${flow(rules)}`);
      if (rules.type === 'array')
        lines.push(`      '${field}[*]': { type: string, required: true, maxLength: 40 }`);
    }
  }
  return `${lines.join('\n')}\n`;
}

/**
 * Makes a workspace.
 * @param plurals the share of messages that are plurals, of those that count something
 * @param lived keys in other orders, notes beside some texts, tabs and blanks, comments
 * @param findings about so many texts have something wrong
 */
export function makeTeams(
  folder,
  { locales = 40, forms = 25, fields = 50, plurals = 0, lived = false, findings = 0 } = {},
) {
  const tags = LOCALES.slice(0, locales);
  const write = (file, text) => {
    mkdirSync(path.dirname(path.join(folder, file)), { recursive: true });
    writeFileSync(path.join(folder, file), text);
  };
  const listed = tags.map((tag) => `'${tag}'`).join(', ');
  write(
    'zeitwort.yaml',
    `original: en\nlocales: [${listed}]\nrules: [rules/*.yaml]\ntexts: ['texts/**/*.json']\n`,
  );
  write('rules/forms.yaml', sheetOf(forms, fields));
  const all = forms * fields * 3.4 * locales;
  for (const [number, tag] of tags.entries()) {
    const random = chance(number + 1);
    const words = wordsOf(tag, number);
    const counted = (argument) =>
      `{${argument}, plural, ${categoriesOf(tag)
        .map((category) => `${category} {# ${words(random, 1)}}`)
        .join(' ')}}`;
    const say = (argument) => {
      const said =
        argument === undefined
          ? words(random, 2)
          : random(1000) < plurals * 1000
            ? counted(argument)
            : `{${argument}} ${words(random, 1)}`;
      const text = `{label_start} ${words(random, 4)} ${said} ${words(random, 3)}.`;
      const isWrong = findings > 0 && random(Math.max(1, Math.round(all / findings))) === 0;
      return isWrong ? text.replace(' ', '  ') : text;
    };
    const noted = (text) =>
      lived && random(12) === 0 ? { text, note: `${words(random, 4)} ${random(90)}` } : text;
    // What all forms share, for languages that nothing ships for.
    const general = {
      locale: tag,
      messages: Object.fromEntries(['required', 'type', 'maxLength'].map((rule) => [rule, say()])),
      fields: { '': { label: words(random, 2) } },
      frames: { quoted: '“{text}”' },
      problems: Object.fromEntries(
        PROBLEMS.map((id) => [id, { title: words(random, 3), detail: `${words(random, 6)}.` }]),
      ),
    };
    write(`texts/${tag}/general.json`, `${JSON.stringify(general, undefined, 2)}\n`);
    for (let form = 0; form < forms; form++) {
      const texts = {};
      for (const { path: field, rules, counted: rest } of fieldsOf(form, fields)) {
        const [group] = field.split('.');
        texts[group] ??= { label: words(random, 3) };
        const messages = Object.fromEntries(
          Object.entries(rest).map(([rule, argument]) => [rule, noted(say(argument))]),
        );
        const choices = Object.fromEntries(
          (rules.enum ?? []).map((one) => [one, words(random, 2)]),
        );
        texts[field] = {
          label: noted(words(random, 3)),
          ...(rules.enum ? { choices } : {}),
          messages,
        };
        if (rules.type === 'array')
          texts[`${field}[*]`] = { label: `${words(random, 1)} {${field.split('.')[1]}_number}` };
      }
      const indent = lived ? ['\t', 1, 2, 2, 4][random(5)] : 2;
      const own = {
        locale: tag,
        form: `form-${form}`,
        fields: lived ? shuffled(texts, random) : texts,
      };
      const remark = lived && random(4) === 0 ? `// ${words(random, 6)}\n` : '';
      write(
        `texts/${tag}/form-${form}.json`,
        `${remark}${JSON.stringify(own, undefined, indent)}\n`,
      );
    }
  }
}

if (process.argv[1]?.endsWith('team-workspace.mjs')) {
  const [folder, options = '{}'] = process.argv.slice(2);
  makeTeams(folder, JSON.parse(options));
}
