// Runs the program inside of a process that does other things too. See src/command.ts.
const { readFileSync } = require('node:fs');
const path = require('node:path');
const { Script } = require('node:vm');

let program;

exports.run = (words, options) => {
  const filename = path.join(__dirname, 'program.cjs');
  program ??= new Script(readFileSync(filename, 'latin1'), { filename }).runInThisContext()(
    require,
    filename,
  );
  return program.run(words, options);
};
