import { isMainThread } from 'node:worker_threads';
import { releaseTurns } from '../workspace/editing/held.js';
import { run, WRONG_USE } from './program.js';

export { run };

/** Runs the program as the process that it is. */
export async function main(): Promise<void> {
  // The service judges requests in threads of its own, which begin here too: so there is one copy
  // of the code.
  if (!isMainThread) {
    await import('../http/judging/worker.js');
    return;
  }
  // Whoever reads our output may stop reading (`| head`); that is no error of ours.
  process.stdout.on('error', (error: NodeJS.ErrnoException) =>
    process.exit(error.code === 'EPIPE' ? 0 : WRONG_USE),
  );
  process.once('exit', releaseTurns);
  process.exitCode = await run(process.argv.slice(2));
}
