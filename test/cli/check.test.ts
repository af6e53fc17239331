import { describe, expect, test } from '@jest/globals';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { copyOf, folderWith, jsonOf, textOf, started, zeitwort } from '../support/program.js';

interface CheckJson {
  summary: { rules: number; locales: number; coverage: number; errors: number; warnings: number };
  coverage: { form: string; path: string; rule: string; locales: Record<string, string> }[];
  findings: Record<string, unknown>[];
}

const check = (folder: string, ...args: string[]): CheckJson =>
  JSON.parse(zeitwort(['check', '--format', 'json', ...args], folder).out) as CheckJson;

describe('check', () => {
  test('finds nothing on the shipped workspaces', () => {
    for (const which of ['observatory', 'small'] as const) {
      const folder = copyOf(which);
      const { summary, findings } = check(folder);
      expect([summary.coverage, findings]).toEqual([1, []]);
      expect(zeitwort(['check'], folder).code).toBe(0);
    }
  });

  test('prints the table, the findings and a summary; the exit code is 1', () => {
    const { code, out } = zeitwort(['check', '--all'], copyOf('broken'));
    expect(code).toBe(1);
    expect(out).toMatch(/^ {2}targets\[\*\]\.exposures +1\+0 +1\+0 +0\+0 −1$/m);
    expect(out).toMatch(/^covered +100 % +100 % +97 %$/m);
    expect(out).toMatch(
      /^messages\/en\.json:5:5 {2}warning unused-message\n {2}No rule of any form uses "requird"/m,
    );
    expect(out).toMatch(/\d+ rules in 3 locales: 99 % covered, 18 errors, 33 warnings\n$/);
  });

  test('a glob that matches nothing is told once, and a condition that no row of a table meets', () => {
    const told = (files: Record<string, string>): string[] =>
      check(copyOf('observatory', files)).findings.map(
        ({ kind, message }) => `${String(kind)}: ${String(message)}`,
      );
    const settings = textOf(copyOf('observatory'), 'zeitwort.yaml');
    expect(
      told({ 'zeitwort.yaml': settings.replace(/texts:.*/, 'texts: [mesages/*.json]') }),
    ).toEqual(['wrong-structure: No file matches "mesages/*.json". Correct it, or take it out.']);
    const use = "{ knownIn: { table: instruments, column: code, having: { retired: 'never' } } }";
    const made = folderWith({
      'zeitwort.yaml':
        'locales: [en]\nrules: [rules.yaml]\ntables: { instruments: instruments.csv }\n',
      'rules.yaml': `forms: { f: { fields: { instrument: ${use} } } }\n`,
      'instruments.csv': 'code,retired\nechelle,no\n',
    });
    const idle = check(made).findings.filter(({ kind }) => kind === 'idle-condition');
    expect(idle.map(({ message }) => message)).toEqual([
      'A condition of "knownIn" can never hold: no row of the table "instruments" has "never" in "retired". Correct it.',
    ]);
  });

  test('--locale looks at one language', () => {
    const { summary, coverage, findings } = check(copyOf('broken'), '--locale', 'pl');
    expect([summary.locales, summary.errors, summary.warnings]).toEqual([1, 13, 8]);
    expect(coverage.find(({ rule }) => rule === 'fits-the-night')).toEqual({
      form: 'observing-proposal',
      path: 'targets[*].exposures',
      rule: 'fits-the-night',
      locales: { pl: 'fallback' },
    });
    expect(new Set(findings.map(({ locale }) => locale))).toEqual(new Set([undefined, 'pl']));
  });

  test('warnings alone are no failure', () => {
    const folder = copyOf('small');
    const file = path.join(folder, 'messages/en.json');
    writeFileSync(
      file,
      readFileSync(file, 'utf8').replace('"fields"', '"messages": { "colour": "x" }, "fields"'),
    );
    expect(zeitwort(['check'], folder)).toMatchObject({
      code: 0,
      out: expect.stringContaining('No rule of any form uses "colour"'),
    });
  });

  test('without the starter catalogs every rule wants a text; comments and several files of a locale are fine', () => {
    const folder = folderWith({
      'zeitwort.yaml': 'locales: [en]\nstarter: false\ntexts: ["**/*.json", "more/*.jsonc"]\n',
      'rules/a.yaml': 'forms: { a: { fields: { title: { required: true, maxLength: 3 } } } }',
      'messages/en.json':
        '// one\n{ "locale": "en", "fields": { "title": { "label": "title" } }, }',
      'more/en.jsonc': '{ "locale": "EN", /* two */ "form": "a", "messages": { "required": "x" } }',
    });
    expect(check(folder).coverage.map(({ rule, locales }) => [rule, locales.en])).toEqual([
      ['type', 'missing'],
      ['required', 'written'],
      ['maxLength', 'missing'],
    ]);
  });
});

