import { expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import path from 'node:path';
import { copyOf } from '../support/program.js';

const program = path.join(__dirname, '../../dist/cli.cjs');

const frame = (content: string): string =>
  `Content-Length: ${Buffer.byteLength(content)}\r\n\r\n${content}`;

/** Sends requests out of order, and returns the codes of the errors that come back, by id. */
async function answersTo(sent: readonly unknown[], wanted: number): Promise<[unknown[], unknown]> {
  const server = spawn(process.execPath, [program, 'lsp', '--stdio'], { cwd: copyOf('small') });
  const told: unknown[] = [];
  let text = '';
  const enough = new Promise<void>((resolve) => {
    server.stdout.on('data', (chunk: Buffer) => {
      text += chunk.toString();
      for (
        let found = /^Content-Length: (\d+)\r\n\r\n/.exec(text);
        found && text.length >= found[0].length + Number(found[1]);
        found = /^Content-Length: (\d+)\r\n\r\n/.exec(text)
      ) {
        const end = found[0].length + Number(found[1]);
        const { id, error, method } = JSON.parse(text.slice(found[0].length, end)) as {
          id?: unknown;
          error?: { code: number };
          method?: string;
        };
        text = text.slice(end);
        if (id !== undefined && method === undefined) told.push([id, error?.code ?? 'fine']);
      }
      if (told.length >= wanted) resolve();
    });
  });
  for (const one of sent)
    server.stdin.write(
      frame(typeof one === 'string' ? one : JSON.stringify({ jsonrpc: '2.0', ...(one as object) })),
    );
  await enough;
  const ended = once(server, 'exit');
  server.stdin.write(frame(JSON.stringify({ jsonrpc: '2.0', method: 'exit' })));
  const [code] = (await ended) as [number];
  return [told, code];
}

const initialize = {
  method: 'initialize',
  params: { processId: null, rootUri: null, capabilities: {} },
};
const hover = {
  method: 'textDocument/hover',
  params: { textDocument: { uri: 'file:///x.json' }, position: { line: 0, character: 0 } },
};

// LSP 3.17, "Server lifecycle"; JSON-RPC 2.0, sections 4.2 and 5.1
test('requests before and after a session, twice begun ones and broken ones have their codes', async () => {
  const told = await answersTo(
    [
      { id: 1, ...hover },
      '{"jsonrpc": "2.0", "id": 2, ',
      '[]',
      { method: 'textDocument/didClose', params: { textDocument: { uri: 'file:///x.json' } } },
      { id: 3, ...initialize },
      { id: 4, ...initialize },
      { method: 'initialized', params: {} },
      { id: 5, ...hover },
      { id: 6, method: 'shutdown' },
      { id: 7, ...hover },
      { id: 8, ...initialize },
      { id: 9, method: 'shutdown' },
    ],
    10,
  );
  const [answers, code] = told;
  expect(code).toBe(0);
  const sorted = answers.map((one) => JSON.stringify(one)).sort();
  expect(sorted).toEqual(
    [
      [null, -32_700],
      [null, -32_600],
      [1, -32_002],
      [3, 'fine'],
      [4, -32_600],
      [5, 'fine'],
      [6, 'fine'],
      [7, -32_600],
      [8, -32_600],
      [9, -32_600],
    ]
      .map((one) => JSON.stringify(one))
      .sort(),
  );
});

test('a client that goes without a word leaves no server behind', async () => {
  const server = spawn(process.execPath, [program, 'lsp'], { cwd: copyOf('small') });
  server.stdin.write(frame(JSON.stringify({ jsonrpc: '2.0', id: 1, ...initialize })));
  await once(server.stdout, 'data');
  server.stdin.end();
  expect(await once(server, 'exit')).toEqual([1, null]);
});
