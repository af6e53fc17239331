import { SingleBar } from 'cli-progress';
import { streams } from '../../exchange/streams.js';

/** A bar on standard error that goes away when it is done. */
export function openBar(of: string, all: number): SingleBar {
  const bar = new SingleBar({
    format: `  {bar} {percentage} % of ${of}`,
    barCompleteChar: '█',
    barIncompleteChar: '░',
    stream: streams().stderr,
    clearOnComplete: true,
    hideCursor: true,
  });
  bar.start(all, 0);
  return bar;
}
