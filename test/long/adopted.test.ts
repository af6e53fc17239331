// A project that takes both packages as they are published: strict TypeScript, rules in Zod alone,
// one sheet that adds.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, symlinkSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { beforeAll, describe, expect, jest, test } from '@jest/globals';
import { folderWith } from '../support/program.js';
import { sampled } from '../support/torture.js';

jest.setTimeout(240_000);

const root = path.join(__dirname, '..', '..');

const SCHEMAS = `import * as z from 'zod';
export const visit = z.strictObject({
  visitor: z.string().min(2).max(40).meta({ title: 'name of the visitor', examples: ['Ilse'] }),
  mail: z.email().meta({ title: 'email address' }),
  badge: z.string().startsWith('VIS-').meta({ title: 'badge number' }),
  guests: z.int().min(0).max(5).meta({ title: 'number of guests' }),
  tours: z.array(z.object({ place: z.enum(['dome', 'archive']).meta({ title: 'place' }) })).min(1).meta({ title: 'tours' }),
}).meta({ id: 'visit' });
`;
const APP = `import express from 'express';
import fastify from 'fastify';
import { readFileSync } from 'node:fs';
import * as z from 'zod';
import { Ajv2020, type SchemaObject } from 'ajv/dist/2020.js';
import * as formats from 'ajv-formats';
import { openWorkspace } from 'zeitwort';
import { openPack, violation, type Pack, type Renderer, type Violation } from 'zeitwort-runtime';
import { expressAnswers } from 'zeitwort-runtime/express';
import { fastifyAnswers } from 'zeitwort-runtime/fastify';
import { fromSchemaErrors } from 'zeitwort-runtime/schema-errors';
import { fromZod } from 'zeitwort-runtime/zod';
import { readReply } from 'zeitwort-runtime/client';
import { visit } from './schemas.js';

const json = (file: string): unknown => JSON.parse(readFileSync(file, 'utf8'));
const pack = (locale: string): Pack => JSON.parse(JSON.parse(/parse\\((".*")\\)/.exec(readFileSync(\`packs/\${locale}.mjs\`, 'utf8'))?.[1] ?? '""') as string) as Pack;
const renderer: Renderer = openPack(pack('en'), pack('de'), pack('pl'));
const form = renderer.form('visit');
const read = (error: unknown, { body: payload }: { readonly body?: unknown }): { form: string; violations: Violation[] } | undefined =>
  error instanceof z.ZodError ? { form: 'visit', violations: fromZod(error, { form, payload, strict: true }) } : undefined;

async function main(): Promise<void> {
  const inExpress = express();
  inExpress.use(express.json());
  inExpress.post('/visits', (request, response) => {
    response.status(201).json(visit.parse(request.body));
  });
  const ofExpress = expressAnswers(renderer, { read });
  inExpress.use(ofExpress.noRoute);
  inExpress.use(ofExpress.failure);
  const server = inExpress.listen(0);
  await new Promise((resolve) => server.once('listening', resolve));
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : 0;

  const inFastify = fastify();
  const ofFastify = fastifyAnswers(renderer, { read });
  inFastify.setNotFoundHandler(ofFastify.noRoute);
  inFastify.setErrorHandler(ofFastify.failure);
  inFastify.post('/visits', (request, reply) => reply.code(201).send(visit.parse(request.body)));
  // Fastify's own validation, by the derived schema, and all errors at once.
  const ajv = new Ajv2020({ allErrors: true, strict: false });
  formats.default.default(ajv as never);
  const schema = json('rules/code/visit.schema.json') as SchemaObject;
  inFastify.setValidatorCompiler(({ schema: one }) => ajv.compile(one as SchemaObject));
  inFastify.post('/checked', { schema: { body: schema }, config: { form: 'visit' } as object }, (_, reply) => reply.code(201).send());
  const url = await inFastify.listen({ port: 0 });

  const workspace = openWorkspace('.');
  const payloads: unknown[] = [{}, { visitor: 'A', mail: 'at', badge: 'x', guests: 7, tours: [{ place: 'roof' }, {}], colour: 1 }, { visitor: null, mail: ' ', badge: 'VIS-1', guests: 1.5, tours: [] }];
  const told: unknown[] = [];
  for (const payload of payloads) {
    const validate = ajv.getSchema('visit') ?? ajv.compile(schema);
    validate(payload);
    for (const language of ['en', 'de', 'pl']) {
      const post = async (to: string): Promise<unknown> => {
        const headers = { 'content-type': 'application/json', 'accept-language': language };
        const response = await fetch(to, { method: 'POST', headers, body: JSON.stringify(payload) });
        return [response.status, response.headers.get('content-language'), await response.json()];
      };
      const told1 = (violations: readonly Violation[]): unknown => {
        const { status, headers, body } = renderer.render({ form: 'visit', violations }, { acceptLanguage: language });
        return [status, headers['content-language'], JSON.parse(body)];
      };
      told.push({
        express: await post(\`http://127.0.0.1:\${port}/visits\`),
        fastify: await post(\`\${url}/visits\`),
        checked: await post(\`\${url}/checked\`),
        native: told1(fromSchemaErrors(validate.errors, { form, payload, strict: true })),
        own: told1(await workspace.violations('visit', { body: payload })),
      });
    }
  }
  const one = violation('visit', 'visitor', 'required');
  const reply = { status: 422, mediaType: 'application/problem+json', text: renderer.render({ form: 'visit', violations: [one] }).body };
  told.push(readReply(reply).kind);
  process.stdout.write(JSON.stringify(told));
  server.close();
  await inFastify.close();
}
void main();
`;
const label = (texts: readonly string[]): object =>
  Object.fromEntries(
    ['visitor', 'mail', 'badge', 'guests', 'tours', 'tours[*]', 'tours[*].place'].map(
      (name, at) => [name, { label: texts[at] }],
    ),
  );
