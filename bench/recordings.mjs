// Recorded responses as a gateway logs them: most were fine, the others have bodies in five
// languages for requests that differ, with places, values and parameters of their own; a few depart
// from the contract, as an old endpoint does.
import { createWriteStream } from 'node:fs';
import { finished } from 'node:stream/promises';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { openWorkspace } from 'zeitwort';

export const observatory = path.join(
  path.dirname(path.dirname(fileURLToPath(import.meta.url))),
  'demo',
  'observatory',
);
const LANGUAGES = ['en', 'de', 'pl', 'ar', 'ja'];

/** A number from 0 to below `most`, the same in every run. */
function* numbers() {
  for (let state = 12345; ;) {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    yield state;
  }
}

function recorder() {
  const workspace = openWorkspace(observatory);
  const stream = numbers();
  const below = (most) => Math.floor((stream.next().value / 0x80000000) * most);
  const one = (list) => list[below(list.length)];
  const violations = () => {
    const at = `targets[${below(12)}]`;
    const all = [
      { path: 'title', rule: 'required' },
      { path: 'abstract', rule: 'minLength', value: `An abstract ${below(1000)}.` },
      { path: 'semester', rule: 'pattern', value: `autumn ${2020 + below(20)}` },
      { path: 'lead.email', rule: 'format', value: `nobody ${below(1000)}` },
      { path: 'instrument', rule: 'enum', value: one(['spyglass', 'echelle', 'sextant']) },
      { path: 'nights', rule: 'maximum', value: 15 + below(40) },
      { path: `${at}.name`, rule: 'required' },
      {
        path: `${at}.magnitude`,
        rule: 'maximum',
        as: 'too-faint',
        params: { max: 21 },
        value: 21 + below(50) / 10,
      },
      { path: `${at}.exposures[${below(4)}].seconds`, rule: 'maximum', value: 3601 + below(900) },
    ];
    return all.filter(() => below(3) > 0);
  };
  const payload = (nth) => ({
    ...{
      abstract: `An abstract of some words, ${nth}.`,
      semester: '2027A',
      instrument: 'echelle',
      nights: 3 + below(12),
    },
    lead: { name: `Observer ${below(500)}`, email: `observer-${below(500)}@domain.example` },
    targets: Array.from({ length: 1 + below(4) }, () => ({
      name: `M${below(110)}`,
      magnitude: below(20),
      exposures: [{ seconds: 60 + below(900), filter: 'ha' }],
    })),
  });
  const accepted = (nth) => ({
    request: one(['POST /proposals', 'POST /passes', 'GET /proposals']),
    status: one([200, 201]),
    headers: { 'content-type': 'application/json', date: 'Thu, 26 Nov 2026 00:00:00 GMT' },
    body: {
      id: nth,
      title: `Proposal ${nth}`,
      state: one(['draft', 'sent']),
      targets: [{ name: `M${below(110)}`, magnitude: below(20) }],
    },
  });
  return (nth) => {
    if (below(10) < 4) return accepted(nth);
    const locale = one(LANGUAGES);
    const form = 'observing-proposal';
    const { status, headers, body } = workspace.render(
      { form, violations: [{ path: 'title', rule: 'required' }, ...violations()] },
      { locale },
    );
    const told = JSON.parse(body);
    if (below(50) === 0) told.errors[0].detail = `Field targets[${below(9)}].name is invalid`;
    const said = Object.fromEntries(
      Object.entries(headers).map(([name, value]) => [name.toLowerCase(), value]),
    );
    // Every fourth keeps what was sent, which is judged then.
    const sent = below(4) === 0 ? { sent: payload(nth) } : {};
    return { request: 'POST /proposals', status, headers: said, ...sent, body: told };
  };
}

/** Writes a file of some size, in bytes; returns how many lines it has. */
export async function writeRecordings(file, size) {
  const record = recorder();
  const out = createWriteStream(file);
  let [written, lines] = [0, 0];
  while (written < size) {
    let part = '';
    while (part.length < 1 << 20 && written + part.length < size)
      part += `${JSON.stringify(record(++lines))}\n`;
    written += Buffer.byteLength(part);
    if (!out.write(part)) await new Promise((resolve) => out.once('drain', resolve));
  }
  out.end();
  await finished(out);
  return lines;
}
