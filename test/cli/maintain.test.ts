import { describe, expect, test } from '@jest/globals';
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, renameSync, symlinkSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { copyOf, folderWith, keptOf, program, textOf, zeitwort } from '../support/program.js';
import { git } from '../support/git.js';
import { ICU_OF_PYTHON, testWith } from '../support/tools.js';

const root = path.join(__dirname, '..', '..');

describe('types', () => {
  const folder = copyOf('observatory');
  const modules = path.join(folder, 'node_modules');
  mkdirSync(path.join(modules, '@types'), { recursive: true });
  // Both packages as they are published, beside the frameworks.
  for (const [name, from] of [
    ['zeitwort', root],
    ['zeitwort-runtime', path.join(root, 'dist/runtime')],
  ] as const) {
    const { stdout } = spawnSync('npm', ['pack', '--json', '--pack-destination', modules], {
      cwd: from,
      encoding: 'utf8',
    });
    const [{ filename = '' } = {}] = JSON.parse(stdout) as { filename?: string }[];
    spawnSync('tar', ['xzf', filename, '--one-top-level', '--transform=s,^package,,'], {
      cwd: modules,
    });
    renameSync(path.join(modules, filename.replace(/\.tgz$/, '')), path.join(modules, name));
  }
  for (const name of ['fastify', '@types/node', '@types/express'])
    symlinkSync(path.join(root, 'node_modules', name), path.join(modules, name));
  const settings = path.join(folder, 'zeitwort.yaml');
  writeFileSync(
    settings,
    readFileSync(settings, 'utf8').replace('status: 409', 'status: 409, params: { until: Monday }'),
  );
  zeitwort(['types'], folder);
  zeitwort(['pack', '--module'], folder);

  function compile(code: string): string[] {
    writeFileSync(path.join(folder, 'use.ts'), code);
    const tsc = path.join(root, 'node_modules/typescript/bin/tsc');
    const { stdout } = spawnSync(
      process.execPath,
      [
        tsc,
        '--noEmit',
        '--strict',
        '--module',
        'nodenext',
        '--target',
        'es2022',
        '--skipLibCheck',
        'use.ts',
        'zeitwort.d.ts',
      ],
      { cwd: folder, encoding: 'utf8' },
    );
    return stdout.split('\n').filter((line) => /^use\.ts\(/.test(line));
  }

  const HEAD = `import type { Locale, ProblemName, FieldPatterns } from './zeitwort.js';
import { violation } from 'zeitwort';
import { openPack, violation as broken } from 'zeitwort-runtime';
import { fastifyAnswers } from 'zeitwort-runtime/fastify';
import { expressAnswers } from 'zeitwort-runtime/express';
import { fetchAnswers } from 'zeitwort-runtime/fetch';
import fastify, { type FastifyRequest } from 'fastify';
import type { Request as ExpressRequest } from 'express';
import de from './packs/de.mjs';
const P = 'observing-proposal';
const renderer = openPack(de);
const violations = [violation(P, 'title', 'required')];
`;

  test('what is there compiles', () => {
    const good = `${HEAD}
export const all = [
  violation(P, 'title', 'required'),
  violation(P, 'title', 'maxLength', { value: 'x', params: { max: 3 } }),
  violation(P, 'targets[2].magnitude', 'maximum', { as: 'too-faint', value: 23 }),
  violation(P, 'targets[0].exposures', 'fits-the-night', { params: { hours: 7 } }),
];
export const locale: Locale = 'de';
export const problem: ProblemName = 'telescope-closed';
export const pattern: FieldPatterns['observing-proposal'] = 'targets[*].name';
export const answer = renderer.render({ form: P, violations: [broken(P, 'dryRun', 'enum', { in: 'query' })] });
export const gone = renderer.renderProblem('gone');
export const late = renderer.renderProblem('too-many-requests', { params: { seconds: 3 } });
export const closed = renderer.renderProblem('telescope-closed', { params: { until: 'Monday' }, form: 'night-log' });
const own = fastifyAnswers(renderer, {
  problem: (_, request: FastifyRequest) => (request.ip === '' ? 'gone' : { problem: 'telescope-closed', params: { until: 'x' } }),
  read: (error, request) => (request.hostname === '' ? { form: P, violations } : undefined),
});
const app = fastify({ frameworkErrors: own.failure });
app.setErrorHandler(own.failure);
app.setNotFoundHandler(own.noRoute);
export const express = expressAnswers(renderer, { locale: (request: ExpressRequest) => request.get('x-lang') });
export const edge: Response = fetchAnswers(renderer, { instance: (request) => request.url }).noRoute(new Request('x:'));`;
    expect(compile(good)).toEqual([]);
  });

  test('each mistake fails, on its own line', () => {
    const mistakes = [
      `violation('observing-propsal', 'title', 'required');`,
      `violation(P, 'titel', 'required');`,
      `violation(P, 'title', 'requird');`,
      `violation(P, 'targets.2.name', 'required');`,
      `violation(P, 'targets[0].exposures', 'fits-the-night');`,
      `violation(P, 'targets[0].exposures', 'fits-the-night', { params: { hours: 'x' } });`,
      `violation(P, 'targets[0].exposures', 'fits-the-night', { params: { hour: 2 } });`,
      `violation(P, 'targets[0].magnitude', 'maximum', { as: 'too-dark' });`,
      `broken(P, 'dryRun', 'enum');`,
      `broken(P, 'dryRun', 'enum', { in: 'header' });`,
      `renderer.render({ form: 'observing-propsal', violations });`,
      `renderer.render({ form: P, violation: violations });`,
      `renderer.renderProblem('gonne');`,
      `renderer.renderProblem('telescope-closed', { params: { untill: 'x' } });`,
      `renderer.renderProblem('telescope-closed', { params: { until: 3 } });`,
      `renderer.renderProblem('too-many-requests', { params: { seconds: 'x' } });`,
      `renderer.form('visitor-pas');`,
      `openPack({ pack: 1 });`,
      `openPack(de, { audience: 'everyone' });`,
      `fastifyAnswers(renderer, { problem: () => 'telescope-close' });`,
      `fastifyAnswers(renderer, { problem: () => ({ problem: 'telescope-closed', params: { till: 'x' } }) });`,
      `fastifyAnswers(renderer, { read: () => ({ form: 'visitors', violations }) });`,
      `fastifyAnswers(renderer, { read: (_, request: FastifyRequest) => request.nothing });`,
      `expressAnswers(renderer, { locale: (request: ExpressRequest) => request.nothing });`,
      `export const locale: Locale = 'fi';`,
      `export const pattern: FieldPatterns['night-log'] = 'events[*].texts';`,
    ];
    const first = HEAD.split('\n').length;
    const lines = compile(HEAD + mistakes.join('\n')).map((line) =>
      Number(/\((\d+),/.exec(line)?.[1]),
    );
    expect(mistakes.filter((_, at) => !lines.includes(first + at))).toEqual([]);
    expect(Math.max(...lines)).toBeLessThan(first + mistakes.length);
  });

  test('are the same each time; --check tells when they are out of date; constants are code', () => {
    expect(zeitwort(['types', '--check'], folder)).toMatchObject({
      code: 0,
      out: 'zeitwort.d.ts is up to date\n',
    });
    const sheet = path.join(folder, 'rules/house.yaml');
    const before = readFileSync(sheet, 'utf8');
    writeFileSync(sheet, before.replace('guests:', 'visitors:'));
    expect(zeitwort(['types', '--check'], folder)).toMatchObject({
      code: 1,
      out: expect.stringContaining('out of date'),
    });
    writeFileSync(sheet, before);
    expect(zeitwort(['types', '--constants'], folder).code).toBe(2);
    zeitwort(['types', '--constants', '--out', 'names.ts'], folder);
    expect(
      compile(
        `import { FORMS, LOCALES } from './names.js';\nexport const a: 'required' | 'type' = FORMS['visitor-pass'].visitor[1];\nexport const b: 'pl' = LOCALES[2];`,
      ),
    ).toEqual([]);
  });
});

describe('packs', () => {
  const folder = copyOf('observatory');

  testWith(ICU_OF_PYTHON)('another runtime reads one with an ICU of its own', () => {
    zeitwort(['pack'], folder);
    const script = path.join(root, 'docs/guide/examples/read_pack.py');
    const say = (locale: string, ...args: string[]): string => {
      const { stdout, stderr } = spawnSync(
        '/usr/bin/python3',
        [script, `packs/${locale}.json`, 'observing-proposal', ...args],
        {
          cwd: folder,
          encoding: 'utf8',
        },
      );
      return stdout.trim() || stderr;
    };
    expect(say('pl', 'title', 'maxLength', 'subject_start=Tytuł', 'max=120')).toBe(
      'Tytuł: wartość może mieć najwyżej 120 znaków.',
    );
    expect(
      say('pl', 'targets[*].exposures', 'fits-the-night', 'place_start=Cel 3', 'hours=2'),
    ).toBe('Cel 3: ekspozycje trwają 2 godziny, czyli dłużej niż noc.');
    expect(say('de', 'targets[*].exposures', 'fits-the-night', 'place=Ziel 3', 'hours=1')).toBe(
      'Die Aufnahmen für Ziel 3 dauern 1 Stunde und damit länger als eine Nacht.',
    );
  });

  test('as modules, holding what some forms need; the library takes what they export', () => {
    zeitwort(['pack', '--module', '--form', 'visitor-pass', '--out', 'modules'], folder);
    const code = `import { openPack } from 'zeitwort';
      import de from ${JSON.stringify(path.join(folder, 'modules/de.mjs'))};
      const { body } = openPack(de).render({ form: 'visitor-pass', violations: [{ path: 'guests', rule: 'maximum', value: 9 }] });
      console.log(Object.keys(de.forms).join(), Object.keys(de.messages).join(), JSON.parse(body).errors[0].detail);
      try { openPack({ ...de, locale: 'en' }) } catch (error) { console.log(error.message) }`;
    const { stdout, stderr } = spawnSync(process.execPath, ['--input-type=module', '-e', code], {
      cwd: root,
      encoding: 'utf8',
    });
    expect(stderr).toBe('');
    const [said, refused] = stdout.trim().split('\n');
    expect(said).toMatch(
      /^visitor-pass type,required,format,minimum,maximum Mehr als 5 Gäste|^visitor-pass \S+ .+5/,
    );
    expect(said).not.toContain('maxLength');
    expect(refused).toContain('this pack was changed after it was made');
    expect(
      zeitwort(
        ['pack', '--module', '--form', 'visitor-pass', '--out', 'modules', '--check'],
        folder,
      ).code,
    ).toBe(0);
  });
});

describe('diff', () => {
  const folder = copyOf('observatory');
  git(folder, 'init', '-q');
  git(folder, 'add', '.');
  git(folder, 'commit', '-qm', 'x');

  test('says nothing of nothing', () => {
    expect(zeitwort(['diff', '--fail'], folder)).toEqual({
      code: 0,
      out: 'Nothing changed.\n',
      err: '',
    });
  });

  test('words, arguments, what became stale, and what it means to clients', () => {
    zeitwort(
      [
        'set',
        '--locale',
        'en',
        '--rule',
        'too-faint',
        '{place_start} is far too faint: {label} must be {max} or less, not {value}.',
      ],
      folder,
    );
    zeitwort(['unset', '--locale', 'ja', '--field', 'nights', '--label'], folder);
    const { code, out } = zeitwort(['diff', '--fail'], folder);
    expect(code).toBe(1);
    expect(out).toMatch(
      /^too-faint {2}en {2}changed\n {2}\{place_start\} is \{\+far \+\}too faint/m,
    );
    expect(out).toContain('  now asks for {value}\n');
    expect(out).toMatch(/^nights label {2}ja {2}removed\n {2}- /m);
    expect(out).toMatch(
      /Made stale\n {2}too-faint {2}ar\n {2}too-faint {2}de\n {2}too-faint {2}ja\n {2}too-faint {2}pl\n/,
    );
    expect(out).toMatch(/Clients: texts read differently, no code and no field changed\.\n$/);
    zeitwort(['rename', 'rule', 'too-faint', 'beyond-reach'], folder);
    git(folder, 'commit', '-qam', 'y');
    const json = JSON.parse(
      zeitwort(['diff', 'HEAD~1', 'HEAD', '--format', 'json'], folder).out,
    ) as {
      verdict: string;
      codes: object[];
    };
    expect(json.verdict).toBe('breaking');
    expect(json.codes).toEqual([
      { form: 'observing-proposal', code: 'too-faint', change: 'removed' },
      { form: 'observing-proposal', code: 'beyond-reach', change: 'added' },
    ]);
    expect(zeitwort(['diff', 'HEAD~1', '--format', 'markdown'], folder).out).toMatch(
      /^\*\*Clients break: [^]+\n\| nights label \| ja \| removed \| ~~/,
    );
  });

  test('two folders; a revision that is none', () => {
    expect(zeitwort(['diff', copyOf('small'), copyOf('small')], folder).out).toBe(
      'Nothing changed.\n',
    );
    expect(zeitwort(['diff', 'nowhere'], folder)).toMatchObject({
      code: 2,
      err: expect.stringMatching(/^zeitwort: git cannot tell what nowhere holds/),
    });
  });
});

describe('pseudo-locales', () => {
  const folder = copyOf('observatory');
  const say = (locale: string): string[] => {
    const report = {
      form: 'visitor-pass',
      violations: [{ path: 'guests', rule: 'maximum', value: 9 }],
    };
    const { out } = zeitwort(['render', '-', '--locale', locale], folder, JSON.stringify(report));
    const body = JSON.parse(out) as { title: string; errors: { detail: string }[] };
    return [body.title, ...body.errors.map(({ detail }) => detail)];
  };

  test('accented and longer, or mirrored, with the arguments left alone', () => {
    const plain = say('en');
    const [title = '', detail = ''] = say('en-XA');
    expect([title, detail].join(' ')).not.toMatch(/[A-Za-z]/);
    expect(detail).toContain('5');
    expect(detail.length).toBeGreaterThan((plain[1]?.length ?? 0) * 1.2);
    const mirrored = say('ar-XB');
    expect(mirrored.map((text) => text.replace(/[\u202C\u202E\u2066-\u2069]/g, ''))).toEqual(plain);
    expect(mirrored[0]).toMatch(/^\u202E\w+\u202C /);
    expect(zeitwort(['check'], folder).out).not.toContain('en-XA');
  });
});

describe('what production logs', () => {
  test('is held against the rules, most frequent first', () => {
    const log = [
      {
        form: 'visitor-pass',
        violations: [
          { path: 'guests', rule: 'maximum' },
          { path: '/visitor', rule: 'required' },
        ],
      },
      { form: 'visitor-pass', path: 'guests', rule: 'banned', count: 7, at: '2027-02-01' },
      {
        form: 'observing-proposal',
        path: 'targets[4].magnitude',
        rule: 'maximum',
        as: 'too-faint',
        count: 3,
      },
    ];
    const folder = copyOf('observatory', {
      'log.jsonl': log.map((line) => JSON.stringify(line)).join('\n'),
    });
    const { out } = zeitwort(['check', '--observed', 'log.jsonl'], folder);
    expect(out).toMatch(
      /^In production: 12 violations of 4 rules\n.*\n +7 +visitor-pass +guests +banned +– .*\n +3 +observing-proposal +targets\[\*\]\.magnitude +too-faint +own/,
    );
    expect(out).toContain('1 rule that nobody declared: visitor-pass guests banned.');
    const { observed, coverage } = JSON.parse(
      zeitwort(['check', '--observed', 'log.jsonl', '--format', 'json'], folder).out,
    ) as {
      observed: { count: number }[];
      coverage: { rule: string }[];
    };
    expect([observed.map(({ count }) => count), coverage[0]?.rule]).toEqual([
      [7, 3, 1, 1],
      'too-faint',
    ]);
    writeFileSync(path.join(folder, 'log.jsonl'), '{"form":"visitor-pass"}\n');
    expect(zeitwort(['check', '--observed', 'log.jsonl'], folder)).toMatchObject({
      code: 2,
      err: expect.stringMatching(/log\.jsonl:1:1: a line has "form"/),
    });
  });
});

describe('check --watch', () => {
  test('checks again after a save, tells a broken file, and goes on', async () => {
    const folder = copyOf('small');
    const file = path.join(folder, 'messages/en.json');
    const good = readFileSync(file, 'utf8');
    const child = spawn(process.execPath, [program, 'check', '--watch'], {
      cwd: folder,
      env: { ...process.env, NO_COLOR: '1' },
    });
    let said = '';
    child.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
    // What a run says comes by two pipes, and which of them is read first is chance.
    const until = async (...says: RegExp[]): Promise<void> => {
      const isSaid = (): boolean => [...says, /Watching;/].every((regex) => regex.test(said));
      for (let times = 0; times < 500 && !isSaid(); times++)
        await new Promise((resolve) => setTimeout(resolve, 50));
      for (const regex of says) expect(said).toMatch(regex);
      said = '';
    };
    await until(/0 errors, 0 warnings\n/);
    for (let times = 0; times < 3; times++) {
      writeFileSync(file, good.replace('"fields"', '"messages": { "colour": "x" }, "fields"'));
      await until(/uses "colour"[^]*1 warning\n/);
      writeFileSync(file, '{');
      await until(/en\.json:1:2: invalid JSON/);
      writeFileSync(file, good);
      await until(/0 errors, 0 warnings\n/);
    }
    child.kill('SIGINT');
    expect(await new Promise((resolve) => child.on('close', resolve))).toBe(0);
  }, 120_000);
});

describe('the kept result', () => {
  test('is used as long as nothing changed, and never where it was broken or belongs to something else', () => {
    const folder = copyOf('broken');
    const first = zeitwort(['check'], folder);
    const cache = keptOf(folder);
    expect(readFileSync(cache, 'utf8')).toContain('"findings":[{');
    expect(zeitwort(['check'], folder)).toEqual(first);
    // What is kept is believed only whole: a changed byte, and all is worked out anew.
    writeFileSync(cache, readFileSync(cache, 'utf8').replace('wrong-structure', 'wrong-shope'));
    expect(zeitwort(['check'], folder)).toEqual(first);
    writeFileSync(cache, 'half a fi');
    expect(zeitwort(['check'], folder)).toEqual(first);
    expect(zeitwort(['check', '--locale', 'pl'], folder).out).not.toEqual(first.out);
    const file = path.join(folder, 'messages/en.json');
    writeFileSync(file, readFileSync(file, 'utf8').replace('as the  form', 'as the form'));
    expect(zeitwort(['check', '--kind', 'spacing'], folder).out).not.toContain('warning spacing');
    writeFileSync(
      path.join(folder, 'messages/more.json'),
      '{ "locale": "en", "messages": { "odd": "x." } }',
    );
    expect(zeitwort(['check', '--all'], folder).out).toContain('uses "odd"');
  });
});

test('a message for a rule that only the backend may know stays; alternatives of a schema do not contradict each other', () => {
  const either = {
    anyOf: [{ minLength: 30 }, { maxLength: 5 }],
    oneOf: [{ enum: ['a'] }, { type: 'integer' }],
  };
  const both = { minLength: 30, allOf: [{ maxLength: 5 }] };
  const folder = folderWith({
    'zeitwort.yaml': 'locales: [en]\nrules: [rules/*]\n',
    'rules/stock.schema.json': {
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      properties: { a: { title: 'A', ...either }, b: { title: 'B', ...both } },
    },
    'messages/en.json': {
      locale: 'en',
      form: 'stock',
      messages: { 'sold-out': 'It is sold out.' },
    },
  });
  const found = JSON.parse(
    zeitwort(['check', '--format', 'json', '--kind', 'bound-conflict'], folder).out,
  ) as {
    findings: { path: string }[];
  };
  expect(found.findings.map(({ path: at }) => at)).toEqual(['b']);
  zeitwort(['fix'], folder);
  expect(textOf(folder, 'messages/en.json')).toContain('sold-out');
});
