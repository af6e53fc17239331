// Makes a large workspace for measuring: so many locales with so many messages each, in forms with fields of their own.
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';

const LOCALES =
  'en de fr es it pt nl pl cs uk tr ar he ja zh ko sv da nb fi hu ro sk sl hr lt lv et el bg ca eu ga cy vi id th hi fa ru sr mk sq bs is mt gl af sw ms fil bn ta te ml kn mr gu pa ur ne si km lo my ka hy az kk ky uz tg mn am zu xh yo ig ha so om rw'.split(
    ' ',
  );

const PROBLEMS =
  'invalid-fields malformed-body empty-body wrong-media-type too-large not-found conflict not-allowed unexpected not-judged'.split(
    ' ',
  );

const problemTexts = (tag) =>
  Object.fromEntries(
    PROBLEMS.map((id) => [id, { title: `The ${id} of ${tag}`, detail: `The ${id} is told at length in ${tag}.` }]),
  );

/** @returns the number of bytes of the catalogs */
export function makeLarge(folder, locales, messages) {
  const fieldsPerForm = 50;
  // A label and a message for each field, and an external rule's text: about two and a half messages a field.
  const fields = Math.round(messages / 2.5);
  mkdirSync(path.join(folder, 'messages'), { recursive: true });
  mkdirSync(path.join(folder, 'rules'), { recursive: true });
  const tags = LOCALES.slice(0, locales);
  writeFileSync(
    path.join(folder, 'zeitwort.yaml'),
    `original: en\nlanguages: [${tags.map((tag) => `'${tag}'`).join(', ')}]\nrules: [rules/*.json]\n`,
  );
  const forms = {};
  for (let at = 0; at < fields; at++) {
    const form = (forms[`form-${Math.floor(at / fieldsPerForm)}`] ??= { fields: {} });
    const own = at % 2 === 0 ? { external: { [`rule-${at}`]: { hours: 6.5 } } } : {};
    form.fields[`group${at % 7}.field${at}`] = { type: 'string', required: true, maxLength: 100 + (at % 50), ...own };
  }
  writeFileSync(path.join(folder, 'rules/all.json'), JSON.stringify({ forms }));
  let bytes = 0;
  for (const tag of tags) {
    // What the starter catalogs have for some languages only.
    const messages = {
      required: `{label_start} is wanted by all who read ${tag}.`,
      type: `{label_start} should be {expected, select, string {a text} object {an object} other {a value}} in ${tag}.`,
    };
    const catalog = { locale: tag, messages, fields: {}, problems: problemTexts(tag) };
    catalog.fields[''] = { label: `the answer ${tag}` };
    for (let group = 0; group < 7; group++) catalog.fields[`group${group}`] = { label: `group ${group} ${tag}` };
    for (let at = 0; at < fields; at++) {
      catalog.fields[`group${at % 7}.field${at}`] = {
        label: `the field ${at} of ${tag}`,
        messages: {
          maxLength: `{label_start} may have {max} characters at most, as says the text of mark no-${at} in the language ${tag}, which is long enough to be one.`,
        },
      };
      if (at % 2 === 0)
        catalog.messages[`rule-${at}`] =
          `{label_start} takes {hours} hours, as says the text of mark no-${at} in the language ${tag}, long enough to be one of those that are written.`;
    }
    const text = JSON.stringify(catalog, undefined, 1);
    bytes += text.length;
    writeFileSync(path.join(folder, `messages/${tag}.json`), text);
  }
  return bytes;
}

if (process.argv[1]?.endsWith('large-workspace.mjs')) {
  const [folder, locales = '40', messages = '5000'] = process.argv.slice(2);
  console.log(`${(makeLarge(folder, Number(locales), Number(messages)) / 1e6).toFixed(1)} MB`);
}
