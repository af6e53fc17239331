import type { AddressInfo } from 'node:net';
import { Option, type Command } from 'commander';
import { pino, destination } from 'pino';
import { DEFAULT_LIMITS, makeService, type Limits, type Service } from '../../http/service.js';
import { ServedWorkspace } from '../../http/state.js';
import { watchWorkspace } from '../../http/watch.js';
import { complaint } from '../../workspace/complaint.js';
import { withWorkspace, type WorkspaceOptions } from '../options.js';
import { print } from '../print/out.js';

declare const ZEITWORT_VERSION: string;

interface Options extends WorkspaceOptions {
  readonly host: string;
  readonly port: string;
  readonly log: string;
  readonly maxBody: string;
  readonly maxHeaders: string;
  readonly maxTime: string;
  readonly maxConnections: string;
  readonly grace: string;
  readonly watch: boolean;
}

function count(text: string, option: string, least = 1): number {
  const number = Number(text);
  if (!/^\d+$/.test(text) || number < least)
    throw complaint('wrong-use', [`${option} takes a whole number from ${least}, not "${text}"`]);
  return number;
}

function limitsOf({ maxBody, maxHeaders, maxTime, maxConnections }: Options): Limits {
  return {
    body: count(maxBody, '--max-body'),
    headers: count(maxHeaders, '--max-headers', 1024),
    request: count(maxTime, '--max-time', 100),
    connections: count(maxConnections, '--max-connections'),
  };
}

async function listen(service: Service, host: string, port: number): Promise<string> {
  try {
    await service.app.listen({ host, port });
  } catch (error) {
    const code = error instanceof Error && 'code' in error ? String(error.code) : String(error);
    const what =
      code === 'EADDRINUSE' ? 'another program listens there; choose another --port' : 'choose another --host or --port';
    throw complaint('wrong-use', [`cannot listen at ${host}:${port} (${code}): ${what}`]);
  }
  const address = service.app.server.address() as AddressInfo;
  return `http://${address.family === 'IPv6' ? `[${address.address}]` : address.address}:${address.port}`;
}

async function serve(options: Options): Promise<void> {
  const port = count(options.port, '--port', 0);
  const limits = limitsOf(options);
  const grace = count(options.grace, '--grace', 0);
  const log = pino({ level: options.log, base: undefined }, destination({ dest: 2, sync: false }));
  const served = await ServedWorkspace.open(options.workspace ?? '.', process.cwd());
  const service = makeService({ served, limits, log, version: ZEITWORT_VERSION });
  const url = await listen(service, options.host, port);
  const watcher = options.watch ? await watchWorkspace(served, log) : undefined;
  print(url);
  await stopped();
  // What is under way is finished, within the bound; what still hangs then is cut.
  service.stopping = true;
  const bound = setTimeout(() => {
    service.app.server.closeAllConnections();
  }, grace);
  await watcher?.close();
  await service.app.close();
  clearTimeout(bound);
  log.flush();
}

/** Until somebody asks the process to end. */
async function stopped(): Promise<void> {
  await new Promise<void>((resolve) => {
    for (const signal of ['SIGTERM', 'SIGINT'] as const)
      process.once(signal, () => {
        resolve();
      });
  });
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--host <address>', 'where to listen', '127.0.0.1')
    .option('--port <number>', 'the port; 0 takes a free one and prints it', '8080')
    .addOption(new Option('--log <level>', 'what to log').choices(['silent', 'error', 'warn', 'info', 'debug']).default('info'))
    .option('--max-body <bytes>', 'the largest body', String(DEFAULT_LIMITS.body))
    .option('--max-headers <bytes>', 'the largest headers', String(DEFAULT_LIMITS.headers))
    .option('--max-time <ms>', 'until a request must have come in', String(DEFAULT_LIMITS.request))
    .option('--max-connections <number>', 'open at once', String(DEFAULT_LIMITS.connections))
    .option('--grace <ms>', 'for what is under way when it is stopped', '10000')
    .option('--no-watch', 'do not read the workspace anew when it changes')
    .action(serve);
}
