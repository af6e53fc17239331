#!/usr/bin/env node
import { run } from './program.js';

await run(process.argv);
