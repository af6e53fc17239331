import type { AddressInfo } from 'node:net';
import { Option, type Command } from 'commander';
import { destination, pino, stdSerializers } from 'pino';
import { hostCheck } from '../../http/hosts.js';
import type { Service } from '../../http/routes.js';
import { DEFAULT_LIMITS, makeService, type Limits } from '../../http/service.js';
import { ServedWorkspace } from '../../http/state.js';
import { watchWorkspace } from '../../http/watch.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { collect, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { print } from '../print/out.js';

declare const ZEITWORT_VERSION: string;

interface Options extends WorkspaceOptions {
  readonly host: string;
  readonly port: string;
  readonly allowHost: readonly string[];
  readonly logLevel: string;
  readonly maxBody: string;
  readonly maxHeaders: string;
  readonly requestTimeout: string;
  readonly maxConnections: string;
  readonly validationTimeout: string;
  readonly validators: string;
  readonly sendTimeout: string;
  readonly grace: string;
  readonly drain: string;
  readonly watch: boolean;
}

function count(text: string, option: string, least = 1): number {
  const number = Number(text);
  if (!/^\d+$/.test(text) || number < least)
    throw complaint('wrong-use', [`${option} takes a whole number from ${least}, not "${text}"`]);
  return number;
}

function limitsOf({
  maxBody,
  maxHeaders,
  requestTimeout,
  maxConnections,
  validationTimeout,
  validators,
  sendTimeout,
}: Options): Limits {
  return {
    body: count(maxBody, '--max-body'),
    headers: count(maxHeaders, '--max-headers', 1024),
    request: count(requestTimeout, '--request-timeout', 100),
    connections: count(maxConnections, '--max-connections'),
    judging: count(validationTimeout, '--validation-timeout', 10),
    judges: count(validators, '--validators'),
    sending: count(sendTimeout, '--send-timeout', 100),
  };
}

/**
 * Lines that people and collectors read without a table of ours: levels by name, times by RFC 3339.
 */
const LOG_LINES = {
  base: undefined,
  errorKey: 'error',
  serializers: { error: stdSerializers.err },
  formatters: { level: (level: string) => ({ level }) },
  timestamp: () => `,"time":"${new Date().toISOString()}"`,
};

async function listen(service: Service, host: string, port: number): Promise<string> {
  try {
    await service.app.listen({
      host,
      port,
      listenTextResolver: (address) => `answers at ${address}`,
    });
  } catch (error) {
    const code = error instanceof Error && 'code' in error ? String(error.code) : String(error);
    const what =
      code === 'EADDRINUSE'
        ? 'another program listens there; choose another --port'
        : 'choose another --host or --port';
    throw complaint('wrong-use', [`cannot listen at ${host}:${port} (${code}): ${what}`]);
  }
  const address = service.app.server.address() as AddressInfo;
  return `http://${address.family === 'IPv6' ? `[${address.address}]` : address.address}:${address.port}`;
}

async function serve(options: Options): Promise<void> {
  const port = count(options.port, '--port', 0);
  const limits = limitsOf(options);
  const grace = count(options.grace, '--grace', 0);
  const drain = count(options.drain, '--drain', 0);
  const log = pino(
    { level: options.logLevel, ...LOG_LINES },
    destination({ dest: 2, sync: false }),
  );
  const served = await ServedWorkspace.open(
    options.workspace ?? '.',
    process.cwd(),
    {
      budget: limits.judging,
      atOnce: limits.judges,
      onFailed: (failure) => {
        log.error(failure);
      },
    },
    ({ message, ...warning }) => {
      log.warn(warning, message);
    },
  );
  try {
    const service = makeService({
      served,
      limits,
      log,
      version: ZEITWORT_VERSION,
      hosts: hostCheck(options.host, options.allowHost),
    });
    const url = await listen(service, options.host, port);
    const watcher = options.watch ? await watchWorkspace(served, log) : undefined;
    print(url);
    await stop(service, await asked(), { drain, grace });
    await watcher?.close();
  } finally {
    served.close();
  }
  log.flush();
}

/** Until somebody asks the process to end; a second time ends it at once. */
async function asked(): Promise<NodeJS.Signals> {
  return new Promise((resolve) => {
    for (const signal of ['SIGTERM', 'SIGINT'] as const)
      process.once(signal, () => {
        process.once(signal, () => process.exit(0));
        resolve(signal);
      });
  });
}

/**
 * Stops in three steps. First, readiness checks get 503 while all other requests are answered,
 * since a balancer takes a moment to notice. Then the listener closes, and requests under way are
 * finished within a bound. Then the rest is cut. A person at a terminal does not wait for the first
 * step.
 */
async function stop(
  service: Service,
  signal: NodeJS.Signals,
  { drain, grace }: { drain: number; grace: number },
): Promise<void> {
  service.stopping = true;
  if (signal === 'SIGTERM') await new Promise((resolve) => setTimeout(resolve, drain));
  const bound = setTimeout(() => {
    service.app.server.closeAllConnections();
  }, grace);
  await service.app.close();
  clearTimeout(bound);
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--host <address>', 'the address to listen on', '127.0.0.1')
    .option('--port <number>', 'the port; 0 takes a free one and prints it', '8080')
    .option('--allow-host <name>', 'a host name that clients may use (repeatable)', collect, [])
    .addOption(
      new Option('--log-level <level>', 'what to log')
        .choices(['silent', 'error', 'warn', 'info', 'debug'])
        .default('info'),
    )
    .option('--max-body <bytes>', 'the largest body of a request', String(DEFAULT_LIMITS.body))
    .option(
      '--max-headers <bytes>',
      'the largest headers of a request',
      String(DEFAULT_LIMITS.headers),
    )
    .option(
      '--request-timeout <ms>',
      'how long a request may take to arrive',
      String(DEFAULT_LIMITS.request),
    )
    .option(
      '--send-timeout <ms>',
      'how long a client may pause while it reads its answer',
      String(DEFAULT_LIMITS.sending),
    )
    .option(
      '--max-connections <number>',
      'the most open connections',
      String(DEFAULT_LIMITS.connections),
    )
    .option(
      '--validation-timeout <ms>',
      'how long the validation of a request may take',
      String(DEFAULT_LIMITS.judging),
    )
    .option(
      '--validators <number>',
      'the number of threads that validate requests',
      String(DEFAULT_LIMITS.judges),
    )
    .option(
      '--drain <ms>',
      'after SIGTERM: how long it still takes requests, though no longer ready',
      '2000',
    )
    .option('--grace <ms>', 'after that: how long requests in progress may take', '10000')
    .option('--no-watch', 'do not reload the workspace when files change')
    .action(serve);
}
