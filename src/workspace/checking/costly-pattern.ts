import { analyse, type Report } from 'scslre';
import { keyOf, Memo } from '../../core/base/memo.js';
import { OutOfTime, Watch } from '../judging/watch.js';

/**
 * A text this long is tried where the rules allow any length: what is slow then is slow in a body
 * of some kilobytes.
 */
const LENGTHS = [8, 12, 20, 30, 45, 70, 150, 400, 1000, 2000];
/**
 * A text that takes longer than this, in milliseconds, is one that a client can keep us busy with.
 */
const SLOW_MS = 40;

function reportsOf(source: string): readonly Report[] {
  // A schema may hold what is none with Unicode's rules but is one without them.
  for (const flags of ['u', '']) {
    try {
      return analyse({ source, flags: new RegExp(source, flags).flags }).reports;
    } catch {
      // Another finding reports an invalid regular expression.
    }
  }
  return [];
}

/** Why an expression can take time out of all proportion, by analysis of how it is written. */
function analysed(source: string): string | undefined {
  // A search that starts again at each character is common and harmless at the lengths that forms
  // allow, so it is not reported.
  const reports = reportsOf(source).filter(
    ({ type, exponential }) => exponential || type !== 'Move',
  );
  const worst = reports.find(({ exponential }) => exponential) ?? reports[0];
  if (!worst) return undefined;
  const grows = worst.exponential
    ? 'doubles with each further one'
    : 'grows with the square of their number';
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
  const seeds = [
    ...characters,
    ...characters.slice(0, 5).flatMap((one) => characters.slice(6, 10).map((other) => one + other)),
  ];
  for (const length of LENGTHS) {
    if (length > longest) return;
    for (const seed of seeds)
      for (const end of ['!', '', '\n'])
        yield seed.repeat(Math.ceil(length / seed.length)).slice(0, length - 1) + end;
  }
}

/** The result of trying some texts in turn. */
interface Turn {
  /** The last of them, where it alone took long. */
  readonly long: string | undefined;
  /** Where to go on. */
  readonly next: number;
  /** The process's CPU time in milliseconds. */
  readonly worked: number;
}

/** It remembers what ran out, so it serves all turns until something takes long in one. */
let watch: Watch | undefined;

/**
 * Tries texts from a place on, until some time has passed: to watch each by itself would take
 * longer than most of them.
 */
function turn(source: string, texts: readonly string[], from: number): Turn {
  const begun = performance.now();
  const before = process.cpuUsage();
  let next = from;
  let since = begun;
  watch ??= new Watch(5 * SLOW_MS);
  const { matches } = watch;
  try {
    watch.within(() => {
      for (
        let now = begun;
        next < texts.length && now - begun <= SLOW_MS;
        now = performance.now()
      ) {
        since = now;
        matches(source, texts[next++] ?? '');
      }
    });
  } catch (error) {
    if (!(error instanceof OutOfTime)) throw error;
    watch = undefined;
  }
  const long = performance.now() - since > SLOW_MS ? texts[next - 1] : undefined;
  return { long, next, worked: process.cpuUsage(before).user / 1000 };
}

/**
 * How often a text is tried again before its expression is called slow: a busy machine makes one
 * try slow, not all.
 */
const TRIES = 3;

/**
 * Whether a text that took long once does so each time; a busy machine makes that of one text, and
 * does no work for it.
 */
function takesLong(source: string, text: string): boolean {
  let most = 0;
  for (let tries = 0; tries < TRIES; tries++) {
    watch = undefined;
    const { long, worked } = turn(source, [text], 0);
    if (long === undefined) return false;
    most = Math.max(most, worked);
  }
  return most > SLOW_MS / 2;
}

/** So much is worked for one expression; what is slow is found long before. */
const MOST_WORK_MS = 50 * SLOW_MS;

/** Why an expression takes long, by trying texts that are hard for expressions of its kind. */
function tried(source: string, longest: number): string | undefined {
  const texts = [...attacks(source, longest)];
  let slow: string | undefined;
  for (let next = 0, work = 0; slow === undefined && next < texts.length && work <= MOST_WORK_MS;) {
    const { long, ...done } = turn(source, texts, next);
    ({ next } = done);
    work += done.worked;
    if (long === undefined) continue;
    if (takesLong(source, long))
      slow = `a text of ${long.length} characters such as ${JSON.stringify(long.slice(0, 12))}… takes more than ${SLOW_MS} ms`;
    watch = undefined;
  }
  return slow;
}

/** The verdict about each expression; no words where it is quick. */
const known = new Memo<string>();

/** Shorter texts keep no expression of those that analysis finds busy for long. */
const SHORT = 16;

/**
 * Why a regular expression can take time out of all proportion, in half a sentence; nothing where
 * it cannot.
 * @param longest the length that other rules of the field allow
 */
export function slowness(source: string, longest = Infinity): string | undefined {
  const why = (): string =>
    (longest > SHORT ? analysed(source) : undefined) ?? tried(source, longest) ?? '';
  return known.getOrMake(keyOf(longest, source), why) || undefined;
}
