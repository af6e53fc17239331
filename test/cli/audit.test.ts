import { describe, expect, test } from '@jest/globals';
import { createWriteStream, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { once } from 'node:events';
import path from 'node:path';
import { leaksIn, rawPathIn } from '../../src/core/audit/leaks.js';
import { auditParts } from '../../src/cli/shared/audit-jobs.js';
import { openWorkspace } from '../../src/library.js';
import type { BrokenRules } from '../../src/render/rendering.js';
import { parts } from '../../src/workspace/auditing/parts.js';
import { copyOf, textOf, zeitwort } from '../support/program.js';

const root = path.join(__dirname, '..', '..');
const folder = copyOf('observatory');
const lines = readFileSync(path.join(folder, 'recordings/last-night.jsonl'), 'utf8')
  .trim()
  .split('\n');
const records = lines.map(
  (line) =>
    JSON.parse(line) as {
      request: string;
      status: number;
      headers: Record<string, string>;
      body: unknown;
      sent?: unknown;
    },
);

interface Result {
  summary: { responses: number; deviating: number; endpoints: number };
  endpoints: {
    endpoint: string;
    responses: number;
    deviations: { kind: string; count: number; first: { line?: number; entry?: number } }[];
  }[];
}

function audit(name: string, content: string, ...args: string[]): Result {
  writeFileSync(path.join(folder, name), content);
  return JSON.parse(zeitwort(['audit', name, '--format', 'json', ...args], folder).out) as Result;
}

const kinds = ({ endpoints }: Result): string[] =>
  endpoints.flatMap(({ endpoint, deviations }) =>
    deviations.map(
      ({ kind, first }) => `${endpoint} ${kind} ${String(first.line ?? first.entry ?? '')}`,
    ),
  );

const har = (): string =>
  JSON.stringify({
    log: {
      version: '1.2',
      creator: { name: 'test', version: '1' },
      entries: records.map(({ request, status, headers, body, sent }) => ({
        request: {
          method: request.split(' ')[0],
          url: `https://api.harrowfell.example${request.split(' ')[1] ?? ''}?dryRun=yes#x`,
          headers: [],
          ...(sent === undefined
            ? {}
            : { postData: { mimeType: 'application/json', text: JSON.stringify(sent) } }),
        },
        response: {
          status,
          headers: Object.entries(headers).map(([name, value]) => ({
            name: name.toUpperCase(),
            value,
          })),
          content: {
            mimeType: 'x/y',
            encoding: 'base64',
            text: Buffer.from(typeof body === 'string' ? body : JSON.stringify(body)).toString(
              'base64',
            ),
          },
        },
      })),
    },
  });

const expected = [
  'POST /proposals too-few 3',
  'POST /logs other-status 4',
  'POST /logs other-status 4',
  'POST /logs raw-path 4',
  'POST /logs unknown-text 4',
  'POST /logs leak 5',
  'POST /logs leak 5',
  'POST /logs other-media-type 5',
  'POST /logs other-shape 5',
  'POST /passes leak 6',
  'POST /passes other-media-type 6',
  'POST /passes other-shape 6',
  'POST /passes wrong-language 7',
];

describe('audit', () => {
  test('finds each kind in the shipped recording, by endpoint; the exit code is 1', () => {
    expect(kinds(audit('a.jsonl', lines.join('\n')))).toEqual(expected);
    const { code, out } = zeitwort(['audit', 'recordings/last-night.jsonl'], folder);
    expect(code).toBe(1);
    expect(out).toMatch(
      /^POST \/proposals {2}2 responses\n {2}too-few {2}recordings\/last-night\.jsonl:3\n {4}The body has 1 of the 14 rules/m,
    );
    expect(out).toMatch(/7 responses of 3 endpoints: 5 depart from the contract\n$/);
  });

  test('reads the same from HAR 1.2, with base64 and headers in any case', () => {
    expect(kinds(audit('a.har', har()))).toEqual(expected);
  });

  test('a folder of bodies alone is held against the shape and the texts', () => {
    mkdirSync(path.join(folder, 'bodies'));
    for (const [at, { body }] of records.entries())
      writeFileSync(
        path.join(folder, 'bodies', `${String(at)}.json`),
        typeof body === 'string' ? body : JSON.stringify(body),
      );
    const result = JSON.parse(
      zeitwort(['audit', 'bodies', '--format', 'json'], folder).out,
    ) as Result;
    expect(result.summary).toMatchObject({ responses: 7, deviating: 3 });
  });

  test.each(['problem', 'jsonapi', 'graphql', 'fields', 'list'])(
    'what render writes in the shape %s keeps the contract, in every language',
    (shape) => {
      const workspace = openWorkspace(folder);
      const report = JSON.parse(textOf(folder, 'violations/worse-proposal.json')) as BrokenRules;
      const kept = ['en', 'de', 'pl', 'ar', 'ja'].flatMap((locale) => {
        const types = {
          problem: 'application/problem+json',
          jsonapi: 'application/vnd.api+json',
          graphql: 'application/graphql-response+json',
        } as Record<string, string>;
        const headers = {
          'content-type': types[shape] ?? 'application/json',
          'content-language': locale,
        };
        const violations = workspace.render(report, { shape, locale }).body;
        const problem = workspace.renderProblem('telescope-closed', { shape, locale }).body;
        return [
          {
            request: 'POST /proposals',
            status: 422,
            headers,
            body: JSON.parse(violations) as unknown,
          },
          {
            request: 'POST /proposals',
            status: 409,
            headers,
            body: JSON.parse(problem) as unknown,
          },
        ];
      });
      const result = audit(
        'kept.jsonl',
        kept.map((one) => JSON.stringify(one)).join('\n'),
        '--shape',
        shape,
      );
      expect([kinds(result), result.summary.responses]).toEqual([[], 10]);
      // Another shape is told by its name.
      const other = shape === 'list' ? 'fields' : 'list';
      expect(
        new Set(
          audit(
            'kept.jsonl',
            kept.map((one) => JSON.stringify(one)).join('\n'),
            '--shape',
            other,
          ).endpoints[0]?.deviations.map(({ kind }) => kind),
        ),
      ).toContain('other-shape');
    },
  );

  test('SARIF has a rule for each kind, places and stable fingerprints', () => {
    const { out } = zeitwort(['audit', 'recordings/last-night.jsonl', '--format', 'sarif'], folder);
    const sarif = JSON.parse(out) as {
      runs: { tool: { driver: { rules: { id: string }[] } }; results: Record<string, unknown>[] }[];
    };
    const [run] = sarif.runs;
    expect(run?.results).toHaveLength(expected.length);
    for (const result of run?.results ?? [])
      expect(run?.tool.driver.rules[Number(result.ruleIndex)]?.id).toBe(result.ruleId);
    expect(run?.results[0]).toMatchObject({
      level: 'error',
      locations: [
        {
          physicalLocation: {
            artifactLocation: { uri: 'recordings/last-night.jsonl' },
            region: { startLine: 3 },
          },
        },
      ],
      partialFingerprints: { 'deviation/v1': expect.stringMatching(/^[0-9a-f]{32}$/) },
    });
    expect(
      zeitwort(['audit', 'recordings/last-night.jsonl', '--format', 'sarif'], folder).out,
    ).toBe(out);
  });

  test.each<[string, string, RegExp]>([
    ['x.jsonl', '{"body":{}}\nnonsense', /x\.jsonl:2: this line is not JSON/],
    ['x.jsonl', '{"status":422}', /x\.jsonl:1: a recorded response has a "body"/],
    ['x.har', '{"log":{"entries":[{"a":', /x\.har: invalid JSON: .*is this a whole HAR file\?/],
  ])('%s with %s is refused in one sentence', (name, content, sentence) => {
    writeFileSync(path.join(folder, name), content);
    const { code, err } = zeitwort(['audit', name], folder);
    expect([code, err]).toEqual([2, expect.stringMatching(sentence)]);
    expect(zeitwort(['audit', 'nothing.har'], folder)).toMatchObject({
      code: 2,
      err: 'zeitwort: nothing.har does not exist; check the name.\n',
    });
  });

  test('a large recording is read in bounded memory', async () => {
    const big = path.join(folder, 'big.har');
    const out = createWriteStream(big);
    const whole = JSON.parse(har()) as { log: { entries: unknown[] } };
    const entry = JSON.stringify({
      ...(whole.log.entries[1] as object),
      _padding: 'x'.repeat(50_000),
    });
    out.write('{"log":{"version":"1.2","entries":[');
    for (let at = 0; at < 1000; at++)
      if (!out.write((at > 0 ? ',' : '') + entry)) await once(out, 'drain');
    out.end(']}}');
    await once(out, 'finish');
    const { status, stdout } = spawnSync(
      process.execPath,
      ['--max-old-space-size=48', path.join(root, 'dist/cli.cjs'), 'audit', 'big.har'],
      { cwd: folder, encoding: 'utf8' },
    );
    expect([status, stdout]).toEqual([0, '1000 responses of 1 endpoint: all keep the contract\n']);
  }, 120_000);
});

describe('in parts', () => {
  /** Lines that differ: endpoints, sentences without end, languages, and what departs. */
  const line = (at: number): string => {
    const { request, status, headers, body } = records[at % records.length] ?? {
      request: '',
      status: 0,
      headers: {},
      body: {},
    };
    const told =
      at % 3 > 0 && typeof body === 'object'
        ? { ...body, title: `Night ${at * 7919} is over` }
        : body;
    return JSON.stringify({
      request: at % 11 === 0 ? `GET /logs/${at % 4}` : request,
      status,
      headers,
      body: told,
    });
  };
  const many = Array.from({ length: 3000 }, (_, at) => (at % 97 === 3 ? '' : line(at)));

  test('several processes, and tallies joined in any order, find what one process finds, to the byte', async () => {
    writeFileSync(path.join(folder, 'many.jsonl'), `${many.join('\r\n')}\n`);
    const whole = zeitwort(['audit', 'many.jsonl', '--format', 'json', '--jobs', '1'], folder).out;
    const result = JSON.parse(whole) as { endpoints: { more?: number; deviations: unknown[] }[] };
    const { endpoints } = result;
    expect(Math.max(...endpoints.map(({ more = 0 }) => more))).toBeGreaterThan(50);
    expect(Math.max(...endpoints.map(({ deviations }) => deviations.length))).toBe(200);
    // In parts of a file, as large files are taken apart.
    const cut = parts([path.join(folder, 'many.jsonl')], 300_000);
    expect(cut.length).toBeGreaterThan(3);
    const tally = await auditParts(
      cut,
      3,
      ['--workspace', folder],
      () => undefined,
      path.join(root, 'dist/cli.cjs'),
    );
    const { endpoints: told } = JSON.parse(
      JSON.stringify(tally.data()).replaceAll(`${folder}/`, ''),
    ) as typeof result;
    expect(told.map(({ more, ...one }) => (more === 0 ? one : { ...one, more }))).toEqual(
      result.endpoints,
    );
    // In shards, joined backwards, and in two steps.
    const shards = [0, 1, 2, 3].map((nth) => `shard-${nth}.jsonl`);
    for (const [nth, name] of shards.entries())
      writeFileSync(path.join(folder, name), many.filter((_, at) => at % 4 === nth).join('\n'));
    const tallies = shards.map((name) => {
      expect(zeitwort(['audit', name, '--tally', `${name}.tally`], folder).code).toBe(0);
      return `${name}.tally`;
    });
    const { code, out } = zeitwort(['audit', ...shards], folder);
    expect(code).toBe(1);
    const join = (...files: string[]): string =>
      zeitwort(['audit', '--join', ...files], folder).out;
    expect(join(...tallies.toReversed())).toBe(out);
    zeitwort(['audit', '--join', ...tallies.slice(1, 3), '--tally', 'two.tally'], folder);
    expect(join(tallies[3] ?? '', 'two.tally', tallies[0] ?? '')).toBe(out);
  });

  test('what cannot be read is told with its line in the whole file; what is not a tally is refused', async () => {
    writeFileSync(
      path.join(folder, 'bad.jsonl'),
      [...many.slice(0, 2000), 'nonsense', ...many.slice(2000)].join('\n'),
    );
    const cut = parts([path.join(folder, 'bad.jsonl')], 300_000);
    await expect(
      auditParts(cut, 2, ['--workspace', folder], () => undefined, path.join(root, 'dist/cli.cjs')),
    ).rejects.toThrow(/bad\.jsonl:2001: this line is not JSON/);
    writeFileSync(path.join(folder, 'no.tally'), '{"tally":2}');
    writeFileSync(
      path.join(folder, 'ours.tally'),
      '{"tally":1,"shape":"problem","responses":0,"deviating":0,"endpoints":[]}',
    );
    const refused = (...args: string[]): string => {
      const { code, err } = zeitwort(['audit', ...args], folder);
      expect([code, err.trim().split('\n').length]).toEqual([2, 1]);
      return err;
    };
    expect(refused('--join', 'no.tally')).toContain('not a tally of this version');
    expect(refused('--join', 'many.jsonl')).toContain('this is not a tally; --join reads what');
    expect(refused('--join', 'ours.tally', '--shape', 'list')).toContain(
      'of the shape problem, not of list',
    );
    expect(refused('--join', 'ours.tally', '--jobs', '2')).toContain('leave --jobs out');
    expect(refused('many.jsonl', '--part', '5-3')).toContain('not a range');
  });
});

describe('what is internal, and raw paths', () => {
  test.each<[string, string[]]>([
    ['TypeError\n    at save (/srv/app/x.js:4:1)', ['a stack trace', 'a file of the server']],
    ['Traceback (most recent call last)', ['a stack trace']],
    ['org.example.NightException: no', ['a class']],
    ['SELECT a FROM nights WHERE b', ['a query']],
    ['cannot open C:\\app\\data.json', ['a file of the server']],
    [
      'Please select a night from the list. See /proposals/41 at 21:30:00Z, or name@domain.example.',
      [],
    ],
    ['Target 3, exposure 1: at most 3,600 seconds. Update your proposal.', []],
  ])('%j', (text, found) => {
    expect(leaksIn(text).map(({ what }) => what)).toEqual(found);
  });

  test.each<[string, string | undefined]>([
    ['targets.2.name is required', 'targets.2.name'],
    ['The field targets[2].exposures[0] is wrong', 'targets[2].exposures[0]'],
    ['see /targets/2/name', '/targets/2/name'],
    [
      'Target 3, exposure 1: at most 3.600 seconds, see name@domain.example or 2001:db8::7.',
      undefined,
    ],
    ['Written like 05:35:17, e.g. 2027A or https://domain.example/page', undefined],
  ])('%j', (text, path2) => {
    expect(rawPathIn(text)).toBe(path2);
  });
});
