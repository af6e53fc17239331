// A key in an editor: from the change that a client sends to the findings that it is told, on
// workspaces as large as teams have.
import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { makeApi } from './api-workspace.mjs';
import { makeLarge } from './large-workspace.mjs';

/** The least of a client: it writes messages, and tells when findings came. */
class Client {
  buffer = Buffer.alloc(0);
  id = 0;
  told = () => undefined;
  checked = () => undefined;
  answered = new Map();

  constructor(program, folder) {
    this.process = spawn(process.execPath, [program, 'lsp'], {
      cwd: folder,
      stdio: ['pipe', 'pipe', 'inherit'],
    });
    this.process.stdout.on('data', (chunk) => {
      this.buffer = Buffer.concat([this.buffer, chunk]);
      for (;;) {
        const head = this.buffer.indexOf('\r\n\r\n');
        const length = Number(
          /Content-Length: (\d+)/.exec(this.buffer.subarray(0, Math.max(0, head)))?.[1],
        );
        if (head < 0 || this.buffer.length < head + 4 + length) return;
        const { id, method, result } = JSON.parse(
          this.buffer.subarray(head + 4, head + 4 + length),
        );
        this.buffer = this.buffer.subarray(head + 4 + length);
        if (method === 'textDocument/publishDiagnostics') this.told();
        else if (method === 'workspace/codeLens/refresh') {
          this.send({ id, result: null });
          this.checked();
        } else if (method === undefined) this.answered.get(id)?.(result);
      }
    });
  }

  send(message) {
    const body = JSON.stringify({ jsonrpc: '2.0', ...message });
    this.process.stdin.write(`Content-Length: ${Buffer.byteLength(body)}\r\n\r\n${body}`);
  }

  ask(method, params) {
    const id = ++this.id;
    return new Promise((resolve) => {
      this.answered.set(id, resolve);
      this.send({ id, method, params });
    });
  }
}

const quiet = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** The server waits so long for the next key. */
const PAUSE = 150;

/**
 * Types half an argument and takes it back in turns; gives how long each took to be told, and all
 * to be checked.
 */
async function keys(client, uri, text, times) {
  const piece = '{';
  const lines = text.slice(0, text.indexOf('": "', text.length / 3) + 4).split('\n');
  const place = { line: lines.length - 1, character: lines.at(-1).length };
  const end = { line: place.line, character: place.character + piece.length };
  const took = { told: [], checked: [] };
  for (let key = 0; key < times; key++) {
    const isTaken = key % 2 === 1;
    const told = new Promise((resolve) => (client.told = () => resolve(performance.now())));
    const checked = new Promise((resolve) => (client.checked = resolve));
    const begun = performance.now();
    client.send({
      method: 'textDocument/didChange',
      params: {
        textDocument: { uri, version: key + 2 },
        contentChanges: [
          { range: { start: place, end: isTaken ? end : place }, text: isTaken ? '' : piece },
        ],
      },
    });
    took.told.push((await told) - begun);
    await checked;
    took.checked.push(performance.now() - begun - PAUSE);
    await quiet(40);
  }
  return took;
}

const CAN = { workspace: { codeLens: { refreshSupport: true } } };

/** @param bound of a check, in milliseconds from the pause's end */
async function measure(program, name, make, { files = 1, bound = undefined } = {}) {
  const folder = mkdtempSync(path.join(tmpdir(), 'zeitwort-bench-'));
  try {
    make(folder);
    const client = new Client(program, folder);
    const workspaceFolders = [{ uri: pathToFileURL(folder).href, name: 'bench' }];
    await client.ask('initialize', {
      processId: process.pid,
      rootUri: null,
      workspaceFolders,
      capabilities: CAN,
    });
    client.send({ method: 'initialized', params: {} });
    const messages = path.join(folder, 'messages');
    const file =
      files > 1
        ? path.join(messages, 'de', readdirSync(path.join(messages, 'de'))[3])
        : path.join(messages, 'de.json');
    const [uri, text] = [pathToFileURL(file).href, readFileSync(file, 'utf8')];
    client.send({
      method: 'textDocument/didOpen',
      params: { textDocument: { uri, languageId: 'json', version: 1, text } },
    });
    await client.ask('workspace/symbol', { query: 'nothing has this name' });
    await quiet(6000);
    const took = await keys(client, uri, text, 20);
    for (const [what, wanted] of [
      ['told', 100],
      ['checked', bound],
    ]) {
      const sorted = took[what].sort((one, other) => one - other);
      const at = (share) => `${sorted[Math.floor(share * (sorted.length - 1))].toFixed(0)} ms`;
      const asked = wanted === undefined ? '' : ` (at most ${wanted} ms)`;
      console.log(
        `a key in an editor, ${name}: ${what}\n  ${at(0.5)} in the middle, ${at(0.9)} of ten nine${asked}`,
      );
    }
    client.process.kill();
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** @param program the file of the program */
export async function editorBench(program) {
  const small = (folder) => makeLarge(folder, { locales: 10, messages: 1000 });
  await measure(program, '10 × 1,000 texts', small, { bound: 400 });
  await measure(program, '40 × 5,000 texts, one large file a locale', (folder) =>
    makeLarge(folder),
  );
  const lived = (folder) => makeLarge(folder, { files: 25, lived: true });
  await measure(program, '40 × 5,000 texts, 25 files a locale, lived in', lived, { files: 25 });
  await measure(program, '300 operations of one OpenAPI document, 5 locales', (folder) =>
    makeApi(folder, 300),
  );
}
