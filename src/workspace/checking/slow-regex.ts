import { analyse, type Report } from 'scslre';

const known = new Map<string, readonly Report[]>();

function reportsOf(source: string): readonly Report[] {
  let reports = known.get(source);
  if (!reports) {
    try {
      const { flags } = new RegExp(source, 'u');
      reports = analyse({ source, flags }).reports;
    } catch {
      // What is no regular expression is told elsewhere.
      reports = [];
    }
    known.set(source, reports);
  }
  return reports;
}

/** Whether the time of a regular expression grows with the text's length and no faster, as far as analysis can tell. */
export const isLinear = (source: string): boolean => reportsOf(source).length === 0;

/**
 * Why a regular expression can take time out of all proportion, in half a sentence; nothing where it cannot. To look for
 * the start again at each character is common and harmless at the lengths that forms allow, and not told.
 */
export function slowness(source: string): string | undefined {
  const told = reportsOf(source).filter(({ type, exponential }) => exponential || type !== 'Move');
  const worst = told.find(({ exponential }) => exponential) ?? told[0];
  if (!worst) return undefined;
  const grows = worst.exponential ? 'doubles with each further one' : 'grows with the square of their number';
  return `the time for a text of many "${worst.character.pick}" ${grows}`;
}
