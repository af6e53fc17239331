// Sends many different values through a renderer or a service in this process, and prints how much
// the heap has grown, in bytes each. Run with --expose-gc: folder, way, count, seed.
const http = require('node:http');
const path = require('node:path');
const { Writable } = require('node:stream');

const [folder, way, count] = [process.argv[2], process.argv[3], Number(process.argv[4])];
const dist = path.join(__dirname, '../../dist');

const SUBTAGS = ['de', 'en', 'pl', 'ar', 'ja'];
/** A request that shares nothing with others but its form. */
function different(at) {
  const word = `w${at}x`;
  return {
    locale: `${SUBTAGS[at % 5]}-x-${at.toString(36).padStart(3, 'a').slice(-8)}`,
    problem: at % 3 === 0 ? `problem-${word}` : 'not-found',
    violation: {
      path: at % 2 === 0 ? `targets[${at}].name` : `contacts["${word}"].${word}`,
      rule: at % 4 === 0 ? 'required' : `rule-${word}`,
      as: at % 7 === 0 ? `as-${word}` : undefined,
      in: at % 11 === 0 ? 'query' : undefined,
      params: { min: at, [word]: word, format: word, counterpart: word, choices: [word] },
      value: word,
      code: word,
    },
  };
}

async function renderer() {
  const { openWorkspace } = require(path.join(dist, 'cjs/index.cjs'));
  const opened = openWorkspace(folder, { onWarning: () => undefined });
  const attempt = (work) => {
    try {
      work();
    } catch {
      // What is refused is remembered no more than what is answered.
    }
  };
  return (at) => {
    const { locale, problem, violation } = different(at);
    const { as, in: place, ...rest } = violation;
    const one = { ...rest, ...(as ? { as } : {}), ...(place ? { in: place } : {}) };
    const acceptLanguage = `${locale}, ${SUBTAGS[(at + 1) % 5]};q=0.${(at % 9) + 1}`;
    for (const language of [{ locale }, { acceptLanguage }]) {
      attempt(() => opened.render({ form: 'observing-proposal', violations: [one] }, language));
      attempt(() => opened.renderProblem(problem, { ...language, params: { code: locale } }));
    }
  };
}

async function service() {
  const { run } = require(path.join(dist, 'command.cjs'));
  let address = '';
  const stdout = new Writable({
    write(chunk, _encoding, done) {
      address ||= /http:\/\/[\w.:]+/.exec(String(chunk))?.[0] ?? '';
      done();
    },
  });
  run(['serve', '--port', '0', '--log-level', 'silent', '--no-watch'], {
    cwd: folder,
    stdout,
    stderr: stdout,
  });
  while (address === '') await new Promise((resolve) => setTimeout(resolve, 20));
  const agent = new http.Agent({ keepAlive: true, maxSockets: 8 });
  const send = (method, url, headers, body) =>
    new Promise((resolve, reject) => {
      const request = http.request(address + url, { method, headers, agent }, (response) => {
        response.resume().on('end', resolve);
      });
      request.on('error', reject).end(body);
    });
  return async (at) => {
    const { locale, problem, violation } = different(at);
    const { as, in: place, ...rest } = violation;
    const language = { 'accept-language': `${locale}, *;q=0.${at % 10}` };
    const json = { ...language, 'content-type': 'application/json', 'x-request-id': `id-${at}` };
    const violations = [{ ...rest, ...(as ? { as } : {}), ...(place ? { in: place } : {}) }];
    await send('POST', '/zeitwort/render/observing-proposal', json, JSON.stringify({ violations }));
    const asked = `locale=${locale}`;
    await send(
      'POST',
      `/zeitwort/problem/${problem}?${asked}`,
      json,
      JSON.stringify({ params: { code: locale } }),
    );
    await send('GET', `/zeitwort/packs/${locale}?w${at}=1`, language);
    await send('POST', `/forms-${at}/${locale}`, json, JSON.stringify({ [`m${at}`]: at }));
    const proposal = { [`m${at}`]: at, title: `t${at}`, targets: [{ [`n${at}`]: at }] };
    await send('POST', `/proposals?dryRun=w${at}`, json, JSON.stringify(proposal));
  };
}

async function main() {
  const one = way === 'renderer' ? await renderer() : await service();
  const from = async (first, last) => {
    for (let at = first; at < last; at += 8)
      await Promise.all(Array.from({ length: 8 }, (_, next) => one(at + next)));
    for (let times = 0; times < 4; times++) {
      global.gc();
      await new Promise((resolve) => setImmediate(resolve));
    }
    return process.memoryUsage().heapUsed;
  };
  const warm = Math.min(2_000, count);
  const before = await from(0, warm);
  const after = await from(warm, warm + count);
  process.stdout.write(`${Math.round((after - before) / count)}\n`);
  process.exit();
}
main();
