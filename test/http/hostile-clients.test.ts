import { readFileSync } from 'node:fs';
import { connect } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { folderWith } from '../support/program.js';
import { IN_VAIN, postJson, raw, serve, until, type Serving } from '../support/server.js';

const files = {
  'zeitwort.yaml': 'locales: [en]\nrules: [rules/*]\n',
  'rules/a.yaml': `forms:
  slow:
    request: POST /slow/{token}
    path: { token: { secret: true } }
    fields:
      parts: { type: string }
      vault: { type: object, secret: true }
      'vault.*': { type: string }
  shifted:
    request: POST /shifted
    fields:
      list: { type: array }
      'list[*].pin': { secret: true, type: string }
      parts: { type: string }
      vault: { type: object, secret: true }
`,
  'messages/en.json': { locale: 'en', messages: { type: 'At {vault_key}: {value}.' } },
};
/** A workspace whose pack is of some megabytes. */
const large = folderWith({
  ...files,
  'messages/en.json': {
    locale: 'en',
    messages: Object.fromEntries(
      Array.from({ length: 1500 }, (_, at) => [`own-${at}`, 'x'.repeat(4000)]),
    ),
  },
  'rules/b.yaml': {
    forms: {
      many: {
        fields: {
          a: {
            external: Object.fromEntries(
              Array.from({ length: 1500 }, (_, at) => [`own-${at}`, true]),
            ),
          },
        },
      },
    },
  },
});

let serving: Serving;
beforeAll(async () => {
  serving = await serve(folderWith(files), '--drain', '0');
});
afterAll(() => serving.stop());
const send = (at: string, value: unknown): ReturnType<typeof postJson> =>
  postJson(serving, at, value);
const live = async (): Promise<unknown> => (await fetch(`${serving.url}/zeitwort/live`)).json();

describe('what a path holds that is secret', () => {
  test.each([
    ['OPTIONS', '/slow/hidden-1'],
    ['HEAD', '/slow/hidden-2'],
    ['PUT', '/slow/hidden-3'],
    ['POST', '/slow/hidden-4/'],
    ['POST', '//slow//hidden-5'],
    ['GET', '/slow/hidden-6/more/of/it'],
    ['POST', '/slow/hidden-7%zz'],
    ['POST', '/%73low/hidden-8'],
  ])('is not in the log, whatever comes with it: %s %s', async (method, at) => {
    const before = serving.log().length;
    await raw(
      serving.port,
      `${method} ${at} HTTP/1.1\r\nHost: localhost\r\nContent-Length: 0\r\nConnection: close\r\n\r\n`,
    );
    // What the router refuses is in no log at all.
    if (!at.includes('%zz')) await until(() => serving.log().slice(before).includes(method));
    expect(serving.log()).not.toContain('hidden-');
  });

  test('nor are names of members inside of what is secret, or values that stand where no field is', async () => {
    const shifted = {
      list: { 0: { pin: 'pin-4711' } },
      parts: [{ vault: 'code-4711' }],
      vault: 'plain-4711',
    };
    const { body } = await send('/shifted', shifted);
    const other = await send('/shifted', [{ list: [{ pin: 'pin-4711' }] }]);
    const told = await send('/zeitwort/render/slow', {
      violations: [
        { path: 'vault.name-4711', rule: 'type', value: 1 },
        { path: 'nothing-4711', rule: 'x' },
        { path: 'vault.inner-4711.deep', rule: 'x' },
      ],
    });
    const text = JSON.stringify([body, other.body, told.body.errors]);
    expect(text).toContain('•••');
    expect(text).not.toMatch(/(?:pin|code|plain)-4711|(?:name|inner)-4711/);
    await until(() => serving.log().includes('nothing-4711'));
    expect(serving.log()).not.toMatch(/(?:name|inner|pin|code)-4711/);
  });
});

describe('who does not read', () => {
  const ask = 'GET /zeitwort/packs/en HTTP/1.1\r\nHost: localhost\r\n\r\n';

  test('is cut off with all that it asked for at once, and nobody else waits', async () => {
    const memory = (): number =>
      Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${serving.pid}/status`, 'utf8'))?.[1] ?? 0);
    await (await fetch(`${serving.url}/zeitwort/packs/en`)).text();
    const before = memory();
    const sockets = Array.from({ length: 20 }, () => {
      const socket = connect(serving.port, '127.0.0.1');
      socket.pause();
      socket.on('error', () => undefined);
      socket.write(ask.repeat(1000));
      return socket;
    });
    const since = Date.now();
    for (let times = 0; times < 5; times++) expect(await live()).toBeDefined();
    expect(Date.now() - since).toBeLessThan(IN_VAIN);
    await until(() => serving.log().includes('asked for more than it reads'));
    expect(memory() - before).toBeLessThan(200_000);
    for (const socket of sockets) socket.destroy();
  });

  test('several requests on one connection are answered in order all the same', async () => {
    const got = await raw(
      serving.port,
      ask.repeat(3) + ask.replace('\r\n\r\n', '\r\nConnection: close\r\n\r\n'),
    );
    expect(got.match(/HTTP\/1\.1 200 /g)).toHaveLength(4);
  });

  test('a client that takes nothing of a large answer is cut off after a while', async () => {
    const own = await serve(large, '--send-timeout', '400', '--drain', '0');
    const socket = connect({ port: own.port, host: '127.0.0.1' });
    socket.pause();
    const closed = new Promise((resolve) => socket.once('close', resolve));
    socket.on('error', () => undefined);
    socket.write(ask.repeat(4));
    await until(() => own.log().includes('"status":200'));
    await new Promise((resume) => setTimeout(resume, 2500));
    socket.resume();
    await closed;
    expect(await own.stop()).toBe(0);
  });
});
