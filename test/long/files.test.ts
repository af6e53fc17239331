import { describe, expect, test } from '@jest/globals';
import { cpSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { plainCsv, plainPo, plainProperties } from '../../src/exchange/plain/read.js';
import { TRANSLATION_FORMATS } from '../../src/exchange/translations/formats.js';
import { TranslationFileError } from '../../src/exchange/translations/unit.js';
import { checkWorkspace } from '../../src/workspace/checking/check-workspace.js';
import { Complaint } from '../../src/workspace/disk/complaint.js';
import { Edits } from '../../src/workspace/editing/edits.js';
import { returned, takeIn } from '../../src/workspace/editing/importing.js';
import { TextEditor } from '../../src/workspace/editing/texts.js';
import { judgeOf } from '../../src/workspace/judging/rulings.js';
import { OutOfTime } from '../../src/workspace/judging/watch.js';
import { checkPack, makePack, packText } from '../../src/workspace/answering/packs.js';
import { parsePayload } from '../../src/workspace/reading/payload.js';
import { readErrorList } from '../../src/workspace/answering/violations.js';
import { workspaceRenderer } from '../../src/workspace/answering/renderer.js';
import { Workspace } from '../../src/workspace/reading/workspace.js';
import { copyOf, folderWith } from '../support/program.js';
import { corpus, mutated, randomFrom, ROUNDS, SEED, type Random } from '../support/torture.js';

/** Nothing takes longer, whatever it is made of; a machine may be busy. */
const SLOWEST_MS = 4000;

/** A refusal is one sentence in one line. */
function refused(error: unknown): void {
  if (error instanceof OutOfTime) return;
  if (!(error instanceof Complaint) && !(error instanceof TranslationFileError)) throw error;
  if (/[\n\u001b]/.test(error.message) || error.message.length > 1000)
    throw new Error(`no sentence: ${error.message}`);
}

/** Reads a text as what it should be; it ends in a result or a refusal, and soon. */
async function tried(what: string, text: string, work: () => unknown): Promise<void> {
  const start = Date.now();
  try {
    await work();
  } catch (error) {
    try {
      refused(error);
    } catch (unexpected) {
      throw new Error(
        `${what}, seed ${SEED}: ${String((unexpected as Error).stack)}\n${JSON.stringify(text.slice(0, 2000))}`,
      );
    }
  }
  if (Date.now() - start > SLOWEST_MS)
    throw new Error(
      `${what}, seed ${SEED}: took ${Date.now() - start} ms\n${JSON.stringify(text.slice(0, 2000))}`,
    );
}

const folder = copyOf('observatory', {
  'rules/api.json': {
    openapi: '3.0.3',
    paths: {
      '/nights/{id}': {
        put: {
          operationId: 'put-night',
          parameters: [
            { name: 'id', in: 'path', required: true, schema: { type: 'integer', minimum: 1 } },
          ],
          requestBody: {
            content: { 'application/json': { schema: { $ref: '#/components/schemas/night' } } },
          },
        },
      },
    },
    components: {
      schemas: {
        night: {
          type: 'object',
          required: ['date'],
          properties: {
            date: { type: 'string', format: 'date', nullable: true },
            next: {
              oneOf: [
                { $ref: '#/components/schemas/night' },
                { type: 'string', pattern: '^[a-z]+(-[a-z]+)*$' },
              ],
            },
            tags: { type: 'array', uniqueItems: true, maxItems: 4, items: { enum: ['a', 'b', 3] } },
          },
          additionalProperties: false,
        },
      },
    },
  },
  'rules/log.schema.json': {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    type: 'object',
    properties: { a: { $ref: '#/$defs/a' } },
    unevaluatedProperties: false,
    $defs: {
      a: { anyOf: [{ type: 'string', minLength: 2 }, { $ref: '#/$defs/b' }] },
      b: { contains: { const: 1 }, minContains: 2 },
    },
  },
  'data.csv': 'code;retired\r\nechelle;no\r\n',
});
writeFileSync(
  path.join(folder, 'zeitwort.yaml'),
  readFileSync(path.join(folder, 'zeitwort.yaml'), 'utf8').replace(
    /^rules:.*$/m,
    "rules: ['rules/*']",
  ) + 'tables: { instruments: data.csv }\n',
);
writeFileSync(
  path.join(folder, 'messages/de.review.jsonl'),
  '{"keys":["messages","required"],"state":"reviewed","text":"0123456789ab","source":"x"}\n',
);

const PAYLOADS = readdirSync(path.join(folder, 'payloads')).map((name) =>
  readFileSync(path.join(folder, 'payloads', name), 'utf8'),
);

/** Everything that can be asked of a workspace without writing. */
async function useAll(place: string): Promise<void> {
  const workspace = Workspace.open(place);
  const { findings } = await checkWorkspace(workspace);
  for (const { spot } of findings.slice(0, 50)) if (spot) workspace.place(spot);
  const judge = judgeOf(workspace, { budget: 300 });
  const renderer = workspaceRenderer(workspace);
  for (const { form } of workspace.forms.values())
    for (const payload of PAYLOADS.slice(0, 1)) {
      const { violations, more } = judge.judge(workspace.form(form.id), {
        body: JSON.parse(payload) as unknown,
        query: { a: 'x' },
      });
      for (const shape of ['problem', 'fields'])
        renderer.render({ form: form.id, violations, more }, { shape });
    }
  makePack(workspace, workspace.config.original);
}

const inWorkspace = [
  'zeitwort.yaml',
  ...['rules', 'messages'].flatMap((part) =>
    readdirSync(path.join(folder, part)).map((name) => `${part}/${name}`),
  ),
  'data.csv',
];

describe('files of a workspace, changed in any way, end in a result or in one sentence', () => {
  test.each(inWorkspace)(
    '%s',
    async (name) => {
      const place = folderWith({});
      cpSync(folder, place, { recursive: true });
      const whole = readFileSync(path.join(folder, name), 'utf8');
      const random = randomFrom(SEED + name.length * 7919);
      for (let run = 0; run < 6 * ROUNDS; run++) {
        const text = mutated(whole, random);
        writeFileSync(path.join(place, name), text);
        await tried(name, text, () => useAll(place));
      }
      rmSync(place, { recursive: true, force: true });
    },
    60_000 + ROUNDS * 30_000,
  );

  test.each(corpus('files'))('found once: %s', async (name, text) => {
    const [kind = ''] = name.split('.');
    const place = folderWith({
      'zeitwort.yaml':
        kind === 'config' ? text : "locales: [en]\nrules: ['rules/*']\nstarter: true\n",
      ...(kind === 'sheet'
        ? { 'rules/a.yaml': text }
        : kind === 'schema'
          ? { 'rules/a.json': text }
          : {}),
      'messages/en.json': kind === 'catalog' ? text : '{"locale":"en"}',
    });
    await tried(name, text, () => useAll(place));
  });
});

describe('what comes from elsewhere', () => {
  const workspace = Workspace.open(folder);
  const units = [
    {
      key: '|-|message|required',
      source: 'Please give {label}.',
      target: 'Bitte {label} angeben.',
      state: 'reviewed' as const,
      note: 'a; "b"',
    },
    {
      key: '|-|message|maxLength',
      source: '{max, plural, one {# x} other {# y}}',
      target: undefined,
      limit: 40,
    },
  ];
  const file = { original: 'en', locale: 'de', units };
  const rounds =
    (work: (random: Random, run: number) => Promise<void>, each: number) =>
    async (): Promise<void> => {
      const random = randomFrom(SEED + each);
      for (let run = 0; run < each * ROUNDS; run++) await work(random, run);
    };

  test.each(Object.entries(TRANSLATION_FORMATS))(
    '%s of translators',
    async (name, { write, read }) => {
      const whole = write(file, {});
      await rounds(async (random) => {
        const text = mutated(whole, random);
        await tried(name, text, () => {
          const { units: back } = read(text, {});
          const edits = new Edits(workspace);
          const locale = workspace.locale('de');
          const { decisions } = returned(workspace, locale, back);
          takeIn(new TextEditor(workspace, edits), locale, decisions);
          edits.changed();
        });
      }, 60)();
    },
    60_000 + ROUNDS * 20_000,
  );

  test.each([
    [
      'po',
      plainPo,
      'msgctxt "a"\nmsgid "b %(max)s"\nmsgstr "c"\n\nmsgid "d"\nmsgid_plural "e"\nmsgstr[0] "f"\nmsgstr[1] "g"\n',
    ],
    ['csv', plainCsv, 'key;text\nrequired;"Please; give"\nmax;x\n'],
    ['properties', plainProperties, 'required=Please give\n# c\nmax : \\u0041 b\\\n  c\n'],
  ] as const)(
    '%s of old catalogs',
    async (name, read, whole) => {
      await rounds(async (random) => {
        const text = mutated(whole, random);
        await tried(name, text, () => read(text));
      }, 60)();
    },
    60_000 + ROUNDS * 20_000,
  );

  test(
    'reports of validators',
    rounds(async (random, run) => {
      const whole =
        [
          readFileSync(path.join(folder, 'violations/bad-proposal.json'), 'utf8'),
          JSON.stringify({
            issues: [
              {
                code: 'too_small',
                path: ['targets', 2, 'name'],
                minimum: 1,
                origin: 'string',
                message: 'x',
              },
            ],
          }),
          JSON.stringify({
            valid: false,
            errors: [
              {
                instanceLocation: '/targets/2',
                keywordLocation: '/properties/targets/items/type',
                error: 'x',
              },
            ],
          }),
        ][run % 3] ?? '';
      const text = mutated(whole, random);
      await tried('report', text, () => {
        const report = readErrorList(text, 'report.json', workspace, {
          form: 'observing-proposal',
        });
        workspaceRenderer(workspace).render({
          form: report.form.form.id,
          violations: report.violations,
        });
      });
    }, 90),
  );

  test(
    'payloads',
    rounds(async (random, run) => {
      const text = mutated(PAYLOADS[run % PAYLOADS.length] ?? '', random);
      await tried('payload', text, () => {
        const payload = parsePayload(text);
        if ('problem' in payload) return;
        const judge = judgeOf(workspace, { budget: 500 });
        for (const form of workspace.forms.values()) judge.judge(form, { body: payload.value });
      });
    }, 60),
  );

  test(
    'packs',
    rounds(async (random) => {
      const text = mutated(packText(makePack(workspace, workspace.locale('en'))), random);
      await tried('pack', text, () => {
        let root: unknown;
        try {
          root = JSON.parse(text);
        } catch {
          return;
        }
        checkPack(root);
      });
    }, 10),
  );

  test('a unit of XLIFF that would change on the way is refused by name; other broken files are told with their line', () => {
    const { write, read } = TRANSLATION_FORMATS.xliff;
    const whole = write(file, {});
    const with_ = (by: string): string => whole.replace('>Please give', `>${by}Please give`);
    expect(read(with_('<cp hex="zz"/>'), {}).units[0]).toEqual({
      key: '|-|message|required',
      broken: '<cp hex="zz"/> is not a character',
    });
    expect(read(with_('<ph id="9"/>'), {}).units[0]?.broken).toContain('would be lost');
    expect(() => read(with_('<__proto__/>'), {})).toThrow(TranslationFileError);
    expect(() => read(with_('&nbsp;'), {})).toThrow(
      expect.objectContaining({
        message: 'this is not XML: "&nbsp;" is not an entity of XML; write the character itself',
        line: expect.any(Number),
      }),
    );
    expect(() => read(with_('<mrk id="m">'.repeat(3000)), {})).toThrow(
      'nested deeper than 100 elements',
    );
    expect(
      TRANSLATION_FORMATS.po.read('msgctxt "a"\nmsgid "b"\nmsgstr "c"\n', {}).units,
    ).toHaveLength(1);
    const rows = TRANSLATION_FORMATS.csv.write(
      { ...file, units: [{ key: 'k', source: 'a;b\tc', target: 'd,e' }] },
      {},
    );
    expect(rows).toContain('"a;b\tc","d,e"');
  });
});
