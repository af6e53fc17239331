/**
 * A text that is the same for JSON values that are equal (JSON Schema Core section 4.2.2): members
 * in any order, numbers by their value. It is made without recursion, since clients choose the
 * depth.
 */
export function canonical(value: unknown): string {
  if (typeof value !== 'object' || value === null) return atom(value);
  let text = '';
  const waiting: ({ readonly text: string } | { readonly value: unknown })[] = [{ value }];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    if ('text' in next) text += next.text;
    else if (Array.isArray(next.value)) {
      waiting.push({ text: ']' });
      for (let at = next.value.length - 1; at >= 0; at--)
        waiting.push({ text: ',' }, { value: next.value[at] as unknown });
      text += '[';
    } else if (typeof next.value === 'object' && next.value !== null) {
      const members = Object.entries(next.value).sort(([one], [other]) => (one < other ? 1 : -1));
      waiting.push({ text: '}' });
      for (const [name, member] of members)
        waiting.push({ text: ',' }, { value: member }, { text: `${JSON.stringify(name)}:` });
      text += '{';
    } else text += atom(next.value);
  }
  return text;
}

/** Whether a value equals one of a list. */
export function isAmong(value: unknown, list: readonly unknown[]): boolean {
  // Values that clients chose may be large, so each is written once.
  const text = canonical(value);
  return list.some((one) => canonical(one) === text);
}

// JSON.stringify leaves undefined out, and an absent value is like no other.
const atom = (value: unknown): string =>
  value === undefined ? 'undefined' : JSON.stringify(value);

/** The first entry that is equal to an earlier one: the places of both, from 0. */
export function firstTwins(list: readonly unknown[]): readonly [number, number] | undefined {
  const seen = new Map<string, number>();
  for (const [at, entry] of list.entries()) {
    const text = canonical(entry);
    const earlier = seen.get(text);
    if (earlier !== undefined) return [earlier, at];
    seen.set(text, at);
  }
  return undefined;
}
