import { expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { openPack, openWorkspace } from '../../src/library.js';
import { folderWith, zeitwort } from '../support/program.js';
import { serve } from '../support/server.js';
import { oneOf, randomFrom, ROUNDS, SEED, type Random } from '../support/torture.js';

const RULES = `forms:
  plan:
    request: POST /plans
    fields:
      title: { required: true, as: titled }
      'targets[*].name': { required: true, maxLength: 5 }
      'targets[*].parts[*]': { minimum: 2 }
      'notes.*': { maxLength: 3 }
  log:
    request: POST /logs
    fields:
      'targets[*].name': { required: true }
`;

const PLACES = [
  'title',
  'targets[*].name',
  'targets[0].name',
  'targets[1].name',
  'targets[0].parts[*]',
  'targets[*].parts[1]',
  'unknown.place',
  'targets[0].parts[1]',
  'notes.*',
  'notes.first',
  '..name',
];
const KEYS = ['required', 'maxLength', 'minimum', 'titled', 'ours'];

/** A catalog with texts at places and for whole forms, some in files of their own. */
function catalogs(random: Random, locale: string): Record<string, string> {
  const files: Record<string, string> = {};
  for (const form of [undefined, 'plan', ['plan', 'log']]) {
    if (random(10) < 3) continue;
    const some = <T>(all: readonly T[]): T[] => all.filter(() => random(10) < 4);
    // Some ask for what a backend may not tell, and then another text stands in.
    const text = (at: string): string =>
      `${locale} ${at} {label} {place} ${oneOf(random, ['', '{value}', '{max}', '{value} {max}'])}`;
    const messages = Object.fromEntries(some(KEYS).map((key) => [key, text(key)]));
    const fields = Object.fromEntries(
      some(PLACES).map((at) => [
        at,
        {
          ...(random(2) === 0 ? { label: `${locale} label ${at}` } : {}),
          messages: Object.fromEntries(some(KEYS).map((key) => [key, text(`${key} at ${at}`)])),
        },
      ]),
    );
    const of = form === undefined ? 'all' : [form].flat().join('-');
    files[`messages/${of}.${locale}.json`] = JSON.stringify({
      locale,
      ...(form === undefined ? {} : { form }),
      messages,
      fields,
    });
  }
  return files;
}

/** What can be broken: a path, and the rules that are declared there. */
const BROKEN: readonly (readonly [string, ...string[]])[] = [
  ['title', 'required'],
  ['targets[0].name', 'required', 'maxLength'],
  ['targets[1].name', 'required'],
  ['targets[7].name', 'required', 'maxLength'],
  ['targets[0].parts[1]', 'minimum'],
  ['targets[3].parts[0]', 'minimum'],
  ['notes.first', 'maxLength'],
  ['notes.other', 'maxLength'],
  ['notes.myKey', 'maxLength'],
  ['title', 'ours', 'unheardOf', 'maxLength', 'minItems'],
  ['targets[1].parts[1]', 'ours', 'required'],
];
/** Places that the form does not declare: the service and the command refuse these. */
const ELSEWHERE: typeof BROKEN = [
  ['unknown.place', 'ours', 'required'],
  ['elsewhere', 'ours', 'required'],
];

/** Packs know no files: that apart, developers are told the same. */
const withoutFiles = (body: string): string =>
  body.replace(/,(?<q>"|&quot;|\\")file\k<q>:\k<q>[^"&\\]*\k<q>(?:,\k<q>line\k<q>:\d+)?/g, '');

const VALUES = [{ value: 'x' }, { value: 'long' }, {}];

type Asked = readonly [broken: object, locale: string];

/** What packs that are modules answer, in a process of its own: Jest has no modules. */
function answersOfModules(folder: string, asked: readonly Asked[]): unknown[] {
  const runtime = path.join(__dirname, '../../dist/runtime/index.js');
  const packs = ['en', 'de', 'de-AT'].map((tag) => path.join(folder, `modules/${tag}.mjs`));
  const script = `import { openPack } from ${JSON.stringify(runtime)};
    ${packs.map((file, at) => `import pack${at} from ${JSON.stringify(file)};`).join('\n')}
    const packed = openPack(${packs.map((_, at) => `pack${at}`).join()});
    const asked = ${JSON.stringify(asked)};
    console.log(JSON.stringify(asked.map(([broken, locale]) => packed.render(broken, { locale, requestId: 'r-1' }).body)));`;
  const { stdout, stderr } = spawnSync(process.execPath, ['--input-type=module', '-e', script], {
    encoding: 'utf8',
  });
  expect(stderr).toBe('');
  return JSON.parse(stdout) as unknown[];
}

/** What readers in other languages are held against: bodies by shape. */
interface Vectors {
  readonly locales: Readonly<
    Record<
      string,
      {
        readonly bodies: readonly {
          readonly form: string;
          readonly violations: [];
          readonly bodies: Readonly<Record<string, string>>;
        }[];
      }
    >
  >;
}

const READER = `import json, pathlib, sys
sys.path.insert(0, sys.argv[2])
from error_texts import Sentences, body, fields_answer
folder = pathlib.Path(sys.argv[1])
def read(name): return json.loads((folder / name).read_text("utf-8"))
def bodies(locale, one):
    sentences = Sentences(read(f"{locale}.sentences.json"))
    answer = fields_answer(sentences, one["form"], one["violations"])
    return [[shape, body(sentences, answer, shape)[1], text] for shape, text in {**one["bodies"], **one.get("own", {})}.items()]
for locale, vectors in read("vectors.json")["locales"].items():
    for one in vectors["bodies"]:
        for shape, found, wanted in bodies(locale, one):
            assert found == wanted, (locale, shape, found, wanted)
print(json.dumps([
    [locale, one["violation"], *Sentences(read(f"{locale}.sentences.json")).say(one["form"], one["violation"]), one["sentence"], one.get("inline")]
    for locale, vectors in read("vectors.json")["locales"].items() for one in vectors["sentences"]
]))`;

/** What a reader in another language makes of the packs of sentences, beside what it should. */
function saidElsewhere(packs: string): readonly unknown[][] {
  const readers = path.join(__dirname, '../../examples/python');
  const { stdout, stderr } = spawnSync('python3', ['-B', '-c', READER, packs, readers], {
    encoding: 'utf8',
  });
  expect(stderr).toBe('');
  return JSON.parse(stdout) as unknown[][];
}

const PAYLOADS = [
  {},
  { title: 'x', targets: [{ name: 'abcdef', parts: [1, 0] }, { parts: [2, 1] }] },
  { targets: [{}, { name: 'a' }, { name: '' }], notes: { first: 'long', other: 'longer' } },
];

const requestId = 'r-1';
const SHAPES = ['problem', 'jsonapi', 'graphql', 'fields', 'list', 'text', 'html', 'ours'];

test('the same comes from the commands, the service, the library and packs, one violation or many', async () => {
  const random = randomFrom(SEED);
  for (let round = 0; round < 2 + 2 * ROUNDS; round++) {
    const shape = oneOf(random, SHAPES);
    const settings = `original: en\nlocales: [en, de, de-AT]\ntexts: [messages/*.json]\nrules: [rules.yaml]\nbody: { shape: ${shape}, perField: ${oneOf(random, ['all', 'first'])}, inline: ${oneOf(random, ['true', 'false', 'alone'])}, audience: ${oneOf(random, ['client', 'developer'])}, texts: ${oneOf(random, ['list', 'joined'])} }\nshapes: { ours: { body: { what: "<title>", items: { each: violation, node: { at: "<pointer>", text: "<text>" } } } } }\n`;
    const folder = folderWith({
      'zeitwort.yaml': settings,
      'rules.yaml': RULES,
      'messages/some.en.json': '{ "locale": "en" }',
      ...catalogs(random, 'en'),
      ...catalogs(random, 'de'),
      ...catalogs(random, 'de-AT'),
    });
    // Drafts are said of nobody.
    if (random(3) === 0)
      zeitwort(['review', '--locale', oneOf(random, ['de', 'de-AT']), '--mark', 'initial'], folder);
    for (const how of [
      ['--out', 'packs'],
      ['--module', '--out', 'modules'],
    ])
      expect(zeitwort(['pack', ...how], folder)).toMatchObject({ code: 0 });
    const asked: [Asked, unknown][] = [];
    const packs = ['en', 'de', 'de-AT'].map((tag) => path.join(folder, `packs/${tag}.json`));
    const packed = openPack(...(packs as [string, ...string[]]));
    const service = await serve(folder, '--log-level', 'silent', '--no-watch');
    for (let times = 0; times < 6; times++) {
      const isDeclared = random(4) > 0;
      const violation = (): { path: string; rule: string; value?: string } => {
        const [at, ...rules] = oneOf(random, isDeclared ? BROKEN : [...BROKEN, ...ELSEWHERE]);
        return { path: at, rule: oneOf(random, rules), ...oneOf(random, VALUES) };
      };
      const violations = Array.from({ length: oneOf(random, [1, 1, 2, 5]) }, violation);
      const broken = { form: 'plan', violations };
      const locale = oneOf(random, ['en', 'de', 'de-AT']);
      const { status, body, headers } = packed.render(broken, { locale, requestId });
      // Opened for one answer alone: what was read before must not decide what is said.
      const whole = openWorkspace(folder).render(broken, { locale, requestId });
      expect({ ...whole, body: withoutFiles(whole.body) }).toEqual({ status, body, headers });
      asked.push([[broken, locale], body]);
      if (!isDeclared) continue;
      const response = await fetch(
        `${service.url}/zeitwort/render/${broken.form}?locale=${locale}`,
        {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ violations }),
        },
      );
      // Its id is the service's own.
      const told = withoutFiles(await response.text()).replace(
        /[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}/g,
        requestId,
      );
      expect([told, response.status]).toEqual([body, status]);
      const { out } = zeitwort(
        ['render', '-', '--locale', locale, '--lines', '--request-id', requestId],
        folder,
        JSON.stringify(broken),
      );
      if (out.startsWith('{') || out.startsWith('[')) expect(withoutFiles(out.trim())).toBe(body);
    }
    await service.stop();
    expect(
      answersOfModules(
        folder,
        asked.map(([one]) => one),
      ),
    ).toEqual(asked.map(([, body]) => body));
    const payload = JSON.stringify(oneOf(random, PAYLOADS));
    const tried = ['try', '-', '--form', 'plan', '--locale', 'de', '--request-id', requestId];
    const found = JSON.parse(
      zeitwort([...tried, '--format', 'violations'], folder, payload).out,
    ) as { form: string; violations: [] };
    const { out } = zeitwort(tried, folder, payload);
    const { body: answer } = packed.render(found, { locale: 'de', requestId });
    // It is laid out for people.
    const isJson = /^[{[]/.test(answer);
    expect(withoutFiles(isJson ? JSON.stringify(JSON.parse(out)) : out.trim())).toBe(answer.trim());
    expect(zeitwort(['pack', '--test-vectors', '--out', 'packs'], folder).code).toBe(0);
    expect(zeitwort(['pack', '--sentences', '--out', 'packs'], folder).code).toBe(0);
    for (const [locale, violation, sentence, inline, ...wanted] of saidElsewhere(
      path.join(folder, 'packs'),
    ))
      expect([locale, violation, sentence, inline]).toEqual([locale, violation, ...wanted]);
    const vectors = JSON.parse(
      readFileSync(path.join(folder, 'packs/vectors.json'), 'utf8'),
    ) as Vectors;
    for (const [locale, { bodies }] of Object.entries(vectors.locales))
      for (const { form, violations, bodies: byShape } of bodies)
        for (const [name, told] of Object.entries(byShape))
          expect([
            name,
            packed.render({ form, violations }, { locale, shape: name, audience: 'client' }).body,
          ]).toEqual([name, told]);
  }
}, 300_000);