describe('why', () => {
  const folder = copyOf('observatory');
  const why = (...args: string[]): unknown =>
    JSON.parse(zeitwort(['why', ...args, '--format', 'json'], folder).out);

  test('shows each rung with file, line and column, the message and the sentence', () => {
    expect(
      why('observing-proposal', 'targets[1].magnitude', 'too-faint', '--locale', 'de'),
    ).toMatchObject({
      field: 'targets[*].magnitude',
      rule: 'maximum',
      code: 'too-faint',
      locales: [
        {
          locale: 'de',
          rungs: [
            { rung: 'field-of-form', hit: false },
            { rung: 'field', hit: false },
            { rung: 'message-of-form', hit: false },
            {
              rung: 'message',
              hit: true,
              key: 'too-faint',
              file: 'messages/de.json',
              line: 6,
              column: 18,
            },
          ],
          sentence:
            'Ziel 2 ist für dieses Instrument zu schwach: Die Magnitude darf höchstens 21 betragen.',
          arguments: {
            label: 'Magnitude',
            label_gender: 'feminine',
            targets_number: 2,
            place: 'Ziel 2',
            max: 21,
            nested: 'yes',
          },
        },
      ],
    });
  });

  test('has all languages in a table without --locale, and a starter text has its place too', () => {
    const { code, out } = zeitwort(
      ['why', 'observing-proposal', 'targets[*].name', 'maxLength'],
      folder,
    );
    expect(code).toBe(0);
    expect(out).toMatch(
      /^pl {6}starter {2}starter\/pl\.json:\d+:\d+ {2}Nazwa \(cel 3\): wartość może mieć najwyżej 60 znaków\.$/m,
    );
    expect(out.match(/starter\/(en|de|pl|ar|ja)\.json/g)).toHaveLength(5);
  });

  test('finds the texts that could have said each sentence of an answer, in any language', () => {
    for (const locale of ['en', 'de', 'pl', 'ar', 'ja']) {
      const { out } = zeitwort(
        ['render', 'violations/bad-proposal.json', '--locale', locale],
        folder,
      );
      const { errors } = JSON.parse(out) as {
        errors: { pointer: string; code: string; detail: string }[];
      };
      const { out: told, code } = zeitwort(
        ['why', '--body', '-', '--locale', locale, '--format', 'json'],
        folder,
        out,
      );
      expect(code).toBe(0);
      const traced = JSON.parse(told) as { sentence: string; texts: { rule?: string }[] }[];
      for (const { detail, code: rule } of errors) {
        const found = traced.find(({ sentence }) => sentence === detail)?.texts ?? [];
        expect([detail, found.map((one) => one.rule)]).toEqual([
          detail,
          expect.arrayContaining([rule]),
        ]);
      }
    }
    const { out, code } = zeitwort(
      ['why', '--sentence', 'Bitte für Ziel 3 einen Namen angeben.', '--locale', 'de'],
      folder,
    );
    expect([code, out]).toEqual([
      0,
      expect.stringMatching(
        /messages\/de\.json:5:17 .*\n.*targets\[\*\]\.name {2}required\n.*zeitwort set '…' --locale de --form observing-proposal --field 'targets\[\*\]\.name' --rule required\n/,
      ),
    ]);
    expect(zeitwort(['why', '--sentence', 'Nobody wrote this.'], folder)).toMatchObject({
      code: 1,
      out: expect.stringContaining('stands in no catalog'),
    });
    expect(zeitwort(['why'], folder)).toMatchObject({ code: 2 });
  });

  test('names a text that was passed over because its syntax is broken', () => {
    const { out } = zeitwort(
      ['why', 'observing-proposal', 'title', 'required', '--locale', 'de'],
      copyOf('broken'),
    );
    expect(out).toMatch(/passed over, its syntax is broken {2}messages\/de\.json:4:17/);
    expect(out).toMatch(/found under "required" +starter\/de\.json/);
  });

  test('exits with 1 where only the text for "unnamed" is left', () => {
    const folder2 = copyOf('small', {
      'rules/visitor-pass.yaml':
        'forms: { visitor-pass: { fields: { visitor: { external: { banned: true } } } } }',
    });
    const { code, out } = zeitwort(
      ['why', 'visitor-pass', 'visitor', 'banned', '--locale', 'en'],
      folder2,
    );
    expect(code).toBe(1);
    expect(out).toMatch(
      /There is no message; the text for "unnamed" stands in\.[^]+Visitor’s name must be corrected/,
    );
  });
});

