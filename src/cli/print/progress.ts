import { streams } from '../../exchange/streams.js';

/** Work that takes less than this shows no bar. */
const PATIENCE_MS = 1000;

/**
 * Shows how far a long work is, on a terminal, once it has taken a second; on standard error, so
 * that results stay clean.
 */
export interface Progress {
  /** Absent where nobody watches, so that nothing need be counted. */
  readonly show?: (done: number, all: number) => void;
  readonly end: () => void;
}

/** A bar for so many of something; nothing where nobody watches. */
export async function progressBar(of: string): Promise<Progress> {
  if (!streams().stderr.isTTY) return { end: () => undefined };
  const { openBar } = await import('./bar.js');
  const started = Date.now();
  let bar: ReturnType<typeof openBar> | undefined;
  return {
    show: (done, all) => {
      if (!bar && Date.now() - started < PATIENCE_MS) return;
      bar ??= openBar(of, all);
      bar.setTotal(all);
      bar.update(done);
      // The work leaves no room for timers, so the bar is drawn by hand.
      bar.render();
    },
    end: () => bar?.stop(),
  };
}
