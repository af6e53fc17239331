interface Known<K, V> {
  readonly get: (key: K) => V | undefined;
  readonly set: (key: K, value: V) => unknown;
}

/** What a map has under a key, made and noted where it has nothing. */
export function getOrMake<K, V>(known: Known<K, V>, key: K, make: () => NoInfer<V>): V {
  const there = known.get(key);
  if (there !== undefined) return there;
  const made = make();
  known.set(key, made);
  return made;
}
