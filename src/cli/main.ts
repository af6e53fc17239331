import { run } from './program.js';

void run(process.argv);
