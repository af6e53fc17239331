import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import path from 'node:path';
import { copyOf, zeitwort } from '../support/program.js';
import { IN_VAIN, raw as rawTo, serve, until, type Serving } from '../support/server.js';

const folder = copyOf('observatory', {
  'rules/plates.yaml': `openapi: 3.1.0
servers: [{ url: 'https://plates.example/{version}/', variables: { version: { default: v2 } } }, { url: / }]
paths:
  /keys/{key}:
    delete:
      operationId: drop-key
      parameters: [{ name: key, in: path, required: true, schema: { type: string, format: password, minLength: 9 } }]
  /plates/{box}:
    get:
      operationId: plates
      parameters:
        - { name: box, in: path, required: true, style: matrix, schema: { type: integer } }
        - { name: ids, in: query, schema: { type: array, items: { type: integer } } }
        - { name: taken, in: query, style: deepObject, schema: { type: object, properties: { from: { type: string, format: date } } } }
    post:
      operationId: new-plate
      requestBody: { required: false, content: { application/json: { schema: { type: object, required: [id] } } } }
`,
});
const read = (file: string): string => readFileSync(path.join(folder, file), 'utf8');
const bad = read('payloads/bad-proposal.json');
const good = read('payloads/good-proposal.json');
let serving: Serving;
beforeAll(async () => {
  serving = await serve(
    folder,
    '--max-body',
    '200000',
    '--request-timeout',
    '1500',
    '--max-headers',
    '4096',
  );
});
afterAll(async () => {
  await serving.stop();
});

const post = (at: string, body: string, headers: Record<string, string> = {}): Promise<Response> =>
  fetch(serving.url + at, {
    method: 'POST',
    body,
    headers: { 'content-type': 'application/json', ...headers },
  });
const json = async (response: Response): Promise<Record<string, unknown>> =>
  (await response.json()) as Record<string, unknown>;

const raw = (text: string, wait = 0): Promise<string> => rawTo(serving.port, text, wait);

