import { existsSync, readFileSync, symlinkSync, writeFileSync, appendFileSync } from 'node:fs';
import { spawn } from 'node:child_process';
import path from 'node:path';
import { createContext, runInContext } from 'node:vm';
import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import * as z from 'zod';
import { fromSchemaErrors, fromZod, openWorkspace } from '../../src/library.js';
import { folderWith, jsonOf, program, textOf, zeitwort } from '../support/program.js';
import { until } from '../support/server.js';

const root = path.join(__dirname, '..', '..');

/** The schemas of a visit, as a backend has them; the test makes the same ones out of this text. */
const ZOD = `
export const visit = z.strictObject({
  visitor: z.string().min(2).max(40).meta({ title: 'name of the visitor' }),
  mail: z.email().meta({ title: 'email address' }),
  badge: z.string().startsWith('VIS-').meta({ title: 'badge number' }),
  day: z.iso.date().meta({ title: 'day of the visit' }),
  guests: z.array(z.object({ name: z.string().min(2).meta({ title: 'name of the guest' }) })).max(3).meta({ title: 'guests' }),
  size: z.union([z.string(), z.number()]).optional().meta({ title: 'shirt size' }),
  escort: z.string().refine((name) => name !== 'nobody', { params: { rule: 'on-duty', night: 'tonight' } }).meta({ title: 'escort' }),
}).meta({ id: 'visit', title: 'visit' });
`;
const VALIBOT = `import * as v from 'valibot';
import { toStandardJsonSchema } from '@valibot/to-json-schema';
export const tour = toStandardJsonSchema(v.object({ code: v.pipe(v.string(), v.startsWith('TOUR-')), seats: v.pipe(v.number(), v.minValue(1)) }));
`;
const SHEET = `forms:
  visit:
    adds: true
    request: POST /visits
    blank: missing
    fields:
      visitor: { differsFrom: escort }
      escort: { external: { on-duty: { night: tonight } } }
`;
const TEXTS = {
  'messages/en.json': {
    locale: 'en',
    messages: { 'on-duty': '{label_start} is not on duty {night}.' },
    fields: { 'guests[*]': { label: 'guest {guests_number}' } },
  },
};

function workspace(files: Record<string, unknown> = {}): string {
  const folder = folderWith({
    'zeitwort.yaml': 'original: en\nrulesFromCode: [src/*.mjs]\n',
    'src/visit.mjs': `import * as z from 'zod';${ZOD}`,
    'rules/visit.yaml': SHEET,
    ...TEXTS,
    ...files,
  });
  symlinkSync(path.join(root, 'node_modules'), path.join(folder, 'node_modules'));
  return folder;
}

const visit = runInContext(
  `${ZOD.replace('export const', 'const')} visit`,
  createContext({ z }),
) as z.ZodType;

