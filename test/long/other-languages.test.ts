// The readers of sentences in other languages, with ICU and without, held against what the program
// says: to the byte.
import { spawn, spawnSync } from 'node:child_process';
import { readdirSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from '@jest/globals';
import { copyOf, folderWith, jsonOf, textOf, zeitwort } from '../support/program.js';
import { assembly, LANGUAGES, store, styled } from '../support/hard-workspaces.js';
import { randomWorkspace } from '../support/random-workspaces.js';
import { IS_LONG, randomFrom, ROUNDS, sampled, SEED } from '../support/torture.js';
import {
  GO,
  ICU_OF_JAVA,
  ICU_OF_PYTHON,
  JAVA,
  MYPY,
  PERL,
  PHP,
  RUBY,
  testWith,
} from '../support/tools.js';

const examples = path.join(__dirname, '..', '..', 'examples');
function packed(folder: string, slot?: string): string {
  const how = slot === undefined ? [] : ['--placeholder', slot];
  for (const what of ['--test-vectors', '--sentences'])
    expect(zeitwort(['pack', what, ...how, '--out', 'packs'], folder)).toMatchObject({ code: 0 });
  return path.join(folder, 'packs');
}

/** Packs with ICU messages, and their vectors. */
function withICU(folder: string): string {
  const packs = packed(folder);
  const command = ['pack', '--sentences', '--format', 'icu', '--out', 'packs'];
  expect(zeitwort(command, folder)).toMatchObject({ code: 0, err: '' });
  return packs;
}

const run = (command: string, args: string[]): string => {
  const { stdout, stderr } = spawnSync(command, args, {
    encoding: 'utf8',
    env: { ...process.env, PYTHONDONTWRITEBYTECODE: '1', TZ: 'America/Lima' },
  });
  return stderr + stdout;
};

let compiled: string | undefined;
const sources = (): string[] =>
  readdirSync(path.join(examples, 'java'))
    .filter((file) => file.endsWith('.java'))
    .map((file) => path.join(examples, 'java', file));
const ICU4J = '/usr/share/java/icu4j.jar';
/** Compiles the reader in Java once, and returns the folder of its classes. */
const classes = (): string => {
  if (compiled !== undefined) return compiled;
  compiled = folderWith({});
  const args = ['-encoding', 'UTF-8', '-Xlint:all', '-cp', ICU4J, '-d', compiled, ...sources()];
  expect(run('javac', args)).toBe('');
  return compiled;
};
// PyICU comes with Debian's own Python.
const READERS: Readonly<Record<string, (packs: string, ...more: string[]) => string>> = {
  python: (packs, ...more) =>
    run('/usr/bin/python3', [path.join(examples, 'python', 'check.py'), packs, ...more]),
  php: (packs, ...more) => run('php', [path.join(examples, 'php', 'check.php'), packs, ...more]),
  java: (packs, ...more) => run('java', ['-cp', `${classes()}:${ICU4J}`, 'Check', packs, ...more]),
};
const builtGo = new Map<string, string>();
/** A program in Go, compiled once. */
const compiledGo = (name: string): string => {
  const known = builtGo.get(name) ?? path.join(folderWith({}), name);
  if (!builtGo.has(name)) {
    const { status, stderr } = spawnSync('go', ['build', '-o', known, `./${name}`], {
      cwd: path.join(examples, 'go'),
      encoding: 'utf8',
    });
    expect([stderr, status]).toEqual(['', 0]);
    builtGo.set(name, known);
  }
  return known;
};
const go = (packs: string): string => run(compiledGo('check'), [packs]);
const ruby = (packs: string): string =>
  run('ruby', ['-w', path.join(examples, 'ruby', 'check.rb'), packs]);
/** Written from the specification alone, and so a proof of that. */
const perl = (packs: string): string =>
  run('perl', [path.join(examples, 'perl', 'check.pl'), packs]);
const READ = [ICU_OF_PYTHON, PHP, JAVA, ICU_OF_JAVA, PERL, GO, RUBY];
const ALIKE = expect.stringMatching(/^\d{2,5} alike, 0 different\n$/) as unknown;

testWith(...READ)(
  'readers in Python, PHP, Java, Go, Ruby and Perl say and answer what the program does, whatever stands around places',
  () => {
    const all = [
      () => packed(copyOf('observatory')),
      () => packed(store(), '%(NAME)s'),
      () => packed(assembly()),
    ];
    for (const packs of sampled(all).map((make) => make()))
      for (const [name, check] of Object.entries({ ...READERS, go, ruby, perl }))
        expect([name, check(packs)]).toEqual([name, ALIKE]);
  },
  120_000,
);

testWith(...READ)(
  'so do they in workspaces of chance',
  () => {
    // Six readers take some ten seconds for a workspace.
    const different: unknown[] = [];
    for (let round = 0; round < Math.ceil(ROUNDS / 3); round += 1) {
      const { folder, slot } = randomWorkspace(randomFrom(SEED + round));
      const packs = packed(folder, slot);
      for (const [name, check] of Object.entries({ ...READERS, go, ruby, perl })) {
        const said = check(packs);
        if (!said.endsWith(' 0 different\n')) different.push([SEED + round, name, folder, said]);
      }
    }
    expect(different).toEqual([]);
  },
  120_000 + 30_000 * ROUNDS,
);

testWith(...READ)(
  'with an ICU they say the same, and what plain sentences leave out',
  () => {
    for (const make of sampled([() => copyOf('observatory'), store, assembly, styled])) {
      const packs = withICU(make());
      for (const [name, check] of Object.entries(READERS))
        expect([name, check(packs, '--icu')]).toEqual([name, ALIKE]);
    }
    const { code, err } = zeitwort(
      ['pack', '--sentences', '--format', 'icu', '--placeholder', '<NAME>'],
      store(),
    );
    expect([code, err]).toEqual([2, expect.stringContaining('--format icu has ICU messages')]);
  },
  120_000,
);

/** Settings of bodies, and shapes of one's own with all kinds of nodes. */
const STYLES = [
  '{ perField: first, inline: true, maxViolations: 3, texts: joined }',
  `{ inline: alone, detail: joined, separator: ' | ', html: { layout: paragraphs, class: 'a"b', message: { element: code } } }`,
  `{ detail: first, typeBase: 'https://e.example/', prefix: /data, html: { element: section, message: { element: em, class: x } } }`,
];
const OWN_SHAPES = `shapes:
  ours: { body: { e: { each: violation, node: { w: '<field>', p: '<pointer>', t: '<code>: <text>', m: '<members>' } }, c: '<count>', f: '<fields("; ")>', n: null, s: { unless-empty: { a: '<uri>', i: '<instance>' } }, l: { join: ['<title>', '<texts>'] }, d: { each: field, key: '<field>', node: ['<in>', '<texts(" / ")>', '<inlines>', '<codes>'] } } }
  page: { mediaType: text/html, body: '<section><title ><title></title ><ul><li><texts("</li><li>")></li></ul></section>' }
`;

/** Rules that are problems of the whole request, with texts that speak of the rule. */
const becoming = (): string =>
  folderWith({
    'zeitwort.yaml':
      'original: en\nlocales: [en, de]\ntexts: [texts/*.json]\nrules: [rules/*.yaml]\n',
    'rules/visit.yaml': `forms:
  visit:
    fields:
      site: { required: true, external: { known-site: { problem: not-found } }, maxLength: 5 }
      'days[*]': { external: { still-free: { problem: conflict } }, minLength: 2 }
  other:
    fields:
      day: { external: { clash: { problem: conflict } } }
`,
    'texts/en.json': {
      locale: 'en',
      problems: {
        'not-found': { detail: 'We have no {label} {value}.' },
        conflict: { title: '{subject_start} is taken: {value}' },
      },
    },
  });

testWith(...READ)('all answer in every shape, as settings have it', () => {
  const checks = [...Object.values(READERS), go, ruby, perl];
  for (const style of sampled(STYLES)) {
    const folder = store();
    const config = `${textOf(folder, 'zeitwort.yaml')}body: ${style}\n${OWN_SHAPES}`;
    const packs = packed(
      folderWith({
        'zeitwort.yaml': config,
        ...Object.fromEntries(
          ['rules/store.yaml', ...LANGUAGES.map((locale) => `texts/${locale}.json`)].map((file) => [
            file,
            textOf(folder, file),
          ]),
        ),
      }),
    );
    for (const check of checks) expect([style, check(packs)]).toEqual([style, ALIKE]);
  }
  for (const check of checks) expect(check(packed(becoming()))).toEqual(ALIKE);
});

testWith(MYPY)(
  'the package in Python is typed strictly',
  () => {
    const { stdout, stderr } = spawnSync('mypy', ['--cache-dir', '/dev/null'], {
      cwd: path.join(examples, 'python'),
      encoding: 'utf8',
    });
    expect(stderr + stdout).toMatch(/^Success: no issues found/);
  },
  120_000,
);

(IS_LONG ? testWith(...READ) : test.skip)(
  'a check of a reader fails where one letter differs',
  () => {
    const folder = store();
    const packs = packed(folder);
    const vectors = textOf(packs, 'vectors.json')
      .replace('"sentence": "Please', '"sentence": "Pleas')
      .replace('must', 'mus');
    const other = folderWith(
      Object.fromEntries(readdirSync(packs).map((file) => [file, textOf(packs, file)])),
    );
    const changed = folderWith({
      ...Object.fromEntries(readdirSync(other).map((file) => [file, textOf(other, file)])),
      'vectors.json': vectors,
    });
    for (const check of [...Object.values(READERS), go, ruby, perl])
      expect(check(changed)).toMatch(/[1-9]\d* different\n$/);
  },
  120_000,
);

test('sentences need cases for less than a tenth, are the same each time, and say what they leave out', () => {
  const folder = copyOf('observatory');
  const { out } = zeitwort(['pack', '--sentences'], folder);
  for (const line of out.trim().split('\n'))
    expect(line).toMatch(/9\d % of \d+ sentences need no case$/);
  expect(zeitwort(['pack', '--sentences', '--check'], folder).code).toBe(0);
  expect(jsonOf(folder, 'packs/de.sentences.json').forms).toMatchObject({
    'observing-proposal': {
      'targets[*].name': { required: expect.stringContaining('{targets_number}') as unknown },
    },
  });
  const small = copyOf('small', {
    'messages/de.json': {
      locale: 'de',
      messages: { format: '{value, number, percent} {value, date}', required: 'Bitte <angeben>.' },
    },
  });
  const told = zeitwort(
    ['pack', '--sentences', '--locale', 'de', '--placeholder', '<NAME>'],
    small,
  );
  expect(told.code).toBe(0);
  expect(told.err).toContain(
    'de: "format" of visitor-pass day needs ICU, and is left out: {value} is written in a style of its own',
  );
  expect(told.err).toContain(
    'de: "required" of visitor-pass visitor needs ICU, and is left out: "<" stands in the text itself',
  );
  expect(zeitwort(['pack', '--sentences', '--placeholder', 'NAME'], small)).toMatchObject({
    code: 2,
    out: '',
  });
});

test('the same stands in properties, PO and CSV, with what a reader has to know', () => {
  const folder = copyOf('observatory');
  for (const as of ['properties', 'po', 'csv']) {
    expect(zeitwort(['pack', '--sentences', '--format', as, '--locale', 'pl'], folder).code).toBe(
      0,
    );
    const text = textOf(folder, `packs/pl.sentences.${as}`).replaceAll('\\ ', ' ');
    for (const key of [
      'observing-proposal|targets[*].name|required',
      '|number|group',
      '|plural|few',
      '|problem|invalid-fields detail|count few',
    ])
      expect(text).toContain(key);
  }
});

/** Starts a backend and asks it. */
async function asked(command: string, args: string[], packs: string): Promise<unknown[]> {
  const child = spawn(command, args, {
    env: { ...process.env, PACKS: packs, PYTHONDONTWRITEBYTECODE: '1' },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  try {
    const port = await new Promise<string>((resolve, reject) => {
      let said = '';
      const hear = (text: Buffer): void => {
        said += text.toString();
        const found = /127\.0\.0\.1:(\d+)/.exec(said)?.[1];
        if (found) resolve(found);
      };
      child.stdout.on('data', hear);
      child.stderr.on('data', hear);
      child.on('exit', () => {
        reject(new Error(said));
      });
    });
    const ask = async (
      body: string | undefined,
      headers: Record<string, string>,
      request: { method?: string } = body === undefined ? {} : { method: 'POST' },
    ): Promise<unknown> => {
      const address = `http://127.0.0.1:${port}/passes`;
      const answer = await fetch(address, {
        ...request,
        headers,
        ...(body === undefined ? {} : { body }),
      });
      const text = await answer.text();
      return [
        answer.status,
        answer.headers.get('content-type'),
        answer.headers.get('content-language'),
        text === '' ? '' : (JSON.parse(text) as unknown),
      ];
    };
    const json = { 'Content-Type': 'application/json', 'Accept-Language': 'pl-PL, de;q=0.5' };
    return [
      await ask('{"visitor":" ","email":"x","guests":7}', json),
      await ask('[]', json),
      await ask('{"visitor":"A","email":"a@b.example","day":"2027-02-30","guests":0}', {
        ...json,
        'Accept-Language': 'ja',
      }),
      await ask('', json),
      await ask('visitor=A', { ...json, 'Content-Type': 'application/x-www-form-urlencoded' }),
      await ask(undefined, json),
      await ask('{"visitor":"A","email":"a@b.example","day":"2027-02-28"}', json),
      await ask(undefined, json, { method: 'HEAD' }),
      await ask(undefined, json, { method: 'OPTIONS' }),
      await ask(`"${'a'.repeat(70_000)}"`, json),
    ];
  } finally {
    child.kill();
  }
}

testWith(...READ)(
  'their backends answer with the same bodies',
  async () => {
    const packs = packed(copyOf('observatory'));
    const port = String(20_000 + (process.pid % 20_000));
    const answers = await Promise.all([
      asked('python3', [path.join(examples, 'python', 'server.py'), packs, '0'], packs),
      asked('java', ['-cp', classes(), 'Server', packs, '0'], packs),
      asked('php', ['-S', `127.0.0.1:${port}`, path.join(examples, 'php', 'server.php')], packs),
      asked(compiledGo('server'), [packs, '0'], packs),
      asked('ruby', [path.join(examples, 'ruby', 'server.rb'), packs, '0'], packs),
    ]);
    const [python] = answers;
    expect(answers).toEqual(answers.map(() => python));
    expect(python).toMatchObject([
      [
        422,
        'application/problem+json',
        'pl',
        {
          errors: [
            { pointer: '#/visitor' },
            { code: 'format' },
            { code: 'required' },
            { code: 'maximum' },
          ],
        },
      ],
      [422, 'application/problem+json', 'pl', { errors: [{ pointer: '#', code: 'type' }] }],
      [422, 'application/problem+json', 'ja', { errors: [{ pointer: '#/day', code: 'format' }] }],
      ...[400, 415, 405].map((status) => [status, 'application/problem+json', 'pl', { status }]),
      [201, 'application/json', null, { pass: 'A' }],
      [405, 'application/problem+json', 'pl', ''],
      ...[405, 413].map((status) => [status, 'application/problem+json', 'pl', { status }]),
    ]);
  },
  60_000,
);