describe('the stand-in backend', () => {
  test.each([
    ['de', 'Bitte die Angaben korrigieren'],
    ['pl', 'Proszę poprawić dane'],
    ['ar;q=0.9, fr', 'يلزم تصحيح ما أُرسل'],
  ])('answers a bad proposal in the language of %s, as try does', async (language, title) => {
    const response = await post('/proposals', bad, { 'accept-language': language });
    const locale = language.slice(0, 2);
    expect([response.status, response.headers.get('content-type')]).toEqual([
      422,
      'application/problem+json',
    ]);
    expect([response.headers.get('content-language'), response.headers.get('vary')]).toEqual([
      locale,
      'accept-language',
    ]);
    expect(response.headers.get('request-id')).toMatch(/^[0-9a-f-]{36}$/);
    const body = await json(response);
    expect(typeof body.title === 'string' && body.title.length).toBeGreaterThan(3);
    if (locale !== 'pl') expect(body.title).toBe(title);
    const tried = zeitwort(
      ['try', 'payloads/bad-proposal.json', '--form', 'observing-proposal', '--locale', locale],
      folder,
    );
    expect(body).toEqual(JSON.parse(tried.out));
  });

  test('accepts a good one, without giving back what is secret', async () => {
    const response = await post('/proposals?dryRun=yes', good);
    expect(response.status).toBe(201);
    expect(await json(response)).toMatchObject({ semester: '2027A', passphrase: '•••' });
    expect((await post('/proposals?dryRun=maybe', good)).status).toBe(422);
    expect(serving.log()).not.toMatch(/quiet dome|dryRun/);
  });

  test.each<[string, number, () => Promise<Response>]>([
    ['malformed-body', 400, () => post('/proposals', '{\n"a": [1,}')],
    ['empty-body', 400, () => post('/proposals', '')],
    [
      'malformed-body',
      400,
      () =>
        fetch(`${serving.url}/proposals`, {
          method: 'POST',
          body: Buffer.from([0x22, 0xff, 0x22]),
          headers: { 'content-type': 'application/json' },
        }),
    ],
    [
      'wrong-media-type',
      415,
      () => post('/proposals', 'a=b', { 'content-type': 'application/x-www-form-urlencoded' }),
    ],
    ['wrong-media-type', 415, () => post('/proposals', '{}', { 'content-type': 'json' })],
    ['too-large', 413, () => post('/proposals', JSON.stringify({ title: 'x'.repeat(300_000) }))],
    ['too-large', 413, () => post('/proposals', '['.repeat(90_000) + ']'.repeat(90_000))],
    ['not-found', 404, () => post('/nothing', '{}')],
    ['wrong-method', 405, () => fetch(`${serving.url}/proposals`)],
    ['wrong-encoding', 415, () => post('/proposals', '{}', { 'content-encoding': 'gzip' })],
  ])('%s', async (name, status, ask) => {
    const response = await ask();
    expect([response.status, response.headers.get('content-type')]).toEqual([
      status,
      'application/problem+json',
    ]);
    expect(await json(response)).toMatchObject({
      type: `https://errors.harrowfell.example/${name}`,
      status,
      title: expect.stringMatching(/./),
    });
  });

  // RFC 9112 section 3.2.2
  test('takes absolute targets, whose host goes before the header', async () => {
    const ask = (target: string, host: string): Promise<string> =>
      raw(`GET ${target} HTTP/1.1\r\nHost: ${host}\r\nConnection: close\r\n\r\n`);
    const here = `localhost:${serving.port}`;
    expect(await ask(`http://${here}/?locale=de`, 'elsewhere.example')).toMatch(
      / 200 [^]*content-language: de/,
    );
    expect(await ask(`HTTP://${here}?locale=de`, here)).toMatch(/ 200 [^]*content-language: de/);
    expect(await ask(`http://${here}/nothing`, here)).toMatch(/^HTTP\/1.1 404 /);
    expect(await ask('http://elsewhere.example/', here)).toMatch(/^HTTP\/1.1 403 /);
  });

  test('reads parameters as the document has them written, answers HEAD as GET, and misses no body that may be left out', async () => {
    const told = async (at: string): Promise<unknown> => {
      const { errors = [] } = await json(await fetch(serving.url + at));
      return (errors as Record<string, string>[]).map(({ parameter, detail }) => [
        parameter,
        detail,
      ]);
    };
    expect(await told('/plates/;box=2?ids=1&ids=20&taken[from]=2027-03-09')).toEqual([]);
    expect(await told('/plates/;box=a?ids=1&ids=b&taken%5Bfrom%5D=soon')).toEqual([
      ['box', 'Box must be a whole number.'],
      ['ids.1', 'Ids 2 must be a whole number.'],
      ['taken.from', 'From must be a date in the form “2027-03-09”.'],
    ]);
    const head = await fetch(`${serving.url}/plates/;box=a`, { method: 'HEAD' });
    expect([head.status, head.headers.get('content-type'), await head.text()]).toEqual([
      422,
      'application/problem+json',
      '',
    ]);
    // Where the document's servers have them too; what is secret in the path stays so.
    expect(await told('/v2/plates/;box=a')).toEqual([['box', 'Box must be a whole number.']]);
    expect((await fetch(`${serving.url}/v2/keys/hushed`, { method: 'DELETE' })).status).toBe(422);
    expect((await fetch(`${serving.url}/v1/keys/known`, { method: 'DELETE' })).status).toBe(404);
    await until(() => serving.log().includes('/v2/keys/'));
    expect(serving.log()).not.toContain('hushed');
    expect([
      (await post('/plates/;box=2', '')).status,
      (await post('/plates/;box=2', '{}')).status,
    ]).toEqual([201, 422]);
  });

  test('says where a body stops being JSON', async () => {
    expect(await json(await post('/proposals', '{\n"a": [1,}'))).toMatchObject({
      line: 2,
      column: 9,
      detail: expect.stringContaining('(line 2, column 9)'),
    });
  });
});

