// Runs the built program again and again, for tests that wait for it.
const { parentPort, workerData } = require('node:worker_threads');
const { Writable } = require('node:stream');
const { run } = require(workerData.command);

const collector = () => {
  const chunks = [];
  const stream = new Writable({
    write(chunk, _, done) {
      chunks.push(chunk);
      done();
    },
  });
  return { stream, text: () => Buffer.concat(chunks).toString('utf8') };
};

parentPort.on('message', async ({ words, stdin, done, answers }) => {
  const [out, err] = [collector(), collector()];
  const answer = (code) => {
    answers.postMessage({ code, out: out.text(), err: err.text() });
    Atomics.store(done, 0, 1);
    Atomics.notify(done, 0);
  };
  try {
    answer(await run(words, { stdin, stdout: out.stream, stderr: err.stream }));
  } catch (error) {
    err.stream.write(String(error.stack));
    answer(null);
  }
});
