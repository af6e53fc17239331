import { isMainThread } from 'node:worker_threads';
import { run } from './program.js';

// The service judges requests in threads of its own, which begin here too: so there is one copy of the code.
if (isMainThread) void run(process.argv);
else void import('../http/judging/worker.js');
