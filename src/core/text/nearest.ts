/** Nobody misspells a longer name, and comparing takes time with the product of two lengths. */
const LONGEST = 200;

/**
 * The name that somebody most likely meant: the nearest by edits, or nothing where none is near (at
 * most two in five letters may differ, or one of a short name).
 * @param distance how many letters have to be put in, taken out or replaced
 */
export function nearestBy(
  distance: (one: string, other: string) => number,
  name: string,
  names: Iterable<string>,
): string | undefined {
  if (name.length > LONGEST) return undefined;
  const bound = Math.max(1, Math.floor(0.4 * name.length));
  let best: string | undefined;
  let least = bound + 1;
  for (const candidate of names) {
    if (Math.abs(candidate.length - name.length) >= least) continue;
    const edits = distance(name.toLowerCase(), candidate.toLowerCase());
    if (edits < least) [best, least] = [candidate, edits];
  }
  return best;
}
