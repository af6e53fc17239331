import { describe, expect, test } from '@jest/globals';
import { mkdirSync, symlinkSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import * as z from 'zod';
import { copyOf, folderWith, zeitwort } from '../support/program.js';
import { IN_VAIN } from '../support/server.js';

interface Body {
  status: number;
  errors: { pointer?: string; parameter?: string; code: string; detail: string }[];
}

const body = (text: string): Body => JSON.parse(text) as Body;
const proposal = {
  title: 'Faint halos',
  abstract: 'x'.repeat(200),
  lead: { name: 'Ilse', email: 'ilse@harrowfell.example' },
  passphrase: 'a long enough one',
  passphraseAgain: 'a long enough one',
  semester: '2027A',
  instrument: 'imager',
  firstNight: '2027-03-01',
  lastNight: '2027-03-04',
  nights: 3,
  targets: [
    {
      name: 'M 81',
      rightAscension: '09:12:07',
      declination: '+61:48:20',
      magnitude: 7,
      exposures: [{ seconds: 600, filter: 'ha' }],
    },
  ],
};
const bad = {
  ...proposal,
  title: ' ',
  passphrase: 'short',
  nights: 20,
  targets: [{ ...proposal.targets[0], magnitude: 26 }],
};

describe('try', () => {
  const folder = copyOf('observatory');
  const attempt = (payload: unknown, ...args: string[]): ReturnType<typeof zeitwort> =>
    zeitwort(
      ['try', '-', '--form', 'observing-proposal', ...args],
      folder,
      typeof payload === 'string' ? payload : JSON.stringify(payload),
    );

  test('nothing broken is exit 0, and nothing on standard output', () => {
    expect(attempt(proposal)).toEqual({ code: 0, out: '', err: 'Nothing is broken.\n' });
  });

  test('what is broken comes back as a client gets it', () => {
    const { code, out, err } = attempt(bad, '--locale', 'de', '--query', 'dryRun=maybe');
    expect([code, err]).toEqual([1, '']);
    expect(
      body(out).errors.map(
        ({ pointer, parameter, code: rule }) => `${pointer ?? parameter ?? ''} ${rule}`,
      ),
    ).toEqual([
      'dryRun enum',
      '#/title required',
      '#/passphrase minLength',
      '#/passphraseAgain repeats',
      '#/nights maximum',
      '#/targets/0/magnitude maximum',
    ]);
    expect(out).toContain('Magnitude (Ziel 1): Der Wert darf höchstens 25 sein.');
  });

  test('its violations are what render reads, and hold no secret', () => {
    const { code, out } = attempt(bad, '--format', 'violations');
    expect(code).toBe(1);
    expect(out).not.toMatch(/short|long enough/);
    const rendered = zeitwort(['render', '-', '--locale', 'pl'], folder, out);
    expect(rendered.out).toBe(attempt(bad, '--locale', 'pl').out);
  });

  test.each<[string, string, number, RegExp]>([
    ['empty-body', ' \n', 400, /the payload is empty/],
    ['malformed-body', '{\n "a": [1,}', 400, /standard input:2:10: invalid JSON/],
    [
      'too-large',
      '['.repeat(100_000) + ']'.repeat(100_000),
      413,
      /standard input:1:129: the payload is nested deeper than 128/,
    ],
  ])('%s', (problem, payload, status, sentence) => {
    const { code, out, err } = attempt(payload, '--locale', 'en');
    expect(code).toBe(1);
    expect(err).toMatch(sentence);
    expect(JSON.parse(out)).toMatchObject({
      status,
      type: `https://errors.harrowfell.example/${problem}`,
    });
    if (problem === 'malformed-body')
      expect(JSON.parse(out)).toMatchObject({
        line: 2,
        column: 10,
        detail: expect.stringContaining('(line 2, column 10)'),
      });
  });

  const single = (...args: string[]): ReturnType<typeof zeitwort> =>
    zeitwort(['try', '--form', 'observing-proposal', '--locale', 'en', ...args], folder);

  test.each<[string[], number, RegExp]>([
    [
      ['--field', 'targets[2].magnitude', '--rule', 'too-faint', '--value', '22'],
      1,
      /Target 3 is too faint.*at most 21/,
    ],
    [['--field', 'nights', '--rule', 'maximum', '--value', '14'], 0, /^$/],
    [
      ['--field', 'nights', '--rule', 'maximum', '--value', '5', '--param', 'max=4'],
      1,
      /You can ask for at most 4 nights/,
    ],
    [
      ['--field', 'title', '--rule', 'noneOf', '--value', 'x', '--param', 'choices=["x"]'],
      1,
      /"code": "noneOf"/,
    ],
    [['--field', 'semester', '--rule', 'pattern', '--value', '2027'], 1, /2027A/],
    [
      [
        '--field',
        'targets[0].exposures',
        '--rule',
        'fits-the-night',
        '--value',
        '[]',
        '--param',
        'hours=9',
      ],
      1,
      /take 9 hours/,
    ],
    // Without a rule, all that the field has.
    [['--field', 'nights', '--value', '"x"'], 1, /"code": "type"/],
    [['--field', 'targets[2].name', '--value', '"x"'], 0, /^$/],
    [
      ['--field', 'targets[2].magnitude', '--value', '40'],
      1,
      /"pointer": "#\/targets\/2\/magnitude"/,
    ],
  ])('one rule, or one field: %j', (args, code, sentence) => {
    const { code: ended, out } = single(...args);
    expect([ended, out]).toEqual([code, expect.stringMatching(sentence)]);
  });

  test.each<[string[], RegExp]>([
    [[], /name a file with a payload .* or a field/],
    [['--field', 'nights', '--value', '1', '--param', 'max=2'], /--param is for one rule/],
    [
      ['--field', 'nights', '--rule', 'maximum'],
      /name --field and --value; with --rule one rule of it/,
    ],
    [
      ['--field', 'nigths', '--rule', 'maximum', '--value', '1'],
      /has no field at nigths \(did you mean "nights"\?\)/,
    ],
    [
      ['--field', 'nights', '--rule', 'maximun', '--value', '1'],
      /there is no rule "maximun" \(did you mean "maximum"\?\)/,
    ],
    [
      ['--field', 'title', '--rule', 'enum', '--value', '1'],
      /"choices" of "enum" is a list.*--param name=value/,
    ],
    [['--field', 'title', '--rule', 'anyOf', '--value', '1'], /is a matter of whole schemas/],
  ])('wrong use: %j', (args, sentence) => {
    const { code, out, err } = single(...args);
    expect([code, out]).toEqual([2, '']);
    expect(err).toMatch(sentence);
  });
});

describe('the same rules from everywhere give the same body', () => {
  const openApi = (schema: unknown): unknown => ({
    openapi: '3.1.0',
    paths: {
      '/proposals': {
        post: {
          operationId: 'observing-proposal',
          requestBody: { content: { 'application/json': { schema } } },
        },
      },
    },
  });
  const schema = {
    type: 'object',
    required: ['title', 'semester', 'instrument', 'nights', 'targets'],
    properties: {
      title: { type: 'string', maxLength: 12 },
      semester: { type: 'string', pattern: '^\\d{4}[AB]$', examples: ['2027A'] },
      instrument: { type: 'string', enum: ['echelle', 'imager'] },
      nights: { type: 'integer', minimum: 1, maximum: 14 },
      firstNight: { type: 'string', format: 'date' },
      targets: {
        type: 'array',
        minItems: 1,
        items: {
          type: 'object',
          required: ['name'],
          properties: {
            name: { type: 'string' },
            magnitude: { type: 'number', maximum: 25 },
            exposures: { type: 'array', minItems: 1 },
          },
        },
      },
    },
  };
  const sheet = `forms:
  observing-proposal:
    fields:
      '': { type: object }
      title: { type: string, required: true, maxLength: 12 }
      semester: { type: string, required: true, pattern: { regex: '^\\d{4}[AB]$', example: 2027A } }
      instrument: { type: string, required: true, enum: [echelle, imager] }
      nights: { type: integer, required: true, minimum: 1, maximum: 14 }
      firstNight: { type: string, format: date }
      targets: { type: array, required: true, minItems: 1 }
      'targets[*]': { type: object }
      'targets[*].name': { type: string, required: true }
      'targets[*].magnitude': { type: number, maximum: 25 }
      'targets[*].exposures': { type: array, minItems: 1 }
`;
  const zodSchema = z.object({
    title: z.string().max(12),
    semester: z.string().regex(/^\d{4}[AB]$/),
    instrument: z.enum(['echelle', 'imager']),
    nights: z.int().min(1).max(14),
    firstNight: z.iso.date().optional(),
    targets: z
      .array(
        z.object({
          name: z.string(),
          magnitude: z.number().max(25).optional(),
          exposures: z.array(z.any()).min(1).optional(),
        }),
      )
      .min(1),
  });
  const payload = {
    title: 'far too long a title',
    semester: 'autumn',
    nights: 20,
    instrument: 'spyglass',
    firstNight: '2027-02-30',
    targets: [{ name: 'M 81', magnitude: 26, exposures: [] }, {}, 5, { name: 7 }],
  };
  const output = {
    valid: false,
    errors: [
      ['/properties/title/maxLength', '/title'],
      ['/properties/semester/pattern', '/semester'],
      ['/properties/instrument/enum', '/instrument'],
      ['/properties/nights/maximum', '/nights'],
      ['/properties/firstNight/format', '/firstNight'],
      ['/properties/targets/items/properties/magnitude/maximum', '/targets/0/magnitude'],
      ['/properties/targets/items/properties/exposures/minItems', '/targets/0/exposures'],
      ['/properties/targets/items/required', '/targets/1'],
      ['/properties/targets/items/type', '/targets/2'],
      ['/properties/targets/items/properties/name/type', '/targets/3/name'],
    ].map(([keywordLocation, instanceLocation]) => ({
      keywordLocation,
      instanceLocation,
      error: 'no',
    })),
  };
  const { out: schemaText } = zeitwort(
    ['rules', '--form', 'observing-proposal', '--format', 'json-schema'],
    copyOf('observatory', { 'rules/observing-proposal.yaml': sheet }),
  );

  const workspaces: [string, Record<string, unknown>][] = [
    ['a sheet', { 'rules/p.yaml': sheet }],
    ['JSON Schema', { 'rules/observing-proposal.schema.yaml': JSON.stringify(schema) }],
    ['OpenAPI', { 'rules/api.yaml': JSON.stringify(openApi(schema)) }],
    ['the sheet written out as JSON Schema', { 'rules/observing-proposal.yaml': schemaText }],
  ];
  const made = workspaces.map(([name, files]) => {
    const folder = folderWith({
      'zeitwort.yaml': 'locales: [en, de]\nrules: [rules/*]\n',
      ...files,
    });
    mkdirSync(path.join(folder, 'messages'));
    for (const locale of ['en', 'de'])
      writeFileSync(
        path.join(folder, `messages/${locale}.json`),
        JSON.stringify({ locale, fields: { 'targets[*]': { label: `T {targets_number}` } } }),
      );
    return { name, folder };
  });
  const [first] = made;
  const reference = zeitwort(
    ['try', '-', '--form', 'observing-proposal', '--locale', 'de'],
    first?.folder ?? '.',
    JSON.stringify(payload),
  ).out;

  test('the reference is what one expects', () => {
    expect(body(reference).errors.map(({ pointer, code }) => `${pointer ?? ''} ${code}`)).toEqual([
      '#/title maxLength',
      '#/semester pattern',
      '#/instrument enum',
      '#/nights maximum',
      '#/firstNight format',
      '#/targets/0/magnitude maximum',
      '#/targets/0/exposures minItems',
      '#/targets/1/name required',
      '#/targets/2 type',
      '#/targets/3/name type',
    ]);
  });

  test.each(made)('$name', ({ folder }) => {
    const tried = zeitwort(
      ['try', '-', '--form', 'observing-proposal', '--locale', 'de'],
      folder,
      JSON.stringify(payload),
    );
    expect(tried.out).toBe(reference);
    writeFileSync(path.join(folder, 'payload.json'), JSON.stringify(payload));
    const issues = zodSchema.safeParse(payload).error?.issues;
    for (const report of [issues, output]) {
      const args = [
        'render',
        '-',
        '--form',
        'observing-proposal',
        '--payload',
        'payload.json',
        '--locale',
        'de',
      ];
      expect(zeitwort(args, folder, JSON.stringify(report)).out).toBe(reference);
    }
  });
});

describe('hostile input ends in a clear answer within a second or so', () => {
  const rules = (fields: string): string => `forms: { f: { fields: ${fields} } }`;
  const workspace = (files: Record<string, unknown>): string =>
    folderWith({ 'zeitwort.yaml': 'rules: [rules/*]\ntexts: ["messages/*.json"]\n', ...files });
  const timed = (folder: string, args: string[], input: string): ReturnType<typeof zeitwort> => {
    const start = Date.now();
    const outcome = zeitwort(args, folder, input);
    expect(Date.now() - start).toBeLessThan(IN_VAIN);
    return outcome;
  };
  const tryForm = (folder: string, input: string): ReturnType<typeof zeitwort> =>
    timed(folder, ['try', '-', '--form', 'f'], input);

  test.each([
    ['a sheet', { 'rules/f.yaml': rules(`{ a: { pattern: '^(a+)+$' } }`) }],
    ['JSON Schema', { 'rules/f.json': { properties: { a: { pattern: '^(a+)+$' } } } }],
  ])('a regular expression that never ends, in %s', (_, files) => {
    const { code, out, err } = tryForm(
      workspace(files),
      JSON.stringify({ a: `${'a'.repeat(50_000)}!` }),
    );
    // Neither valid nor invalid: nobody knows.
    expect([code, JSON.parse(out)]).toEqual([
      1,
      expect.objectContaining({ status: 503, title: 'Not checked in time' }),
    ]);
    expect(err).toMatch(
      /the regular expression \^\(a\+\)\+\$ could not be tried within 1000 ms; simplify it/,
    );
  });

  test('five megabytes of one text', () => {
    const folder = workspace({
      'rules/f.yaml': rules(
        `{ a: { maxLength: 10, format: email, pattern: '^[a-z]+$', enum: [b] }, c: { format: uri } }`,
      ),
    });
    const long = 'a'.repeat(5_000_000);
    const { code, out } = tryForm(folder, JSON.stringify({ a: long, c: long }));
    expect(code).toBe(1);
    expect(body(out).errors.map(({ code: rule }) => rule)).toEqual([
      'maxLength',
      'format',
      'enum',
      'format',
    ]);
    expect(out.length).toBeLessThan(3000);
  });

  test('names of prototypes', () => {
    const folder = workspace({
      'rules/f.json': {
        required: ['constructor', '__proto__'],
        properties: { a: { type: 'string' } },
      },
    });
    const { out } = tryForm(folder, '{"a":1,"__proto__":{"x":1}}');
    expect(body(out).errors.map(({ pointer, code }) => `${pointer ?? ''} ${code}`)).toEqual([
      '#/a type',
      '#/constructor required',
    ]);
  });

  test('a YAML document that multiplies itself', () => {
    const lines = Array.from(
      { length: 12 },
      (_, at) => `a${at + 1}: &a${at + 1} [${Array(9).fill(`*a${at}`).join(', ')}]`,
    );
    const folder = workspace({ 'rules/f.yaml': `a0: &a0 [x]\n${lines.join('\n')}\n` });
    const { code, err } = timed(folder, ['check'], '');
    expect(code).toBe(2);
    expect(err).toMatch(/^zeitwort: rules\/f\.yaml:\d+:\d+: invalid YAML: [^\n]*alias[^\n]*\n$/i);
  });

  test('a reference out of the workspace, also through a link', () => {
    const outside = folderWith({ 'secret.json': { type: 'string' } });
    const folder = workspace({
      'rules/f.json': {
        properties: { a: { $ref: '../../secret.json' }, b: { $ref: 'link.json' } },
      },
    });
    mkdirSync(path.join(folder, 'x'));
    symlinkSync(path.join(outside, 'secret.json'), path.join(folder, 'x', 'link.json'));
    writeFileSync(
      path.join(folder, 'rules/f.json'),
      JSON.stringify({
        properties: { a: { $ref: '../../secret.json' }, b: { $ref: '../x/link.json' } },
      }),
    );
    const { code, out } = timed(folder, ['check', '--format', 'json'], '');
    expect(code).toBe(1);
    const messages = (
      JSON.parse(out) as { findings: { message: string; line: number }[] }
    ).findings.map(({ message }) => message);
    expect(
      messages.filter(
        (one) => one.includes('$ref') || one.includes('secret') || one.includes('link'),
      ),
    ).toEqual([
      expect.stringContaining('"../../secret.json" is outside of the workspace'),
      expect.stringContaining('"../x/link.json" names x/link.json, which is not in the workspace'),
    ]);
  });
});
