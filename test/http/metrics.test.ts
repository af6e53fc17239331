import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { copyOf, zeitwort } from '../support/program.js';
import { serve, until, type Serving } from '../support/server.js';

const TRACE = '4bf92f3577b34da6a3ce929d0e0e4736';
const folder = copyOf('small', {
  'zeitwort.yaml':
    'locales: [en, de]\nbody: { shape: ours }\nshapes:\n  ours:\n    body: { trace: "<trace-id>", request: "<request-id>", texts: { each: violation, node: "<text>" } }\n',
});
let serving: Serving;
beforeAll(async () => {
  serving = await serve(folder);
});
afterAll(async () => {
  await serving.stop();
});

const post = (at: string, body: unknown, headers: Record<string, string> = {}): Promise<Response> =>
  fetch(serving.url + at, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { 'content-type': 'application/json', ...headers },
  });
const metrics = async (): Promise<string> =>
  (await fetch(`${serving.url}/zeitwort/metrics`)).text();

/**
 * OpenMetrics 1.0.0 as its grammar has it: descriptors before samples, each family once, a
 * counter's samples end in _total, # EOF last.
 */
function families(text: string): Map<string, Map<string, number>> {
  const all = new Map<string, Map<string, number>>();
  let name = '';
  let type = '';
  const lines = text.split('\n');
  expect(lines.slice(-2)).toEqual(['# EOF', '']);
  for (const line of lines.slice(0, -2)) {
    const [, what, family = '', rest = ''] =
      /^# (HELP|TYPE|UNIT) ([a-z_]+) ?(.*)$/.exec(line) ?? [];
    if (what === undefined) {
      const sample =
        /^([a-z_]+)(?:\{((?:[a-z]\w*="(?:[^"\\\n]|\\["\\n])*",?)*)\})? (\d+(?:\.\d+)?(?:e[-+]\d+)?|NaN)$/.exec(
          line,
        );
      expect([line, sample?.[1]?.startsWith(name)]).toEqual([line, true]);
      const ending = { counter: ['_total'], histogram: ['_bucket', '_sum', '_count'], gauge: [''] }[
        type
      ];
      expect(ending).toContain(sample?.[1]?.slice(name.length));
      all.get(name)?.set(line.slice(0, line.lastIndexOf(' ')), Number(sample?.[3]));
      continue;
    }
    if (family !== name) {
      expect(all.has(family)).toBe(false);
      all.set((name = family), new Map());
    }
    if (what === 'TYPE') type = rest;
  }
  return all;
}

