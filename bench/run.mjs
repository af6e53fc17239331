// npm run bench: both sides of every bound, in one run. Nothing is asserted; machines differ,
// ratios hardly.
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { formatterOf, openWorkspace } from 'zeitwort';
import { atMost, callTime, CALLS, compare, processTime, results, speedAtLeast } from './pairs.mjs';
import { checkBench } from './check.mjs';
import { editorBench } from './editor.mjs';
import { auditBench } from './audit.mjs';
import { backendBench } from './backend.mjs';
import { serveBench } from './serve.mjs';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const observatory = path.join(root, 'demo', 'observatory');
const program = path.join(root, 'dist', 'cli.cjs');
const nothing = processTime(['-e', '0'], observatory);

compare(
  'start',
  'ms',
  21,
  ['zeitwort --version', processTime([program, '--version'], observatory)],
  ['node -e 0', nothing],
  atMost(1.2),
);
compare(
  'render a small file',
  'ms',
  21,
  [
    'zeitwort render',
    processTime([program, 'render', 'violations/bad-proposal.json'], observatory),
  ],
  ['node -e 0', nothing],
  atMost(1.9),
);

const compiled = formatterOf(
  '{label} must have at most {max, plural, one {# character} other {# characters}}.',
  'en',
);
const rules = new Intl.PluralRules('en');
const numbers = new Intl.NumberFormat('en');
const byHand = ({ label, max }) =>
  `${label} must have at most ${numbers.format(max)} ${rules.select(max) === 'one' ? 'character' : 'characters'}.`;
// Every call has another number, from 1 to 5,000, so that neither side lives on what it remembers
// alone.
const args = Array.from({ length: 5000 }, (_, at) => ({ label: 'Title', max: at + 1 }));
compare(
  'format a message with a plural',
  'ns',
  CALLS,
  ['compiled', callTime((call) => compiled(args[call % args.length]))],
  ['written by hand, the same Intl calls', callTime((call) => byHand(args[call % args.length]))],
  speedAtLeast(0.5),
);

const workspace = openWorkspace(observatory);
const path3 = (at) => `targets[${at % 12}]`;
const reports = Array.from({ length: 12 }, (_, at) => ({
  form: 'observing-proposal',
  violations: [
    { path: 'title', rule: 'required' },
    { path: 'abstract', rule: 'minLength', value: 'short' },
    { path: 'semester', rule: 'pattern', value: 'autumn 2027' },
    { path: 'instrument', rule: 'enum', value: 'spyglass' },
    { path: 'lastNight', rule: 'earliest', value: '2027-02-03' },
    { path: 'nights', rule: 'maximum', value: 20 },
    { path: `${path3(at)}.name`, rule: 'required' },
    { path: `${path3(at)}.magnitude`, rule: 'maximum', params: { max: 25 }, value: 26.5 },
    { path: `${path3(at)}.exposures[0].seconds`, rule: 'maximum', value: 5400 },
    { path: `${path3(at)}.exposures[0].filter`, rule: 'enum', value: 'infrared' },
  ],
}));
const bodies = reports.map((report) => JSON.parse(workspace.render(report, { locale: 'de' }).body));
compare(
  'ten violations to a problem body',
  'ns',
  CALLS,
  ['render', callTime((call) => workspace.render(reports[call % 12], { locale: 'de' }).body)],
  ['JSON.stringify of the finished body', callTime((call) => JSON.stringify(bodies[call % 12]))],
  speedAtLeast(0.4),
);
backendBench();
await serveBench();
await auditBench(program);
checkBench(program);
await editorBench(program);
if (results() === 0) throw new Error('nothing was measured');
