import { describe, expect, test } from '@jest/globals';
import { cpSync, mkdirSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { openPack } from '../../src/index.js';
import { started, within } from '../support/editing.js';
import { folderWith, textOf, zeitwort } from '../support/program.js';

const HOUSE = {
  'zeitwort.yaml': 'locales: [en, de]\nrules: []\nterms: [terms/*.json]\n',
  'messages/en.json': {
    locale: 'en',
    messages: { required: 'Please tell us the {label}.', maxLength: 'At most {max}.' },
    fields: { '..email': { label: 'house email', messages: { format: 'A house address.' } } },
    frames: { inside: '{outer} > {inner}' },
    problems: { 'not-found': { title: 'The house has no such thing' } },
  },
  'messages/de.json': {
    locale: 'de',
    messages: { required: 'Bitte: {label}.', maxLength: 'Höchstens {max}.' },
    fields: { '..email': { label: 'Haus-Mail', messages: { format: 'Eine Hausadresse.' } } },
    problems: { 'not-found': { title: 'Das Haus hat das nicht' } },
  },
  'terms/t.json': {
    concepts: [{ id: 'e', terms: { en: 'email', de: { text: 'Mail', never: ['Brief'] } } }],
  },
};
const SERVICE = {
  'zeitwort.yaml': 'locales: [en, de]\nhouse: "@depot/error-texts"\n',
  'rules/f.yaml':
    'forms: { f: { request: POST /f, fields: { email: { required: true, format: email }, note: { required: true, maxLength: 3, pattern: "x" } } } }\n',
  'messages/en.json': {
    locale: 'en',
    fields: { note: { label: 'note', messages: { required: 'Our own.' } } },
  },
  'messages/de.json': {
    locale: 'de',
    fields: { note: { label: 'Brief', messages: { required: 'Unser eigener.' } } },
  },
};

/** A workspace beside an installed house. */
function serviceWith(house: Readonly<Record<string, unknown>> = HOUSE): string {
  const folder = folderWith(SERVICE);
  mkdirSync(path.join(folder, 'node_modules/@depot'), { recursive: true });
  cpSync(folderWith(house), path.join(folder, 'node_modules/@depot/error-texts'), {
    recursive: true,
  });
  return folder;
}

const report = JSON.stringify({
  form: 'f',
  violations: [
    { path: 'email', rule: 'required' },
    { path: 'email', rule: 'format' },
    { path: 'note', rule: 'required' },
    { path: 'note', rule: 'maxLength' },
    { path: 'note', rule: 'pattern' },
  ],
});
const SAID = [
  'Bitte: Haus-Mail.',
  'Eine Hausadresse.',
  'Unser eigener.',
  'Höchstens 3.',
  expect.stringContaining('Brief'),
];

describe('the texts of a house', () => {
  const folder = serviceWith();
  const errorsOf = (body: string): unknown[] =>
    (JSON.parse(body) as { errors: { detail: string }[] }).errors.map(({ detail }) => detail);

  test('stand between those of a workspace and the starter, in answers and in packs', () => {
    const { out } = zeitwort(['render', '-', '--locale', 'de'], folder, report);
    expect(errorsOf(out)).toEqual(SAID);
    const missing = zeitwort(['render', '--problem', 'not-found', '--locale', 'de'], folder).out;
    expect(JSON.parse(missing)).toHaveProperty('title', 'Das Haus hat das nicht');
    expect(zeitwort(['pack'], folder).code).toBe(0);
    const pack = openPack(path.join(folder, 'packs/de.json'));
    expect(
      errorsOf(
        pack.render(JSON.parse(report) as Parameters<typeof pack.render>[0], { locale: 'de' }).body,
      ),
    ).toEqual(SAID);
    expect(pack.renderProblem('not-found', { locale: 'de' }).body).toContain(
      'Das Haus hat das nicht',
    );
  });

  test('why, check, show and report tell them apart, with their place', () => {
    expect(zeitwort(['why', 'f', 'note', 'maxLength', '--locale', 'de'], folder).out).toMatch(
      /the texts of the house +found under "maxLength" +node_modules\/@depot\/error-texts\/messages\/de\.json:\d+:\d+/,
    );
    const { out } = zeitwort(['check', '--format', 'json', '--no-cache'], folder);
    const { coverage, findings } = JSON.parse(out) as {
      coverage: { path: string; rule: string; locales: Record<string, string> }[];
      findings: { kind: string; message: string }[];
    };
    expect(
      coverage
        .filter((one) => one.path !== '')
        .map(({ path: at, rule, locales: { de } }) => [at, rule, de]),
    ).toEqual([
      ['email', 'required', 'house'],
      ['email', 'format', 'house'],
      ['note', 'required', 'written'],
      ['note', 'maxLength', 'house'],
      ['note', 'pattern', 'starter'],
    ]);
    // Its terms hold here too; its labels are labels.
    expect(findings.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['term-avoided']));
    expect(findings.map(({ kind }) => kind)).not.toContain('missing-label');
    expect(zeitwort(['check', '--no-cache'], folder).out).toContain('three have the house’s');
    zeitwort(['report', '--out', 'r.html'], folder);
    expect(textOf(folder, 'r.html')).toContain('of the house');
  });

  test('a kept result ends when the house changes', () => {
    const changed = serviceWith();
    zeitwort(['check'], changed);
    const file = 'node_modules/@depot/error-texts/messages/de.json';
    writeFileSync(path.join(changed, file), '{ "locale": "de" }');
    const { out } = zeitwort(['check', '--format', 'json'], changed);
    expect(out).toContain('missing-label');
  });

  test('is a package beside or above, linked too, or a folder', () => {
    const linked = folderWith({ ...SERVICE, 'node_modules/@depot/.keep': '' });
    symlinkSync(folderWith(HOUSE), path.join(linked, 'node_modules/@depot/error-texts'));
    const inside = folderWith({ 'services/one/.keep': '' });
    cpSync(folderWith(SERVICE), path.join(inside, 'services/one'), { recursive: true });
    mkdirSync(path.join(inside, 'node_modules/@depot'), { recursive: true });
    renameSync(folderWith(HOUSE), path.join(inside, 'node_modules/@depot/error-texts'));
    const beside = folderWith({ 'house/.keep': '', 'one/.keep': '' });
    cpSync(folderWith(HOUSE), path.join(beside, 'house'), { recursive: true });
    const named = { ...SERVICE, 'zeitwort.yaml': 'locales: [en, de]\nroot: ..\nhouse: ../house\n' };
    cpSync(folderWith(named), path.join(beside, 'one'), { recursive: true });
    for (const at of [linked, path.join(inside, 'services/one'), path.join(beside, 'one')])
      expect(errorsOf(zeitwort(['render', '-', '--locale', 'de'], at, report).out)).toEqual(SAID);
  });

  test.each([
    ['house: "@depot/none"', 'the package @depot/none is not installed'],
    ['house: ../elsewhere', 'is outside of'],
    ['house: ./nowhere', 'there is no zeitwort.yaml in ./nowhere'],
    ['house: "a b"', 'a house is a package such as'],
  ])('%s is refused', (line, said) => {
    const wrong = folderWith({ ...SERVICE, 'zeitwort.yaml': `locales: [en, de]\n${line}\n` });
    const { code, err } = zeitwort(['check'], wrong);
    expect([code, err]).toEqual([2, expect.stringContaining(said)]);
    expect(err).toContain('zeitwort.yaml');
  });

  test('a folder that a link leads out of the workspace for is not read, a catalog neither', () => {
    const linked = folderWith({ ...SERVICE, 'zeitwort.yaml': 'locales: [en, de]\nhouse: ./h\n' });
    symlinkSync(folderWith(HOUSE), path.join(linked, 'h'));
    const { code, err } = zeitwort(['check'], linked);
    expect([code, err]).toEqual([2, expect.stringContaining('h/zeitwort.yaml')]);
    const inside = serviceWith();
    const file = path.join(inside, 'node_modules/@depot/error-texts/messages/de.json');
    rmSync(file);
    symlinkSync(path.join(folderWith(HOUSE), 'messages/de.json'), file);
    expect(zeitwort(['check'], inside)).toMatchObject({
      code: 2,
      err: expect.stringContaining('error-texts/messages/de.json'),
    });
  });

  test('a broken catalog of it is told with its place, and one of its own is refused', () => {
    const { code, err } = zeitwort(
      ['check'],
      serviceWith({ ...HOUSE, 'messages/de.json': '{ "locale": ' }),
    );
    expect([code, err]).toEqual([2, expect.stringContaining('error-texts/messages/de.json:1:')]);
    const nested = { ...HOUSE, 'zeitwort.yaml': 'rules: []\nhouse: x\n' };
    expect(zeitwort(['check'], serviceWith(nested)).err).toContain('has no house of its own');
  });
});

