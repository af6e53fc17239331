// Two things measured in turn, A B A B …, so that a machine whose speed drifts drifts under both;
// medians, and the ratio's.
import { spawnSync } from 'node:child_process';

const median = (numbers) => [...numbers].sort((a, b) => a - b)[Math.floor(numbers.length / 2)];

function pairs(runs, a, b) {
  a();
  b();
  const times = { a: [], b: [], ratio: [] };
  for (let run = 0; run < runs; run++) {
    const one = a();
    const other = b();
    times.a.push(one);
    times.b.push(other);
    times.ratio.push(one / other);
  }
  return { a: median(times.a), b: median(times.b), ratio: median(times.ratio) };
}

/** Milliseconds of a whole process. */
export const processTime = (args, cwd) => () => {
  const start = process.hrtime.bigint();
  const { status } = spawnSync(process.execPath, args, { cwd, stdio: 'ignore' });
  if (status !== 0) throw new Error(`node ${args.join(' ')} ended with ${status}`);
  return Number(process.hrtime.bigint() - start) / 1e6;
};

/**
 * How often calls are measured: their rounds are short, since the speed of a machine changes many
 * times a second.
 */
export const CALLS = 201;

let sink = 0;
/**
 * Nanoseconds of one call, over as many as fit into some 5 ms. The results are looked at, so that
 * none is left out.
 */
export function callTime(work) {
  let calls = 1;
  let call = 0;
  const round = () => {
    const start = process.hrtime.bigint();
    for (const end = call + calls; call < end; call++) sink += work(call).length;
    return Number(process.hrtime.bigint() - start);
  };
  while (round() < 5e6) calls *= 2;
  return () => round() / calls;
}

/** Measures a pair and prints both sides, the ratio A/B and the bound that the design sets. */
export function compare(name, unit, runs, [nameA, a], [nameB, b], bound) {
  const result = pairs(runs, a, b);
  const digits = unit === 'ms' ? 1 : 0;
  console.log(
    `${name}\n  ${nameA}: ${result.a.toFixed(digits)} ${unit}\n  ${nameB}: ${result.b.toFixed(digits)} ${unit}\n  ${bound(result)}`,
  );
}

export const atMost =
  (limit) =>
  ({ ratio }) =>
    `ratio ${ratio.toFixed(2)} (at most ${limit})`;
export const speedAtLeast =
  (limit) =>
  ({ ratio }) =>
    `speed ${(1 / ratio).toFixed(2)} of the other's (at least ${limit})`;
export const results = () => sink;