const CATALOGS = {
  'messages/en.json': { locale: 'en', fields: { 'tours[*]': { label: 'tour {tours_number}' } } },
  'messages/de.json': {
    locale: 'de',
    fields: label([
      'Name des Gastes',
      'E-Mail-Adresse',
      'Ausweisnummer',
      'Zahl der Gäste',
      'Führungen',
      'Führung {tours_number}',
      'Ort',
    ]),
  },
  'messages/pl.json': {
    locale: 'pl',
    fields: label([
      'imię gościa',
      'adres e-mail',
      'numer przepustki',
      'liczba gości',
      'zwiedzania',
      'zwiedzanie {tours_number}',
      'miejsce',
    ]),
  },
};

/**
 * A project with both packages out of their tarballs, and with what its own dependencies would
 * bring.
 */
function project(type: 'module' | 'commonjs'): string {
  const folder = folderWith({
    'package.json': { name: 'visits', private: true, type },
    'src/schemas.ts': SCHEMAS,
    'src/app.ts': APP,
    'zeitwort.yaml': 'original: en\nlocales: [en, de, pl]\nrulesFromCode: [dist/schemas.js]\n',
    'rules/visit.yaml':
      'forms: { visit: { adds: true, request: POST /visits, blank: missing, fields: {} } }\n',
    ...CATALOGS,
  });
  for (const from of ['.', 'dist/runtime']) {
    const made = spawnSync('npm', ['pack', '--silent', '--pack-destination', folder], {
      cwd: path.join(root, from),
      encoding: 'utf8',
    });
    const tarball = made.stdout.trim().split('\n').at(-1) ?? '';
    const into = path.join(folder, 'node_modules', tarball.replace(/-\d.*$/, ''));
    mkdirSync(into, { recursive: true });
    spawnSync('tar', ['xzf', tarball, '-C', into, '--strip-components=1'], { cwd: folder });
  }
  for (const name of readdirSync(path.join(root, 'node_modules')))
    if (!name.startsWith('.'))
      symlinkSync(path.join(root, 'node_modules', name), path.join(folder, 'node_modules', name));
  return folder;
}

const run = (folder: string, ...args: string[]): { code: number | null; said: string } => {
  const { status, stdout, stderr } = spawnSync(process.execPath, args, {
    cwd: folder,
    encoding: 'utf8',
    maxBuffer: 64 * 1024 * 1024,
  });
  return { code: status, said: stdout + stderr };
};
const tsc = (folder: string, ...options: string[]): string =>
  run(
    folder,
    'node_modules/typescript/bin/tsc',
    '--strict',
    '--target',
    'es2022',
    '--types',
    'node',
    '--outDir',
    'dist',
    ...options,
    'src/app.ts',
  ).said;

