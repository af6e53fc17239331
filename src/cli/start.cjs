#!/usr/bin/env node
// Starts the program with the code that V8 compiled when it was built. Compiling takes longer than all that a short command
// does, and Node keeps compiled code by itself only from version 22 on. Where V8 is another one, it compiles anew.
const { existsSync, readFileSync } = require('node:fs');
const path = require('node:path');
const { Script } = require('node:vm');

const filename = path.join(__dirname, 'program.cjs');
// A command that much is asked of has a file of its own; the others begin as `render` does.
const own = path.join(__dirname, `program.${path.basename(process.argv[2] ?? '')}.cache`);
let cachedData;
try {
  cachedData = readFileSync(existsSync(own) ? own : path.join(__dirname, 'program.cache'));
} catch {
  // It only makes the start quicker.
}
const script = new Script(readFileSync(filename, 'utf8'), { filename, cachedData });
script.runInThisContext()(require, filename);