test('a house is started, checked alone, and lacks what a language lacks', () => {
  const folder = folderWith({});
  expect(zeitwort(['init', '--house', 'texts'], folder).code).toBe(0);
  const alone = zeitwort(['check', '--workspace', 'texts'], folder);
  expect([alone.code, alone.out.trim()]).toEqual([0, '0 rules in 2 locales: 0 errors, 0 warnings']);
  rmSync(path.join(folder, 'texts/messages/de.json'));
  writeFileSync(
    path.join(folder, 'texts/messages/de.json'),
    JSON.stringify({
      locale: 'de',
      form: 'f',
      messages: { requird: 'x', required: 'Bitte: {labl}.' },
    }),
  );
  const { code, out } = zeitwort(['check', '--workspace', 'texts', '--all'], folder);
  expect(code).toBe(1);
  const wanted = [
    'misspelt-key',
    'no argument {labl}',
    '"observer" has no translation',
    'Take "form" out',
  ];
  for (const said of wanted) expect(out).toContain(said);
  expect(out).not.toContain('unused-message');
  expect(zeitwort(['init', '--house', 'texts'], folder).code).toBe(2);
});

test('an editor tells of the house, and leads into it', async () => {
  const editor = await started(serviceWith());
  const rules = editor.open('rules/f.yaml');
  const at = within(editor, rules, 'maxLength: 3', 2);
  const told = await editor.at<{ contents: { value: string } }>('textDocument/hover', rules, at);
  expect(told.contents.value).toContain('de: Höchstens 3. *(the house)*');
  const places = await editor.at<{ uri: string }[]>('textDocument/definition', rules, at);
  expect(places.map(({ uri }) => decodeURIComponent(uri)).join()).toContain(
    'node_modules/@depot/error-texts/messages/de.json',
  );
  await editor.settled();
});

test('a page to translate in says what the house says', () => {
  const folder = serviceWith();
  const made = zeitwort(['export', '--as', 'page', '--locale', 'de', '--out', 'page.html'], folder);
  expect(made.code).toBe(0);
  expect(textOf(folder, 'page.html')).toContain('Höchstens {max}.');
});
