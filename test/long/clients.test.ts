import { connect, type Socket } from 'node:net';
import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { copyOf } from '../support/program.js';
import { IN_VAIN, serve, until } from '../support/server.js';
import { oneOf, randomFrom, ROUNDS, SEED } from '../support/torture.js';

test(
  'clients that do not read, ask for all at once, or stop in the middle cost nobody else anything',
  async () => {
    const random = randomFrom(SEED);
    const serving = await serve(
      copyOf('observatory'),
      '--send-timeout',
      '1500',
      '--request-timeout',
      '1500',
      '--drain',
      '0',
      '--log-level',
      'error',
    );
    const memory = (): number =>
      Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${serving.pid}/status`, 'utf8'))?.[1] ?? 0);
    const requests = [
      'GET /zeitwort/packs/de HTTP/1.1\r\nHost: localhost\r\n\r\n',
      'GET /zeitwort/openapi.json HTTP/1.1\r\nHost: localhost\r\n\r\n',
      'GET /form/observing-proposal HTTP/1.1\r\nHost: localhost\r\n\r\n',
      'GET /zeitwort/metrics HTTP/1.1\r\nHost: localhost\r\n\r\n',
      'POST /proposals HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 2\r\n\r\n{}',
      'POST /proposals HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 9999\r\n\r\n{',
      'POST /zeitwort/render/observing-proposal HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nTransfer-Encoding: chunked\r\n\r\n5\r\n[[[[[\r\n',
      'GET / HTTP/1.1\r\nHost: localhost\r\nX: ',
    ];
    const ask = async (): Promise<number> => {
      const since = Date.now();
      const response = await fetch(`${serving.url}/zeitwort/problem/not-found`, { method: 'POST' });
      await response.text();
      expect(response.status).toBe(404);
      return Date.now() - since;
    };
    await ask();
    const before = memory();
    for (let round = 0; round < ROUNDS; round++) {
      const sockets: Socket[] = [];
      for (let count = 0; count < 40; count++) {
        const socket = connect(serving.port, '127.0.0.1');
        socket.on('error', () => undefined);
        if (random(3) > 0) socket.pause();
        const text = oneOf(random, requests).repeat(oneOf(random, [1, 2, 7, 8, 30, 500]));
        socket.write(text.slice(0, random(4) === 0 ? random(text.length) : text.length));
        if (random(5) === 0) socket.end();
        sockets.push(socket);
        if (count % 10 === 0) expect(await ask()).toBeLessThan(IN_VAIN);
      }
      expect(await ask()).toBeLessThan(IN_VAIN);
      for (const socket of sockets) if (random(2) === 0) socket.destroy();
      for (const socket of sockets) socket.resume();
      // What is still open is ended by the service itself.
      await until(
        () => sockets.every((socket) => socket.destroyed || socket.readableEnded),
        20_000,
      );
      for (const socket of sockets) socket.destroy();
      expect([SEED, memory() - before < 250_000]).toEqual([SEED, true]);
    }
    expect(await serving.stop()).toBe(0);
    expect(serving.log()).not.toMatch(/"level":"error"/);
  },
  60_000 + ROUNDS * 30_000,
);
