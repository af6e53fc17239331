import { Worker } from 'node:worker_threads';
import { installedFile } from '../../workspace/disk/installed.js';
import type { Asked, Brief, Job, Outcome, Said } from './job.js';

/** How long a worker may take to read and compile what requests are judged by, in milliseconds. */
const STARTING_MS = 60_000;
/**
 * A worker stops by itself at its budget; one that hangs in something that cannot be stopped is
 * ended so much later.
 */
const GRACE_MS = 500;
/**
 * Requests that wait longer than this number of budgets are answered with 503: their clients have
 * given up.
 */
const PATIENCE = 10;
/** More than this wait for nothing. */
const MOST_WAITING = 1000;
const MEMORY_MB = 512;

interface Waiting {
  readonly job: Job;
  readonly since: number;
  readonly answer: (outcome: Outcome) => void;
}

/** One worker, and the request that it judges. */
class Judger {
  private readonly worker: Worker;
  private current:
    { readonly number: number; readonly answer: (outcome: Outcome) => void } | undefined;
  private timer: NodeJS.Timeout | undefined;
  private numbers = 0;
  private ended = false;
  /** Resolves with what cannot be run, or with why the worker itself could not. */
  readonly ready: Promise<readonly string[]>;
  isReady = false;

  constructor(
    private readonly brief: Brief,
    private readonly onFree: () => void,
    private readonly onEnd: () => void,
    private readonly onFailed: (failure: string) => void,
  ) {
    this.worker = new Worker(installedFile('cli.cjs'), {
      workerData: brief,
      resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
      stdout: false,
    });
    this.ready = new Promise((resolve) => {
      this.bound(STARTING_MS, 'the rules could not be made ready in time');
      this.worker.on('message', (said: Said) => {
        if ('ready' in said) {
          clearTimeout(this.timer);
          this.isReady = said.ready.length === 0;
          resolve(said.ready);
          if (this.isReady) this.onFree();
        } else if ('failed' in said) this.onFailed(said.failed);
        else this.heard(said);
      });
      this.worker.on('error', (error) => {
        resolve([error.message]);
        this.end(`a worker failed: ${error.message}`);
      });
      this.worker.on('exit', () => {
        resolve(['a worker ended before it was ready']);
        this.end('a worker ended');
      });
    });
  }

  get isFree(): boolean {
    return this.isReady && !this.ended && !this.current;
  }

  get isBusy(): boolean {
    return this.current !== undefined;
  }

  judge({ job, answer }: Waiting): void {
    this.current = { number: (this.numbers += 1), answer };
    // Schemas are compiled when they are first asked for; only then does the client's time begin.
    this.bound(STARTING_MS, 'the rules could not be made ready in time');
    this.worker.postMessage({ number: this.numbers, job } satisfies Asked);
  }

  hurry(hurry: Brief['hurried']): void {
    if (!this.ended) this.worker.postMessage({ hurry } satisfies Asked);
  }

  tryRest(): void {
    if (!this.ended) this.worker.postMessage({ tryRest: true } satisfies Asked);
  }

  private heard(said: Exclude<Said, { ready: unknown } | { failed: unknown }>): void {
    const { current } = this;
    if ('begun' in said) {
      if (said.begun === current?.number)
        this.bound(this.brief.budget + GRACE_MS, 'the request could not be judged in time');
      return;
    }
    if (!current || said.done !== current.number) return;
    clearTimeout(this.timer);
    this.current = undefined;
    current.answer(said.outcome);
    this.onFree();
  }

  private bound(milliseconds: number, why: string): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      this.end(why);
    }, milliseconds);
  }

  end(why: string): void {
    if (this.ended) return;
    this.ended = true;
    clearTimeout(this.timer);
    this.current?.answer({ kind: 'late', why });
    this.current = undefined;
    void this.worker.terminate();
    this.onEnd();
  }
}

/**
 * The workers that judge requests by one reading of a workspace: so many at a time, and one more
 * that is warm and takes the place of one that had to be ended.
 */
export class Judges {
  private readonly judgers = new Set<Judger>();
  private readonly waiting: Waiting[] = [];
  private readonly ranOut: Set<string>;
  private closing = false;
  private failing = 0;

  private constructor(
    private readonly brief: Brief,
    private readonly atOnce: number,
    private readonly onFailed: (failure: string) => void,
  ) {
    this.ranOut = new Set(brief.hurried);
  }

  /** The expressions that ran out. */
  get hurried(): Brief['hurried'] {
    return [...this.ranOut];
  }

  /**
   * Starts the first worker; `goOn` starts the others.
   * @param onFailed called once with each thing that cannot be run and is found later on
   * @returns them once it is ready, or what cannot be run
   */
  static async start(
    brief: Brief,
    atOnce: number,
    onFailed: (failure: string) => void = () => undefined,
  ): Promise<Judges | { readonly failures: readonly string[] }> {
    const known = new Set<string>();
    const judges = new Judges(brief, atOnce, (failure) => {
      if (known.has(failure)) return;
      known.add(failure);
      onFailed(failure);
    });
    const failures = await judges.add().ready;
    if (failures.length > 0) {
      judges.close();
      return { failures };
    }
    return judges;
  }

  /** Starts the other workers, and lets all try the forms that are left. */
  goOn(): void {
    for (const judger of this.judgers) judger.tryRest();
    while (this.judgers.size <= this.atOnce) this.add().tryRest();
  }

  private add(): Judger {
    const brief = { ...this.brief, hurried: this.hurried };
    const judger = new Judger(
      brief,
      () => {
        this.failing = 0;
        this.next();
      },
      () => {
        this.judgers.delete(judger);
        if (this.closing) return;
        // A worker that cannot even start is not started over and over at once.
        this.failing += 1;
        setTimeout(
          () => {
            if (!this.closing && this.judgers.size <= this.atOnce) this.add().tryRest();
          },
          this.failing > 3 ? 1000 : 0,
        );
        this.next();
      },
      this.onFailed,
    );
    this.judgers.add(judger);
    return judger;
  }

  private next(): void {
    const now = Date.now();
    const patience = PATIENCE * this.brief.budget;
    while (this.waiting[0] && now - this.waiting[0].since > patience)
      this.waiting
        .shift()
        ?.answer({ kind: 'late', why: 'too many requests waited before this one' });
    let busy = [...this.judgers].filter((one) => one.isBusy).length;
    for (const judger of this.judgers) {
      if (busy >= this.atOnce) break;
      if (!judger.isFree) continue;
      const next = this.waiting.shift();
      if (!next) break;
      judger.judge(next);
      busy += 1;
    }
    if (this.closing && this.waiting.length === 0 && busy === 0)
      for (const one of [...this.judgers]) one.end('');
  }

  /** Judges a request; it never rejects. */
  judge(job: Job): Promise<Outcome> {
    if (this.waiting.length >= MOST_WAITING)
      return Promise.resolve({ kind: 'late', why: 'too many requests are waiting already' });
    return new Promise((resolve) => {
      this.waiting.push({
        job,
        since: Date.now(),
        answer: (outcome) => {
          if (outcome.kind === 'late' && outcome.hurried) this.hurry(outcome.hurried);
          resolve(outcome);
        },
      });
      this.next();
    });
  }

  /** Gives expressions that ran out of time in one worker a small budget in all. */
  private hurry(sources: Brief['hurried']): void {
    for (const source of sources) this.ranOut.add(source);
    for (const judger of this.judgers) judger.hurry(this.hurried);
  }

  /** Ends the workers once what is under way is answered. */
  close(): void {
    this.closing = true;
    this.next();
  }
}