describe('derive', () => {
  test('writes schemas that all other commands read; --check tells when they are out of date', () => {
    const folder = workspace({ 'src/tour.mjs': VALIBOT });
    expect(zeitwort(['derive', '--check'], folder)).toMatchObject({
      code: 1,
      out: expect.stringContaining('run "zeitwort derive"'),
    });
    expect(zeitwort(['derive'], folder)).toEqual({
      code: 0,
      err: '',
      out: 'Wrote rules/code/tour.schema.json from src/tour.mjs, export tour\nWrote rules/code/visit.schema.json from src/visit.mjs, export visit\n',
    });
    expect(zeitwort(['derive', '--check'], folder)).toMatchObject({
      code: 0,
      out: '2 files up to date\n',
    });
    const { out } = zeitwort(['rules'], folder);
    for (const told of [
      'beginsWith TOUR-',
      'beginsWith VIS-',
      'format email',
      'on-duty night tonight (checked by the backend)',
    ])
      expect(out).toContain(told);
    expect(out).not.toContain('pattern');
    expect(out).toContain('POST /visits');
    writeFileSync(path.join(folder, 'src/tour.mjs'), VALIBOT.replace('tour =', 'walk ='));
    expect(zeitwort(['derive'], folder).out).toMatch(
      /Wrote rules\/code\/walk.*Removed rules\/code\/tour\.schema\.json/s,
    );
    expect(existsSync(path.join(folder, 'rules/code/tour.schema.json'))).toBe(false);
  });

  test('a workspace with Zod alone and a sheet that adds is green; without the sheet the rule of code is told of, with its line', () => {
    const folder = workspace();
    zeitwort(['derive'], folder);
    expect(zeitwort(['check'], folder)).toMatchObject({
      code: 0,
      out: expect.stringMatching(/100 % covered, 0 errors, 0 warnings\n$/),
    });
    writeFileSync(path.join(folder, 'rules/visit.yaml'), 'forms: {}\n');
    const { out } = zeitwort(['check', '--kind', 'undeclared-rule'], folder);
    expect(out.replace(/\s+/g, ' ')).toContain(
      `visit: { adds: true, fields: { 'escort': { external: { on-duty: { night: tonight } } } } }`,
    );
    const wrong = SHEET.replace('visitor:', 'visiter:').replace('visit:', 'visits:');
    writeFileSync(
      path.join(folder, 'rules/visit.yaml'),
      `${SHEET.replace('visitor:', 'visiter:')}${wrong.replace('forms:\n', '')}`,
    );
    const told = zeitwort(['check'], folder).out.replace(/\s+/g, ' ');
    expect(told).toContain('The form "visit" has no field at visiter (did you mean "visitor"?).');
    expect(told).toContain(
      'The form "visits" adds to one of the same name, but no schema declares it (did you mean "visit"?).',
    );
  });

  test.each([
    [
      'throws',
      'throw new Error("no\\nmore");',
      /src\/visit\.mjs: this module fails while it is loaded: Error: no\.\n$/,
    ],
    [
      'hangs',
      'export const x = 1; await new Promise((resolve) => setTimeout(resolve, 60_000));',
      /did not come to an end within 1000 ms/,
    ],
    [
      'exports nothing',
      'export const x = { y: 1 };',
      /exports nothing that implements Standard JSON Schema/,
    ],
    ['is not a JavaScript', 'const const', /fails while it is loaded: SyntaxError: /],
    [
      'needs what is not there',
      'import "dome-rules";',
      /this module needs dome-rules, which is not there; install it/,
    ],
    [
      'ends its process',
      'console.log("bye"); process.exit(3);',
      /ended its process itself, with code 3 \(it printed: bye\)/,
    ],
    [
      'has what JSON Schema cannot say',
      `export const x = { '~standard': { version: 1, vendor: 'own', jsonSchema: { input() { throw new Error('a date'); } } } };`,
      /the export "x" cannot be written as JSON Schema: a date/,
    ],
    [
      'implements half',
      `export const x = { '~standard': { version: 1, vendor: 'own', validate() {} } };`,
      /its library has no Standard JSON Schema/,
    ],
    [
      'makes a form twice',
      `const j = { '~standard': { vendor: 'own', jsonSchema: { input: () => ({ $id: 'a', type: 'object' }) } } };\nexport const x = j; export const y = { ...j, '~standard': { ...j['~standard'], jsonSchema: { input: () => ({ $id: 'a', type: 'string' }) } } };`,
      /both make the form "a"; give one of them an id of its own/,
    ],
  ])('a module that %s ends in one sentence, and nothing is written', (_, code, expected) => {
    const folder = workspace({ 'src/visit.mjs': code });
    const {
      code: exit,
      out,
      err,
    } = zeitwort(['derive', '--timeout', code.includes('60_000') ? '1000' : '20000'], folder);
    expect([exit, out, err.match(/\n/g)?.length]).toEqual([2, '', 1]);
    expect(err).toMatch(expected);
    expect(existsSync(path.join(folder, 'rules/code'))).toBe(false);
  });

  test('a module that prints is told of; one in CommonJS with a default is read; no module, or a folder elsewhere, is refused', () => {
    const folder = workspace({
      'zeitwort.yaml': 'original: en\nrulesFromCode: [src/*.cjs]\nrules: [rules/*.yaml]\n',
      'src/own.cjs': `console.log('hello'); module.exports = { '~standard': { vendor: 'own', jsonSchema: { input: () => ({ type: 'object', label: 'x', properties: { label: { type: 'string', format: 'starts_with', pattern: '^a' } } }) } } };`,
    });
    const { code, err } = zeitwort(['derive', '--out', 'made'], folder);
    expect([code, err]).toEqual([
      0,
      'zeitwort: src/own.cjs prints while it is loaded: hello.\nzeitwort: "rules" in zeitwort.yaml does not name these files, so nothing reads them; add made/*.schema.json to it.\n',
    ]);
    expect(jsonOf(folder, 'made/own.schema.json')).toEqual({
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      $id: 'own',
      type: 'object',
      title: 'x',
      $comment: 'Written by "zeitwort derive" from src/own.cjs, export default; change it there.',
      properties: { label: { type: 'string', pattern: '^a' } },
    });
    expect(zeitwort(['derive', '--out', '../made'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining('is outside of the workspace'),
    });
    writeFileSync(path.join(folder, 'zeitwort.yaml'), 'original: en\n');
    expect(zeitwort(['derive'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining('rulesFromCode: [src/forms.js]'),
    });
  });

  test('--watch writes again after a save', async () => {
    const folder = workspace();
    const child = spawn(process.execPath, [program, 'derive', '--watch'], {
      cwd: folder,
      stdio: 'ignore',
    });
    const file = path.join(folder, 'rules/code/visit.schema.json');
    await until(() => existsSync(file));
    appendFileSync(
      path.join(folder, 'src/visit.mjs'),
      '\nexport const other = z.object({}).meta({ id: "other" });\n',
    );
    await until(() => existsSync(path.join(folder, 'rules/code/other.schema.json')));
    child.kill('SIGTERM');
    expect(await new Promise((resolve) => child.once('exit', resolve))).toBe(0);
  });
});

describe('one mistake, one body', () => {
  const BODIES = [
    {},
    {
      visitor: 'A',
      mail: 'at',
      badge: 'x',
      day: '1 May',
      guests: [{ name: 'B' }, {}],
      size: true,
      escort: 'nobody',
      more: 1,
    },
    { visitor: null, mail: ' ', badge: 'VIS-1', day: '', guests: null, escort: '' },
    {
      visitor: 'Ada',
      mail: 'ada@domain.example',
      badge: 'VIS-1',
      day: '2027-03-09',
      guests: [1, 2, 3, 4],
      escort: 'Ada',
    },
  ];

  test('whether Zod told it, a JSON Schema validator on the derived schema, or our own rules', async () => {
    const folder = workspace();
    zeitwort(['derive'], folder);
    const renderer = openWorkspace(folder);
    const form = renderer.form('visit');
    const ajv = addFormats.default(
      new Ajv2020({ allErrors: true, strict: false, validateFormats: true }),
    );
    const schema = jsonOf(folder, 'rules/code/visit.schema.json');
    const validate = ajv.compile({ ...schema, $id: 'visit' });
    const bodyOf = (violations: Parameters<typeof renderer.render>[0]['violations']): unknown => {
      const sorted = [...violations].sort((one, other) =>
        one.path + one.rule < other.path + other.rule ? -1 : 1,
      );
      return JSON.parse(
        renderer.render({ form: 'visit', violations: sorted }, { locale: 'en' }).body,
      ) as unknown;
    };
    for (const payload of BODIES) {
      const own = (await renderer.violations('visit', { body: payload })).filter(
        ({ rule }) => rule !== 'differsFrom',
      );
      if (own.length === 0) continue;
      const { error } = visit.safeParse(payload);
      // What only code tests is told by code alone.
      const byZod = fromZod(error, { form, payload, strict: true }).filter(
        ({ rule }) => rule !== 'on-duty',
      );
      validate(payload);
      const native = fromSchemaErrors(validate.errors, { form, payload, strict: true });
      expect(bodyOf(byZod)).toEqual(bodyOf(own));
      expect(bodyOf(native)).toEqual(bodyOf(own));
    }
    const [last] = BODIES.slice(-1);
    expect(
      (await renderer.violations('visit', { body: last })).map(
        ({ path: at, rule }) => `${at} ${rule}`,
      ),
    ).toEqual(['visitor differsFrom', 'guests maxItems']);
    const custom = visit.safeParse({ ...last, guests: [], escort: 'nobody' });
    const { body } = renderer.render(
      { form: 'visit', violations: fromZod(custom, { form }) },
      { locale: 'en' },
    );
    expect(body).toContain('Escort is not on duty tonight.');
  });

  test('labels and blanks of sheets hold for their own forms too, below what catalogs say', () => {
    const sheet = (label: string): string =>
      `forms:\n  log:\n    fields:\n      seeing: { required: true, minimum: 1, label: ${label} }\n`;
    const folder = folderWith({
      'zeitwort.yaml': 'original: en\nlocales: [en, de]\n',
      'rules/log.yaml': sheet('the seeing'),
      'messages/en.json': { locale: 'en', fields: {} },
      'messages/de.json': { locale: 'de', fields: { seeing: { label: 'Seeing' } } },
    });
    expect(zeitwort(['check'], folder)).toMatchObject({
      code: 0,
      out: expect.stringContaining('0 errors'),
    });
    const why = (): string =>
      zeitwort(['why', 'log', 'seeing', 'required', '--locale', 'en'], folder).out;
    expect(why()).toMatch(/The seeing must be given\..*The label is from rules\/log\.yaml:4:52/s);
    writeFileSync(
      path.join(folder, 'messages/en.json'),
      JSON.stringify({ locale: 'en', fields: { seeing: { label: 'seeing' } } }),
    );
    expect(why()).toContain('Seeing must be given.');
    writeFileSync(path.join(folder, 'rules/log.yaml'), sheet('5'));
    expect(zeitwort(['check'], folder).out).toContain('"label" is a text');
  });
});

test('the sheet that adds is valid by the published schema', () => {
  const schema = JSON.parse(
    readFileSync(path.join(root, 'schemas/rules.schema.json'), 'utf8'),
  ) as object;
  const validate = new Ajv2020({ strict: false, validateFormats: false }).compile(schema);
  const folder = workspace();
  expect(textOf(folder, 'rules/visit.yaml')).toBe(SHEET);
  expect(
    validate({
      forms: {
        visit: {
          adds: true,
          request: 'POST /visits',
          blank: 'missing',
          fields: { visitor: { label: 'x', blank: 'kept', beginsWith: 'a' } },
        },
      },
    }),
  ).toBe(true);
});
