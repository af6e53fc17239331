// What a backend does with a request that breaks rules: the issues of Zod read as violations, and
// these put into a body; beside Zod's own validating, and JSON.stringify of the same body. Every
// request has other places and other values.
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import * as z from 'zod';
import { fromZod, openWorkspace } from 'zeitwort';
import { atMost, callTime, CALLS, compare, speedAtLeast } from './pairs.mjs';

const observatory = path.join(
  path.dirname(path.dirname(fileURLToPath(import.meta.url))),
  'demo',
  'observatory',
);

const proposal = z.object({
  title: z.string().min(10).max(120),
  abstract: z.string().min(200),
  semester: z.string().regex(/^\d{4}[AB]$/),
  instrument: z.enum(['spectrograph', 'camera', 'photometer']),
  nights: z.number().int().min(1).max(14),
  lead: z.object({ name: z.string().min(1), email: z.email() }),
  targets: z.array(
    z.object({
      name: z.string().min(1).max(60),
      magnitude: z.number().min(-2).max(25),
      exposures: z.array(
        z.object({ seconds: z.number().min(1).max(3600), filter: z.string().max(8) }),
      ),
    }),
  ),
});

/** A request with twelve mistakes, in another of its elements each time. */
function request(at) {
  const good = () => ({
    name: 'a star',
    magnitude: 12,
    exposures: [{ seconds: 60, filter: 'ha' }],
  });
  const targets = Array.from({ length: 12 }, good);
  targets[at % 12] = {
    name: '',
    magnitude: 26 + (at % 50) / 10,
    exposures: [{ seconds: 4000 + at, filter: 'infrared-wide' }],
  };
  targets[(at + 5) % 12] = {
    name: 'x'.repeat(61 + (at % 9)),
    exposures: [{ seconds: 0, filter: 'ha' }],
  };
  return {
    title: 'short',
    abstract: `An abstract of too few words, ${at}.`,
    semester: `autumn ${2027 + (at % 5)}`,
    instrument: 'spyglass',
    nights: 20 + (at % 30),
    lead: { name: 'Mirre Holm', email: `nobody-${at}` },
    targets,
  };
}

export function backendBench() {
  const workspace = openWorkspace(observatory);
  const form = workspace.form('observing-proposal');
  const payloads = Array.from({ length: 400 }, (_, at) => request(at));
  const found = payloads.map((payload) => proposal.safeParse(payload));
  const read = (at) => fromZod(found[at % 400], { form, payload: payloads[at % 400] });
  const violations = payloads.map((_, at) => read(at));
  console.log(`a request with ${violations[0].length} violations`);
  compare(
    'the issues of Zod as violations',
    'ns',
    CALLS,
    ['fromZod with form and payload', callTime(read)],
    // Zod puts its issues together when its error is first asked for, and no sooner.
    ['Zod finds them', callTime((call) => proposal.safeParse(payloads[call % 400]).error.issues)],
    atMost(0.5),
  );
  const render = (at) =>
    workspace.render({ form: form.id, violations: violations[at % 400] }, { locale: 'de' }).body;
  const bodies = violations.map((_, at) => JSON.parse(render(at)));
  compare(
    'violations with parameters and values to a problem body',
    'ns',
    CALLS,
    ['render', callTime(render)],
    ['JSON.stringify of the finished body', callTime((call) => JSON.stringify(bodies[call % 400]))],
    speedAtLeast(0.6),
  );
}