describe('the service', () => {
  const report = {
    violations: [
      { path: '/targets/2/name', rule: 'required' },
      { path: 'nights', rule: 'maximum', params: { max: 3 } },
    ],
  };

  test('gives the body for violations, in the language and the shape asked for', async () => {
    const response = await post(
      '/zeitwort/render/observing-proposal?locale=de&shape=jsonapi',
      JSON.stringify(report),
    );
    expect([response.status, response.headers.get('content-type')]).toEqual([
      422,
      'application/vnd.api+json',
    ]);
    expect(await json(response)).toMatchObject({
      errors: [
        { detail: 'Es können höchstens 3 Nächte beantragt werden.' },
        {
          source: { pointer: '/data/attributes/targets/2' },
          meta: { missing: '/data/attributes/targets/2/name' },
        },
      ],
    });
    expect((await post('/zeitwort/render/nothing', '{}')).status).toBe(404);
  });

  test.each<[unknown, string, string]>([
    [{ violations: [{ rule: 'x' }] }, '"path" is missing; it is a text', '/violations/0'],
    [
      { violations: [{ path: 'nigths', rule: 'x' }] },
      'has no field at nigths (did you mean "nights"?)',
      '/violations/0/path',
    ],
    [{ violations: [{ path: 'a[', rule: 'x' }] }, '"a[" is not a path', '/violations/0/path'],
    [[], 'a report of violations is an object, not a list', ''],
    [{ violations: [] }, 'no violation is listed', '/violations'],
  ])('%j is refused with what is wrong and where', async (value, mistake, at) => {
    const response = await post('/zeitwort/render/observing-proposal', JSON.stringify(value));
    expect(response.status).toBe(400);
    expect(await json(response)).toMatchObject({ mistake: expect.stringContaining(mistake), at });
  });

  test('tells the rest where the form has not one of the fields, and in which languages it speaks', async () => {
    const some = {
      violations: [
        ...report.violations,
        { path: 'nigths', rule: 'x' },
        { path: 'nights', rule: 'fits-the-night' },
      ],
    };
    const response = await post(
      '/zeitwort/render/observing-proposal?locale=ja',
      JSON.stringify(some),
    );
    expect([response.status, response.headers.get('content-language')]).toEqual([422, 'ja']);
    const errors = (await json(response)).errors as { pointer: string; detail: string }[];
    expect(errors.map(({ pointer }) => pointer).sort()).toEqual([
      '#/nights',
      '#/nights',
      '#/nigths',
      '#/targets/2/name',
    ]);
    // Nothing that nobody told reaches a client.
    expect(JSON.stringify(errors)).not.toMatch(/[{}]hours|undefined/);
  });

  test('knows its addresses, and answers for the backend alone where that is at fault', async () => {
    const wrong = await fetch(`${serving.url}/zeitwort/render/observing-proposal`);
    expect([wrong.status, wrong.statusText, wrong.headers.get('allow')]).toEqual([
      405,
      'Method Not Allowed',
      'POST',
    ]);
    const put = await fetch(`${serving.url}/proposals`, { method: 'PUT', body: '{}' });
    expect([put.status, put.headers.get('allow')]).toEqual([405, 'POST']);
    expect((await post('/proposals', '{}')).statusText).toBe('Unprocessable Content');
    const packed = await post('/proposals', '{}', { 'content-encoding': 'br' });
    expect([packed.status, packed.headers.get('accept-encoding')]).toEqual([415, 'identity']);
    const mistakes = [
      await post('/zeitwort/render/observing-propsal', '{}'),
      await post('/zeitwort/problem/not-fund', ''),
      await post('/zeitwort/problem/not-found', '{"params": 3}'),
      await post('/zeitwort/render/observing-proposal', '{'),
      await post('/zeitwort/rendr/observing-proposal', '{}'),
    ];
    const told = await Promise.all(
      mistakes.map(async (one) => [
        one.status,
        (await json(one)).type,
        one.headers.get('content-language'),
      ]),
    );
    expect(told).toEqual(
      [404, 404, 400, 400, 404].map((status) => [status, '/zeitwort/mistake', null]),
    );
  });

  test('lists its forms and problems at /, and takes ?locale= everywhere', async () => {
    const index = await json(await fetch(`${serving.url}/?locale=de`));
    expect(index).toMatchObject({
      forms: expect.arrayContaining([
        {
          form: 'observing-proposal',
          request: 'POST /proposals',
          page: '/form/observing-proposal',
          render: '/zeitwort/render/observing-proposal',
        },
      ]),
      problems: expect.arrayContaining([
        { problem: 'telescope-closed', status: 409, title: 'Das Teleskop ist geschlossen' },
      ]),
    });
    const page = await fetch(`${serving.url}/?locale=ar`, { headers: { accept: 'text/html' } });
    expect(await page.text()).toMatch(/<bdi lang="ar" dir="rtl">المقراب مغلق<\/bdi>/);
    const answers = [
      await post('/proposals?locale=pl', '{}'),
      await post('/proposals?locale=pl', '{'),
      await fetch(`${serving.url}/nothing?locale=pl`),
      await post('/zeitwort/problem/gone?locale=pl', ''),
    ];
    for (const answer of answers) {
      expect(answer.headers.get('content-language')).toBe('pl');
      expect(await answer.text()).not.toContain('locale');
    }
  });

  test('gives the body for a problem', async () => {
    const response = await post('/zeitwort/problem/telescope-closed', '', {
      'accept-language': 'en',
    });
    expect([response.status, (await json(response)).title]).toEqual([
      409,
      'The telescope is closed',
    ]);
    expect((await post('/zeitwort/problem/nothing', '')).status).toBe(404);
  });

  test('gives packs with a strong tag, and 304 for what is known', async () => {
    const response = await fetch(`${serving.url}/zeitwort/packs/de.json`);
    const tag = response.headers.get('etag') ?? '';
    expect(tag).toMatch(/^"[0-9a-f]{64}"$/);
    expect(await response.text()).toBe(
      zeitwort(['pack', '--locale', 'de', '--out', 'x'], folder).code === 0
        ? read('x/de.json')
        : '',
    );
    for (const [known, status] of [
      [tag, 304],
      [`W/${tag}`, 304],
      [`"a", ${tag}`, 304],
      ['*', 304],
      ['"a"', 200],
    ] as const)
      expect(
        (await fetch(`${serving.url}/zeitwort/packs/de`, { headers: { 'if-none-match': known } }))
          .status,
      ).toBe(status);
    const chosen = await fetch(`${serving.url}/zeitwort/packs`, {
      headers: { 'accept-language': 'ja' },
    });
    expect([chosen.headers.get('content-language'), chosen.headers.get('vary')]).toEqual([
      'ja',
      'accept-language',
    ]);
    expect((await fetch(`${serving.url}/zeitwort/packs/fr`)).status).toBe(404);
  });

  test('describes itself, and says that it lives', async () => {
    const document = await json(await fetch(`${serving.url}/zeitwort/openapi.json`));
    expect(document).toMatchObject({
      openapi: '3.1.0',
      paths: {
        '/proposals': { post: { operationId: 'observing-proposal' } },
        '/zeitwort/render/{form}': {},
      },
    });
    expect(await json(await fetch(`${serving.url}/zeitwort/live`))).toEqual({ status: 'live' });
    expect(await json(await fetch(`${serving.url}/zeitwort/ready`))).toEqual({
      status: 'ready',
      texts: 'current',
    });
    const page = await fetch(`${serving.url}/form/observing-proposal?locale=ar`);
    expect(await page.text()).toMatch(/<html lang="ar" dir="rtl">/);
    expect(page.headers.get('content-security-policy')).toContain("default-src 'self'");
  });

  test('bounds headers, slow requests and broken ones', async () => {
    expect(
      await raw(`GET / HTTP/1.1\r\nHost: localhost\r\nX-A: ${'a'.repeat(5000)}\r\n\r\n`),
    ).toMatch(/^HTTP\/1\.1 431 .*application\/problem\+json/s);
    expect(await raw('nonsense\r\n\r\n')).toMatch(/^HTTP\/1\.1 400 /);
    const slow = await raw(
      'POST /proposals HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 100\r\n\r\n{"a"',
    );
    expect(slow).toMatch(/^HTTP\/1\.1 408 /);
    // One that goes away in the middle harms nobody.
    await raw('POST /proposals HTTP/1.1\r\nHost: localhost\r\nContent-Length: 100\r\n\r\n{', 50);
    expect((await fetch(`${serving.url}/zeitwort/live`)).status).toBe(200);
  });
});