describe('/zeitwort/metrics', () => {
  test('counts requests, violations by rule and language, what was told otherwise, and the time; check reads it back', async () => {
    const report = (rule: string, where = 'guests[4].name'): object => ({
      violations: [{ path: where, rule }],
    });
    for (let time = 0; time < 3; time++)
      await post('/zeitwort/render/visitor-pass?locale=de', report('required'));
    await post('/zeitwort/render/visitor-pass?locale=en', report('required'));
    await post('/zeitwort/render/visitor-pass?locale=de', {
      violations: [
        { path: 'guests[7].name', rule: 'banned' },
        { path: 'people[2]', rule: 'required' },
      ],
    });
    await post('/zeitwort/render/nobody', report('required'));
    await post('/zeitwort/problem/not-found', {}, { 'accept-language': 'de' });
    await post('/passes', { visitor: '' }, { 'accept-language': 'de' });
    await fetch(`${serving.url}/nowhere/${Math.random()}`);
    const response = await fetch(`${serving.url}/zeitwort/metrics`);
    expect([response.status, response.headers.get('content-type')]).toEqual([
      200,
      'application/openmetrics-text; version=1.0.0; charset=utf-8',
    ]);
    const text = await response.text();
    const found = families(text);
    const of = (family: string): [string, number][] => [...(found.get(family) ?? [])];
    expect(of('zeitwort_requests')).toEqual(
      expect.arrayContaining([
        ['zeitwort_requests_total{endpoint="POST /zeitwort/render/{form}",status="422"}', 5],
        ['zeitwort_requests_total{endpoint="POST /zeitwort/render/{form}",status="404"}', 1],
        ['zeitwort_requests_total{endpoint="other",status="404"}', 1],
      ]),
    );
    const violation = (field: string, rule: string, language: string): string =>
      `zeitwort_violations_total{form="visitor-pass",field="${field}",in="body",rule="${rule}",language="${language}"}`;
    const violations = Object.fromEntries(of('zeitwort_violations'));
    expect(violations).toMatchObject({
      [violation('guests[*].name', 'required', 'de')]: 3,
      [violation('guests[*].name', 'required', 'en')]: 1,
      [violation('guests[*].name', 'banned', 'de')]: 1,
    });
    expect(of('zeitwort_unknown_rules')).toEqual([
      ['zeitwort_unknown_rules_total{form="visitor-pass"}', 2],
    ]);
    expect(of('zeitwort_fallbacks')).toEqual([
      ['zeitwort_fallbacks_total{form="visitor-pass",language="de",spoken="none"}', 1],
    ]);
    expect(of('zeitwort_problems')).toContainEqual([
      'zeitwort_problems_total{problem="not-found",language="de"}',
      1,
    ]);
    const [, count] = of('zeitwort_render_seconds').at(-1) ?? [];
    expect(count).toBe(8);
    expect(of('zeitwort_texts_current')).toEqual([['zeitwort_texts_current', 1]]);
    // Read back, with a log of another process: each rule once, whatever the language.
    writeFileSync(path.join(folder, 'counts.txt'), text);
    writeFileSync(
      path.join(folder, 'log.jsonl'),
      '{"form":"visitor-pass","path":"guests[0].name","rule":"required","count":5}\n',
    );
    const observed = (
      ...files: string[]
    ): { path: string; rule: string; count: number; declared: boolean }[] =>
      (
        JSON.parse(zeitwort(['check', '--format', 'json', '--observed', ...files], folder).out) as {
          observed: { path: string; rule: string; count: number; declared: boolean }[];
        }
      ).observed;
    const all = observed('counts.txt', 'log.jsonl');
    expect(all[0]).toMatchObject({
      path: 'guests[*].name',
      rule: 'required',
      count: 9,
      declared: true,
    });
    expect(all).toContainEqual(
      expect.objectContaining({ path: 'guests[*].name', rule: 'banned', declared: false }),
    );
    // Tallies of the parts, joined in any order, say the same as one reading of the whole.
    for (const name of ['counts.txt', 'log.jsonl'])
      expect(zeitwort(['check', '--observed', name, '--tally', `${name}.tally`], folder).code).toBe(
        0,
      );
    expect(observed('log.jsonl.tally', 'counts.txt.tally')).toEqual(all);
    writeFileSync(path.join(folder, 'bad.txt'), 'zeitwort_violations_total{form="x"} 1\n');
    expect(zeitwort(['check', '--observed', 'bad.txt'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining(
        'bad.txt:1:1: a sample of zeitwort_violations_total has form, field and rule',
      ),
    });
  });

  test('names what callers invent only so far', async () => {
    for (let at = 0; at < 230; at++)
      await post('/zeitwort/render/visitor-pass', {
        violations: [{ path: 'guests', rule: `made-up-${at}` }],
      });
    const made = [...(families(await metrics()).get('zeitwort_violations') ?? [])].filter(
      ([name]) => name.includes('made-up'),
    );
    expect(made.length).toBeLessThanOrEqual(200);
    expect(await metrics()).toContain('field="other",in="body",rule="other"');
  });

  test('says when the texts are not those of the files, and counts on', async () => {
    const file = path.join(folder, 'messages/en.json');
    writeFileSync(file, '{');
    await until(async () => (await metrics()).includes('zeitwort_texts_current 0'));
    expect(await metrics()).toMatch(
      /endpoint="POST \/zeitwort\/render\/\{form\}",status="404"\} 1/,
    );
  });
});

describe('traceparent', () => {
  const trace = async (header: string): Promise<unknown> => {
    const violations = [{ path: 'visitor', rule: 'required' }];
    const response = await post(
      '/zeitwort/render/visitor-pass',
      { violations },
      { traceparent: header },
    );
    return ((await response.json()) as { trace: unknown }).trace;
  };
  test.each<[string, string | undefined]>([
    [`00-${TRACE}-00f067aa0ba902b7-01`, TRACE],
    [`cc-${TRACE}-00f067aa0ba902b7-01-what-comes-later`, TRACE],
    [`00-${TRACE}-00f067aa0ba902b7-01-more`, undefined],
    [`ff-${TRACE}-00f067aa0ba902b7-01`, undefined],
    [`00-${'0'.repeat(32)}-00f067aa0ba902b7-01`, undefined],
    [`00-${TRACE}-${'0'.repeat(16)}-01`, undefined],
    [`00-${TRACE.toUpperCase()}-00f067aa0ba902b7-01`, undefined],
    ['nonsense', undefined],
  ])('%s', async (header, expected) => {
    expect(await trace(header)).toBe(expected);
    if (expected !== undefined)
      await until(() => serving.log().includes(`"traceId":"${TRACE}","spanId":"00f067aa0ba902b7"`));
  });
});
