import { afterAll } from '@jest/globals';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';

/** What is closed when the tests of the file end. */
export const closing: (() => Promise<unknown>)[] = [];
afterAll(async () => {
  for (const close of closing) await close();
});

/** Lets a server listen on a free port until the tests of the file end: its address. */
export async function listening(server: Server): Promise<string> {
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  closing.push(() => new Promise((resolve) => server.close(resolve)));
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
}