describe.each(sampled(['module', 'commonjs'] as const))('a project of the type %s', (type) => {
  let folder = '';
  beforeAll(() => {
    folder = project(type);
  });

  test('compiles with the libraries checked, however modules are resolved', () => {
    // Another package's own declarations are none of ours: what is checked are ours, from a file
    // that asks for nothing else.
    writeFileSync(
      path.join(folder, 'src/ours.ts'),
      `import { openWorkspace } from 'zeitwort';\nimport { readReply } from 'zeitwort/client';\nimport { run } from 'zeitwort/command';\nimport { openPack, violation } from 'zeitwort-runtime';\n` +
        ['zod', 'schema-errors', 'schema-output', 'reader', 'node', 'express', 'fastify', 'client']
          .map((name, at) => `import * as m${at} from 'zeitwort-runtime/${name}';\nvoid m${at};\n`)
          .join('') +
        'const code: Promise<number> = run(["check"], { cwd: ".", stdin: "" });\n' +
        'void [openWorkspace, readReply, openPack, violation, code];\n',
    );
    const ways = [
      ['node16', 'node16'],
      ['nodenext', 'nodenext'],
      ['esnext', 'bundler'],
    ] as const;
    // CommonJS has one way of its own; the first two are one and the same but for what is new in
    // the second.
    const tried = type === 'commonjs' ? ways.slice(0, 1) : sampled(ways);
    for (const [module, resolution] of tried) {
      const options = [
        '--strict',
        '--skipLibCheck',
        'false',
        '--skipDefaultLibCheck',
        '--noEmit',
        '--target',
        'es2022',
        '--types',
        'node',
        '--module',
        module,
        '--moduleResolution',
        resolution,
      ];
      expect(run(folder, 'node_modules/typescript/bin/tsc', ...options, 'src/ours.ts').said).toBe(
        '',
      );
    }
    expect(tsc(folder, '--module', 'nodenext', '--skipLibCheck')).toBe('');
  });

  test('is green with Zod and one sheet, and answers alike whoever found the mistake, in three languages', () => {
    const zeitwort = (...args: string[]): { code: number | null; said: string } =>
      run(folder, 'node_modules/zeitwort/dist/cli.cjs', ...args);
    expect(zeitwort('derive')).toEqual({
      code: 0,
      said: 'Wrote rules/code/visit.schema.json from dist/schemas.js, export visit\n',
    });
    const { code, said } = zeitwort('check');
    expect([code, said]).toEqual([
      0,
      expect.stringMatching(/100 % covered, 0 errors, 0 warnings\n$/),
    ]);
    expect(zeitwort('pack', '--module').code).toBe(0);
    const answers = JSON.parse(run(folder, 'dist/app.js').said) as (
      Record<string, unknown> | string
    )[];
    expect(answers.pop()).toBe('invalid');
    expect(answers).toHaveLength(9);
    for (const answer of answers as Record<string, unknown>[]) {
      for (const way of ['express', 'fastify', 'checked', 'native'])
        expect([way, answer[way]]).toEqual([way, answer.own]);
      expect(answer.own).toEqual([
        422,
        expect.any(String),
        expect.objectContaining({ errors: expect.any(Array) }),
      ]);
    }
    expect(JSON.stringify(answers[5])).toContain('(zwiedzanie 2)');
  });
});

test('what is installed with the program is nothing, and the tarball is small', () => {
  const { stdout } = spawnSync('npm', ['pack', '--dry-run', '--json'], {
    cwd: root,
    encoding: 'utf8',
  });
  const [{ size, unpackedSize, files }] = JSON.parse(stdout) as [
    { size: number; unpackedSize: number; files: { path: string }[] },
  ];
  expect(size).toBeLessThan(1_900_000);
  expect(unpackedSize).toBeLessThan(15_000_000);
  expect(files.filter(({ path: file }) => /\.(?:cache|png)$|^dist\/runtime\//.test(file))).toEqual(
    [],
  );
});
