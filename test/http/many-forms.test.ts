import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { parseLocale } from '../../src/core/locale/tag.js';
import { Workspace } from '../../src/workspace/reading/workspace.js';
import { folderWith, zeitwort } from '../support/program.js';
import { serve, type Serving } from '../support/server.js';

/** More than are compiled before the service is ready. */
const NIGHTS = 150;

const LOCALES = ['en', 'en-XA'].map(parseLocale);

const fields = Object.fromEntries(
  Array.from({ length: 15 }, (_, at) => [
    `mirror${at}`,
    { type: 'object', properties: { seen: { type: 'string', pattern: '^[A-Z]+$' } } },
  ]),
);
const night = (at: number): object => ({
  type: 'object',
  required: ['guide'],
  properties: {
    guide: { type: 'string', title: `guide of night ${at}` },
    // The reference leads to another file, and there to no place that schemas are looked for at.
    berth: { $ref: 'parts.json#/x-house/berth' },
    ...fields,
  },
});
const operation = (at: number): object => ({
  post: {
    operationId: `night-${at}`,
    requestBody: { content: { 'application/json': { schema: night(at) } } },
    responses: {},
  },
});

const folder = folderWith({
  'zeitwort.yaml':
    'original: en\nlocales: [en, en-XA]\ntexts: [messages/*.json]\nrules: [api/api.json]\n',
  'messages/en.json': { locale: 'en' },
  'api/api.json': {
    openapi: '3.1.0',
    info: { title: 'Nights', version: '1' },
    paths: Object.fromEntries(
      Array.from({ length: NIGHTS }, (_, at) => [`/nights-${at}`, operation(at)]),
    ),
  },
  'api/parts.json': {
    'x-house': { berth: { $ref: 'more.json#/x-house/berth' } },
  },
  'api/more.json': { 'x-house': { berth: { type: 'integer', title: 'bed', minimum: 3 } } },
});

let serving: Serving;
beforeAll(async () => {
  serving = await serve(folder, '--log-level', 'error');
});
afterAll(async () => {
  await serving.stop();
});

const sentences = (at: number): string[] => [
  `Guide of night ${at} must be given.`,
  'Bed must be at least 3.',
];

test.each([0, NIGHTS - 1])('the service validates night %d at once', async (at) => {
  const answer = await fetch(`${serving.url}/nights-${at}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: '{"berth":1}',
  });
  const { errors } = (await answer.json()) as { errors: { detail: string }[] };
  expect(errors.map(({ detail }) => detail)).toEqual(sentences(at));
  expect(serving.log()).toBe('');
});

test.each([0, NIGHTS - 1])('a command says the names of night %d alone', (at) => {
  const tried = zeitwort(['try', '--form', `night-${at}`, '-'], folder, '{"berth":1}');
  for (const sentence of sentences(at)) expect(tried.out).toContain(sentence);
  const { out } = zeitwort(['why', `night-${at}`, 'guide', 'required'], folder);
  expect(out).toContain(`Guide of night ${at} must be given.`);
});

test('names that are read with their form are those that are read with all forms', () => {
  const all = Workspace.open(folder);
  const few = Workspace.open(folder).forAnswers();
  // The columns are read before the forms are.
  for (const locale of LOCALES) few.table.column(locale);
  for (const id of ['night-1', 'night-7', 'night-1']) {
    few.form(id);
    for (const locale of LOCALES)
      for (const path of [['guide'], ['berth']]) {
        const [one, other] = [all, few].map(({ texts }) => texts.label(id, path, locale)?.text);
        expect(one).toBe(other);
        expect(one).toBeDefined();
      }
  }
  expect(few.table.purposes.known('title', 'night-2')).toBeUndefined();
});
