/** Parameters as a server gets them: a text, or a list where a name came more than once. */
export function gathered(pairs: Iterable<readonly [string, string]>): Record<string, string | string[]> {
  const found = new Map<string, string | string[]>();
  for (const [name, value] of pairs) {
    const before = found.get(name);
    found.set(name, before === undefined ? value : [...(Array.isArray(before) ? before : [before]), value]);
  }
  return Object.fromEntries(found);
}
