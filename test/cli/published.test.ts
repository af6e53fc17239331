import { describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { parse as parseYaml } from 'yaml';
import { parse as parseJson } from 'jsonc-parser';
import { folderWith, zeitwort } from '../support/program.js';

const root = path.join(__dirname, '..', '..');
const schemaOf = (name: string): object =>
  JSON.parse(readFileSync(path.join(root, 'schemas', `${name}.schema.json`), 'utf8')) as object;
const ajv = new Ajv2020({ strict: false, validateFormats: false });
const validators = Object.fromEntries(
  ['workspace', 'catalog', 'terms', 'rules', 'violations'].map((name) => [
    name,
    ajv.compile(schemaOf(name)),
  ]),
);
const fits = (name: string, value: unknown): boolean => validators[name]?.(value) === true;

const filesOf = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => path.join(entry.parentPath, entry.name));

test('what is generated is up to date', () => {
  expect(
    spawnSync(process.execPath, [path.join(root, 'scripts/generate.mjs'), '--check'], {
      encoding: 'utf8',
    }),
  ).toMatchObject({
    status: 0,
    stderr: '',
  });
});

test('the package can be imported by its name, with all that its types promise', () => {
  const program = `import * as z from 'zeitwort';
    const { status, body } = z.openWorkspace('demo/small').render({ form: 'visitor-pass', violations: [{ path: 'day', rule: 'required' }] });
    const broken = await z.openWorkspace('demo/small').violations('visitor-pass', { body: { day: 'x', visitor: 'y' } });
    console.log(status, JSON.parse(body).errors.length, broken.map(({ rule }) => rule).join(), Object.keys(z).sort().join());`;
  const { stdout, stderr } = spawnSync(process.execPath, ['--input-type=module', '-e', program], {
    cwd: root,
    encoding: 'utf8',
  });
  const names =
    'Complaint,ErrorListError,LocaleError,MessageError,PathSyntaxError,errorListReader,formatterOf,fromJsonSchemaOutput,fromSchemaErrors,fromZod';
  expect([stdout, stderr]).toEqual([
    `422 1 format ${names},openPack,openWorkspace,printMessage,readMessage,violation\n`,
    '',
  ]);
});

describe('the published schemas', () => {
  test('let the shipped workspaces through', () => {
    for (const file of [
      ...filesOf(path.join(root, 'demo/observatory')),
      ...filesOf(path.join(root, 'demo/small')),
      ...filesOf(path.join(root, 'src/starter')),
    ]) {
      if (/[\\/](?:payloads|recordings|\.zeitwort)[\\/]/.test(file)) continue;
      const text = readFileSync(file, 'utf8');
      const value: unknown = file.endsWith('.yaml') ? parseYaml(text) : parseJson(text);
      const kind = file.endsWith('zeitwort.yaml')
        ? 'workspace'
        : /[\\/]rules[\\/]/.test(file)
          ? 'rules'
          : /[\\/]terms[\\/]/.test(file)
            ? 'terms'
            : /violations/.test(file)
              ? 'violations'
              : 'catalog';
      expect([file, fits(kind, value)]).toEqual([file, true]);
    }
  });

  const sheet = (field: unknown): unknown => ({ forms: { f: { fields: { a: field } } } });
  test.each<[string, unknown, unknown]>([
    ['rules', sheet({ maxLength: 3 }), sheet({ maxLenght: 3 })],
    ['rules', sheet({ maxLength: [{ max: 3, as: 'x' }] }), sheet({ maxLength: -1 })],
    [
      'rules',
      sheet({ minimum: { field: 'b', onlyIf: { c: 1 } } }),
      sheet({ minimum: { min: 'one' } }),
    ],
    ['rules', sheet({ type: ['string', 'null'] }), sheet({ type: 'text' })],
    ['rules', sheet({ repeats: 'b' }), sheet({ repeats: 3 })],
    ['rules', sheet({ external: { odd: { hours: 1 } }, secret: true }), sheet({ secret: 'yes' })],
    [
      'catalog',
      { locale: 'de', messages: { a: { text: 'x', room: 3 } } },
      { locale: 'de', message: {} },
    ],
    [
      'catalog',
      { locale: 'de', fields: { a: { label: { text: 'x', accusative: 'y' } } } },
      { locale: 'de', fields: { a: { lable: 'x' } } },
    ],
    ['workspace', { $schema: 'x', locales: ['en'], tables: { t: 't.csv' } }, { loacles: ['en'] }],
    [
      'violations',
      { form: 'f', violations: [{ path: 'a', rule: 'b' }] },
      { form: 'f', violations: [{ rule: 'b' }] },
    ],
  ])('%s: %j, but not %j', (name, good, wrong) => {
    expect([fits(name, good), fits(name, wrong)]).toEqual([true, false]);
  });

  test('can be named by $schema in every file', () => {
    const folder = folderWith({
      'zeitwort.yaml': '$schema: x\nlocales: [en]\n',
      'rules/a.yaml': '$schema: x\nforms: { f: { fields: { a: { required: true } } } }',
      'messages/en.json': { $schema: 'x', locale: 'en', fields: { a: { label: 'a' } } },
    });
    expect(zeitwort(['check'], folder).code).toBe(0);
    expect(
      zeitwort(
        ['render', '-'],
        folder,
        '{"$schema":"x","form":"f","violations":[{"path":"","rule":"type"}]}',
      ).code,
    ).toBe(0);
  });
});
