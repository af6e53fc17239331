import { analyse, type Report } from 'scslre';
import { OutOfTime, Watch } from '../judging/watch.js';

/** A text this long is tried where the rules allow any length: what is slow then is slow in a body of some kilobytes. */
const LENGTHS = [8, 12, 20, 30, 45, 70, 150, 400, 1000, 2000];
/** A text that takes longer than this, in milliseconds, is one that a client can keep us busy with. */
const SLOW_MS = 40;

const known = new Map<string, readonly Report[]>();

function reportsOf(source: string): readonly Report[] {
  let reports = known.get(source);
  if (!reports) {
    // A schema may hold what is none with Unicode's rules but is one without them.
    for (const flags of ['u', '']) {
      try {
        reports = analyse({ source, flags: new RegExp(source, flags).flags }).reports;
        break;
      } catch {
        // What is no regular expression at all is told elsewhere.
      }
    }
    known.set(source, (reports ??= []));
  }
  return reports;
}

/** Why an expression can take time out of all proportion, by analysis of how it is written. */
function analysed(source: string): string | undefined {
  // To look for the start again at each character is common and harmless at the lengths that forms allow, and not told.
  const told = reportsOf(source).filter(({ type, exponential }) => exponential || type !== 'Move');
  const worst = told.find(({ exponential }) => exponential) ?? told[0];
  if (!worst) return undefined;
  const grows = worst.exponential ? 'doubles with each further one' : 'grows with the square of their number';
  return `the time for a text of many "${worst.character.pick}" ${grows}`;
}

/** Characters that an expression may be made for: those that it writes, and of each kind one. */
function charactersOf(source: string): string[] {
  const written = Array.from(source.replace(/\\[a-zA-Z]|\\k<\w+>|\(\?<\w+>/g, '')).filter((one) =>
    /[^\\()[\]{}|*+?^$]/.test(one),
  );
  return [...new Set(['a', '0', ' ', 'A', '-', '.', ...written])].slice(0, 16);
}

function* attacks(source: string, longest: number): Generator<string> {
  const characters = charactersOf(source);
  const seeds = [...characters, ...characters.slice(0, 5).flatMap((one) => characters.slice(6, 10).map((other) => one + other))];
  for (const length of LENGTHS) {
    if (length > longest) return;
    for (const seed of seeds)
      for (const end of ['!', '', '\n']) yield seed.repeat(Math.ceil(length / seed.length)).slice(0, length - 1) + end;
  }
}

const measured = new Map<string, string | undefined>();

/** How often a text is tried again before its expression is called slow: a busy machine makes one try slow, not all. */
const TRIES = 3;

/** Whether a text takes long to try: by the clock, and by what the process worked meanwhile, which others cannot make more. */
function takesLong(watch: Watch, source: string, text: string): boolean {
  const since = performance.now();
  const before = process.cpuUsage();
  try {
    watch.within(() => watch.matches(source, text));
  } catch (error) {
    if (!(error instanceof OutOfTime)) throw error;
  }
  if (performance.now() - since <= SLOW_MS) return false;
  const { user } = process.cpuUsage(before);
  return user / 1000 > SLOW_MS / 2;
}

/** Why an expression takes long, by trying texts that are hard for expressions of its kind. */
function tried(source: string, longest: number): string | undefined {
  const key = `${longest} ${source}`;
  if (measured.has(key)) return measured.get(key);
  const newWatch = (): Watch => new Watch(5 * SLOW_MS);
  const watch = newWatch();
  const until = performance.now() + 50 * SLOW_MS;
  let slow: string | undefined;
  for (const text of attacks(source, longest)) {
    // A watch remembers what ran out, so each further try has its own.
    if (takesLong(watch, source, text) && Array.from({ length: TRIES }).every(() => takesLong(newWatch(), source, text))) {
      slow = `a text of ${text.length} characters such as ${JSON.stringify(text.slice(0, 12))}… takes more than ${SLOW_MS} ms`;
      break;
    }
    if (performance.now() > until) break;
  }
  measured.set(key, slow);
  return slow;
}

/** Shorter texts keep no expression of those that analysis finds busy for long. */
const SHORT = 16;

/**
 * Why a regular expression can take time out of all proportion, in half a sentence; nothing where it cannot.
 * @param longest the length that other rules of the field allow
 */
export function slowness(source: string, longest = Infinity): string | undefined {
  return (longest > SHORT ? analysed(source) : undefined) ?? tried(source, longest);
}