describe('show', () => {
  const folder = copyOf('observatory');
  test('has texts down and languages across where there is room, else one below the other', () => {
    expect(zeitwort(['show', '--field', 'nights', '--locale', 'de'], folder).out).toMatch(
      /^nights: maximum +\{max, plural, one \{Es kann höchstens # Nacht/m,
    );
    expect(zeitwort(['show', '--field', 'nights'], folder).out).toMatch(
      /^nights: maximum\n {2}en {2}You can ask[^\n]+\n {2}de {2}\{max, plural/m,
    );
  });

  test('filters, and finds what a language lacks', () => {
    const json = (
      ...args: string[]
    ): {
      texts: {
        key: string;
        path?: string;
        locales: Record<string, { text: string; line: number }>;
      }[];
    } => JSON.parse(zeitwort(['show', '--format', 'json', ...args], folder).out) as never;
    expect(json('--missing', '--form', 'night-log').texts).toEqual([]);
    expect(json('--missing').texts.map(({ key }) => key)).toEqual(['minLength']);
    expect(json('--rule', 'too-faint', '--locale', 'ja').texts).toMatchObject([
      { kind: 'message', key: 'too-faint', locales: { ja: { line: 5 } } },
    ]);
    expect(
      json('--form', 'visitor-pass').texts.every(
        ({ path: at }) => at === undefined || !at.startsWith('targets'),
      ),
    ).toBe(true);
  });
});

test('init starts a workspace that passes the check, and writes over nothing', () => {
  const folder = folderWith({ 'taken/rules/visitor-pass.yaml': 'mine' });
  const { code, out } = zeitwort(['init', 'new'], folder);
  expect([code, out]).toEqual([0, expect.stringContaining('zeitwort check --workspace new')]);
  expect(zeitwort(['check', '--workspace', 'new'], folder).code).toBe(0);
  expect(zeitwort(['init', 'taken'], folder)).toMatchObject({
    code: 2,
    err: expect.stringContaining('taken/rules/visitor-pass.yaml exists already'),
  });
  expect(readFileSync(path.join(folder, 'taken/rules/visitor-pass.yaml'), 'utf8')).toBe('mine');
});

test('two forms of one request are told of; one without a body is tried without a payload', () => {
  const folder = copyOf('small', {
    'rules/other.yaml': `forms:
  first: { request: 'GET /visits/{id}', query: { day: { required: true } } }
  second: { request: 'GET /visits/{visit}', query: { day: { required: true } } }
`,
  });
  const { findings } = JSON.parse(zeitwort(['check', '--format', 'json'], folder).out) as {
    findings: { kind: string; form: string; file: string; line: number }[];
  };
  expect(findings.filter(({ kind }) => kind === 'duplicate-request')).toEqual([
    expect.objectContaining({ form: 'second', file: 'rules/other.yaml', line: 3 }),
  ]);
  const { code, out } = zeitwort(['try', '--form', 'first', '--locale', 'en'], folder);
  expect([code, out]).toEqual([1, expect.stringContaining('"parameter": "day"')]);
});

describe('init --from', () => {
  const api = `openapi: 3.1.0
info: { title: Depot, version: 1.0.0 }
paths:
  /trams:
    post:
      operationId: addTram
      requestBody: { content: { application/json: { schema: { $ref: '#/components/schemas/Tram' } } } }
components:
  schemas:
    Tram:
      type: object
      properties:
        number: { type: integer, title: tram number }
        depotName: { type: string, maxLength: 40 }
        doors: { type: array, items: { type: object, properties: { width: { type: number } } } }
`;

  test('a document: settings, a catalog a language, labels drafted out of names, lines that git joins', () => {
    const folder = folderWith({ 'api/openapi.yaml': api, '.gitattributes': '*.png binary' });
    const { code, out } = zeitwort(
      ['init', '--from', 'api/openapi.yaml', '--locales', 'en, de'],
      folder,
    );
    expect([code, out]).toEqual([
      0,
      expect.stringContaining('1 form with 6 fields; 4 labels drafted'),
    ]);
    expect(textOf(folder, 'zeitwort.yaml')).toBe(
      'original: en\nlocales: [en, de]\ntexts: [messages/*.json]\nrules: [api/openapi.yaml, rules/*.yaml]\n# Clients get drafts too; take this away once somebody has read them (zeitwort review).\ndrafts: served\n',
    );
    expect(textOf(folder, '.gitattributes')).toBe('*.png binary\n*.review.jsonl merge=union\n');
    expect(jsonOf(folder, 'messages/en.json').fields).toEqual({
      depotName: { label: 'depot name' },
      doors: { label: 'doors' },
      'doors[*]': { label: 'door {doors_number}' },
      'doors[*].width': { label: 'width' },
    });
    expect(jsonOf(folder, 'messages/de.json')).toEqual({ locale: 'de' });
    // With a draft for the other language there are drafts to be looked at, and nothing else.
    expect(zeitwort(['fill', '--locale', 'de'], folder).code).toBe(0);
    const findings = (): string[] =>
      (
        JSON.parse(zeitwort(['check', '--format', 'json'], folder).out) as {
          findings: { kind: string; locale: string }[];
        }
      ).findings
        .map(({ kind, locale }) => `${kind} ${locale}`)
        .sort();
    expect(findings()).toEqual([
      ...Array<string>(5).fill('unreviewed de'),
      ...Array<string>(4).fill('unreviewed en'),
    ]);
    expect(zeitwort(['review', '--locale', 'en', '--mark', 'reviewed'], folder).out).toContain(
      'Marked 4 texts as reviewed',
    );
    expect(
      zeitwort(['set', '--locale', 'de', '--field', 'doors', '--label', 'Türen'], folder).code,
    ).toBe(0);
    expect(findings()).toEqual(Array<string>(5).fill('unreviewed de'));
    expect(zeitwort(['init', '--from', 'api/openapi.yaml'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining(
        'zeitwort.yaml exists already, and init never overwrites a file',
      ),
    });
  });

  test('a folder of schemas, whose titles are labels; what cannot be read leaves nothing behind', () => {
    const schema = {
      type: 'object',
      properties: {
        plate: { type: 'string', title: 'number plate' },
        built_in: { type: 'integer' },
      },
    };
    const folder = folderWith({ 'in/a/tram.schema.json': schema, 'in/notes.json': 'no schema' });
    expect(zeitwort(['init', '--from', 'in', '--locales', 'pl'], folder).code).toBe(0);
    expect(textOf(folder, 'zeitwort.yaml')).toContain(
      'rules: [in/**/*.schema.json, rules/*.yaml]\n',
    );
    expect(jsonOf(folder, 'messages/pl.json').fields).toEqual({
      built_in: { label: 'built in' },
    });
    const several = folderWith({ 'api/openapi.yaml': api, 'in/tram.schema.json': schema });
    const both = ['--from', 'api/openapi.yaml', '--from', 'in'];
    expect(zeitwort(['init', ...both], several).out).toContain('2 forms with');
    // A sheet for what the documents cannot say is there from the beginning.
    expect(textOf(several, 'rules/own.yaml')).toMatch(/^forms: \{\}$/m);
    const broken = folderWith({
      'api/openapi.yaml': `${api}  - x`,
      'code/forms.ts': 'export const a: number = 1;',
    });
    const { code, err } = zeitwort(['init', '--from', 'api/openapi.yaml'], broken);
    expect([code, err]).toEqual([2, expect.stringContaining('api/openapi.yaml:')]);
    expect(readdirSync(broken)).toEqual(['api', 'code']);
    for (const [args, told] of [
      [['--from', 'nowhere'], 'nowhere does not exist'],
      [['--from', '..'], 'is not below the workspace'],
      [['--from', '.'], 'is the workspace itself'],
      [['--from', 'code'], 'code is TypeScript, which is not run here'],
      [['--locales', 'de'], '--locales goes with --from'],
      [['--from', 'api', '--locales', 'de,x-'], 'is no language tag'],
    ] as const)
      expect(zeitwort(['init', ...args], broken)).toMatchObject({
        code: 2,
        out: '',
        err: expect.stringContaining(told),
      });
  });

  test('labels that are missing later are drafted too, and check says so', () => {
    const folder = folderWith({
      'zeitwort.yaml': 'original: en\nlocales: [en, de]\n',
      'rules/tram.yaml': `forms: { tram: { fields: { 'lastStops[*].arrivedAt': { type: string }, '["it''s"]': { type: string } } } }\n`,
      'messages/en.json': { locale: 'en' },
    });
    expect(zeitwort(['check'], folder).out).toMatch(
      /Next: zeitwort fill --labels drafts the \d labels that en lacks/,
    );
    expect(zeitwort(['fill', '--labels'], folder).code).toBe(0);
    const fields = Object.entries(
      jsonOf(folder, 'messages/en.json').fields as Record<string, { label: string }>,
    );
    expect(fields.map(([name, { label }]) => [name, label])).toEqual([
      ['lastStops', 'last stops'],
      ['lastStops[*]', 'last stop {lastStops_number}'],
      ['lastStops[*].arrivedAt', 'arrived at'],
      ['["it\'s"]', "it''s"],
    ]);
    expect(zeitwort(['check', '--locale', 'en'], folder).code).toBe(0);
    expect(zeitwort(['fill'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining('--labels drafts'),
    });
  });
});

test('demo runs to its end and says each command', () => {
  const { code, out, err } = started(['demo'], folderWith({}));
  expect([code, err]).toEqual([0, 'Nothing is broken.\n']);
  expect(out.match(/^\$ zeitwort .+$/gm)).toHaveLength(10);
  expect(out).toContain('"fits-the-night" of targets[*].exposures has no text in pl');
});
