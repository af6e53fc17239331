import { streams } from '../../exchange/streams.js';
import { Complaint, oneLine } from '../../workspace/disk/complaint.js';
import { say } from '../print/out.js';

/**
 * Says on stderr what stopped the program, in one sentence.
 * @param debug whether to print the stack too
 * @returns the exit code
 */
export function tellFailure(error: unknown, debug: boolean): number {
  const sentence =
    error instanceof Complaint
      ? error.message
      : `something unexpected happened (${oneLine(error instanceof Error ? error.message : String(error))}); run it again with --debug and report it to the authors`;
  say(sentence);
  if (debug && error instanceof Error) streams().stderr.write(`${error.stack ?? ''}\n`);
  return 2;
}
