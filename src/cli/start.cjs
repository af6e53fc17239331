#!/usr/bin/env node
// Starts the program with the code that V8 compiled when it ran before. Compiling takes longer than
// all that a short command does, and Node keeps compiled code by itself only from version 22 on.
// The first run keeps what it compiled, beside the program where it may write there; another V8 has
// a file of its own.
const { readFileSync, renameSync, rmSync, writeFileSync } = require('node:fs');
const path = require('node:path');
const { Script } = require('node:vm');

const filename = path.join(__dirname, 'program.cjs');
// Commands that are run again and again each have a file of their own; the others begin as they all
// do.
const command = process.argv[2] ?? '';
// What ends after a second or two gets little out of code that is optimised early, and out of
// threads that collect garbage together: it pays a fifth more processor time for them. Only of this
// V8 is it known; another may not know the flags.
if (process.versions.v8.startsWith('11.3.') && command === 'check')
  for (const flag of ['--interrupt-budget=270336', '--no-parallel-scavenge'])
    require('node:v8').setFlagsFromString(flag);
const own = ['audit', 'check', 'derive', 'pack', 'render', 'show', 'try', 'why'].includes(command)
  ? `.${command}`
  : '';
const cacheOf = (which) =>
  path.join(__dirname, `program${which}.${process.versions.v8}.${process.arch}.cache`);
const kept = cacheOf(own);
let cachedData;
let from;
// Before a command has its own, that of the others serves.
for (const file of [kept, cacheOf('')]) {
  try {
    cachedData = readFileSync(file);
    from = file;
    break;
  } catch {
    // It only makes the start quicker.
  }
}
const script = new Script(readFileSync(filename, 'latin1'), { filename, cachedData });
void script.runInThisContext()(require, filename).main();
if (from !== kept || script.cachedDataRejected)
  process.once('exit', (code) => {
    // What ends with 2 may have ended before it began.
    if (code > 1) return;
    const temporary = `${kept}.${process.pid}.tmp`;
    try {
      writeFileSync(temporary, script.createCachedData());
      renameSync(temporary, kept);
    } catch {
      rmSync(temporary, { force: true });
    }
  });
