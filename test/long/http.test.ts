import { expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import path from 'node:path';
import { copyOf, textOf } from '../support/program.js';
import { IN_VAIN, serve } from '../support/server.js';
import { mutated, oneOf, randomFrom, ROUNDS, SEED } from '../support/torture.js';

const folder = copyOf('observatory');
const payload = textOf(folder, 'payloads/bad-proposal.json');
const report = textOf(folder, 'violations/bad-proposal.json');
const WHOLE = [
  `POST /proposals HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nAccept-Language: de\r\nContent-Length: LENGTH\r\n\r\n${payload}`,
  `POST /zeitwort/render/observing-proposal?shape=fields&locale=pl HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: LENGTH\r\n\r\n${report}`,
  'GET /form/observing-proposal?rows=2 HTTP/1.1\r\nHost: localhost\r\nAccept-Language: ar\r\n\r\n',
  'GET /zeitwort/packs/de HTTP/1.1\r\nHost: localhost\r\nIf-None-Match: "x"\r\n\r\n',
  'POST /zeitwort/problem/not-found HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: LENGTH\r\n\r\n{"params":{"a":1}}',
];

test(
  'whatever is sent, while files change, is answered, and nothing of the inside is told',
  async () => {
    const there = await serve(
      folder,
      '--log-level',
      'error',
      '--request-timeout',
      '1500',
      '--validation-timeout',
      '300',
      '--drain',
      '0',
    );
    const raw = (text: string): Promise<string> =>
      new Promise((resolve) => {
        const socket = connect(there.port, '127.0.0.1');
        let got = '';
        socket.on('data', (chunk) => (got += chunk.toString()));
        socket.on('error', () => undefined);
        socket.on('close', () => {
          resolve(got);
        });
        socket.setTimeout(4000, () => socket.destroy());
        socket.end(text);
      });
    const catalog = textOf(folder, 'messages/en.json');
    const sheet = textOf(folder, 'rules/house.yaml');
    let answered = 0;
    const statuses = new Set<string>();
    // Each has numbers of its own, so that what it sends does not hang on who was quicker.
    const client = async (_: unknown, number: number): Promise<void> => {
      const random = randomFrom(SEED + number);
      for (let run = 0; run < 25 * ROUNDS; run++) {
        const whole = oneOf(random, WHOLE);
        const changed = mutated(whole, random);
        const body = changed.split('\r\n\r\n').slice(1).join('\r\n\r\n');
        const text = changed.replace('LENGTH', String(Buffer.byteLength(body)));
        const got = await raw(text);
        if (got === '') continue;
        answered += 1;
        const status = /^HTTP\/1\.1 (\d{3}) /.exec(got)?.[1] ?? 'none';
        statuses.add(status);
        if (
          /\bat .*\(.*:\d+:\d+\)|node_modules|ERR_[A-Z]|\/work\/|TypeError|RangeError/.test(
            got.split('\r\n\r\n').slice(1).join(''),
          ) ||
          status === '500'
        )
          throw new Error(
            `seed ${SEED}: ${JSON.stringify(text.slice(0, 3000))}\n${got.slice(0, 1500)}\n${there.log().slice(-1500)}`,
          );
      }
    };
    let done = false;
    const editor = async (): Promise<void> => {
      const random = randomFrom(SEED + 99);
      for (let turn = 0; !done; turn++) {
        writeFileSync(
          path.join(folder, 'messages/en.json'),
          turn % 2 === 0 ? mutated(catalog, random) : catalog,
        );
        writeFileSync(
          path.join(folder, 'rules/house.yaml'),
          turn % 3 === 0 ? mutated(sheet, random) : sheet,
        );
        await new Promise((resume) => setTimeout(resume, 250));
      }
    };
    let slowest = 0;
    const watcher = async (): Promise<void> => {
      while (!done) {
        const start = Date.now();
        expect((await fetch(`${there.url}/zeitwort/live`)).status).toBe(200);
        slowest = Math.max(slowest, Date.now() - start);
        await new Promise((resume) => setTimeout(resume, 50));
      }
    };
    const others = [editor(), watcher()];
    try {
      await Promise.all(Array.from({ length: 4 }, client));
    } finally {
      done = true;
      await Promise.all(others);
      expect(await there.stop()).toBe(0);
    }
    expect(answered).toBeGreaterThan(20 * ROUNDS);
    expect(slowest).toBeLessThan(IN_VAIN);
    expect([...statuses].every((status) => /^[2-5]\d\d$/.test(status))).toBe(true);
  },
  120_000 + ROUNDS * 30_000,
);