describe('running', () => {
  test('a changed catalog is read anew; a broken one is told, and the last good one kept', async () => {
    const own = copyOf('small');
    const file = path.join(own, 'messages/en.json');
    const text = readFileSync(file, 'utf8');
    const there = await serve(own);
    const detail = async (): Promise<string> => {
      const response = await fetch(`${there.url}/passes`, {
        method: 'POST',
        body: '{}',
        headers: { 'content-type': 'application/json' },
      });
      return ((await json(response)).errors as { detail: string }[])[0]?.detail ?? '';
    };
    const ready = async (): Promise<unknown> => json(await fetch(`${there.url}/zeitwort/ready`));
    expect(await detail()).toBe('Who is coming? Please give the visitor’s name.');
    writeFileSync(file, text.replace('Who is coming?', 'Who?'));
    await until(async () => (await detail()).startsWith('Who? '));
    writeFileSync(file, text.slice(0, 40));
    await until(async () => JSON.stringify(await ready()).includes('kept'));
    expect(await ready()).toMatchObject({
      status: 'ready',
      texts: 'kept',
      trouble: expect.stringContaining('invalid JSON'),
    });
    expect(await detail()).toMatch(/^Who\? /);
    writeFileSync(file, text);
    await until(async () => (await detail()).startsWith('Who is coming?'));
    expect(await there.stop()).toBe(0);
  });

  test('asked to end, it finishes what is under way', async () => {
    const there = await serve(folder, '--grace', '5000');
    const body = JSON.stringify({ title: 'x' });
    const socket = connect(there.port, '127.0.0.1');
    let got = '';
    socket.on('data', (chunk) => (got += chunk.toString()));
    const closed = new Promise((resolve) => socket.once('close', resolve));
    socket.write(
      `POST /proposals HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: ${body.length}\r\n\r\n${body.slice(0, 5)}`,
    );
    await new Promise((resume) => setTimeout(resume, 200));
    const stopping = there.stop();
    await new Promise((resume) => setTimeout(resume, 200));
    socket.write(body.slice(5));
    await closed;
    expect(got).toMatch(/^HTTP\/1\.1 422 /);
    expect(await stopping).toBe(0);
  });

  test('what never ends is cut after the bound', async () => {
    const there = await serve(folder, '--grace', '300');
    const socket = connect(there.port, '127.0.0.1');
    socket.on('error', () => undefined);
    socket.write('POST /proposals HTTP/1.1\r\nHost: localhost\r\nContent-Length: 10\r\n\r\n{');
    await new Promise((resume) => setTimeout(resume, 200));
    const start = Date.now();
    expect(await there.stop()).toBe(0);
    expect(Date.now() - start).toBeLessThan(IN_VAIN);
  });

  test('it listens on loopback only, and says when it cannot', () => {
    expect(serving.url).toMatch(/^http:\/\/127\.0\.0\.1:\d+$/);
    const taken = zeitwort(['serve', '--port', String(serving.port)], folder);
    expect([taken.code, taken.err]).toEqual([
      2,
      expect.stringMatching(
        /cannot listen at 127\.0\.0\.1:\d+ \(EADDRINUSE\): another program listens there/,
      ),
    ]);
    expect(zeitwort(['serve', '--port', 'x'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining('--port takes a whole number'),
    });
  });
});
