interface Known<K, V> {
  readonly get: (key: K) => V | undefined;
  readonly set: (key: K, value: V) => unknown;
}

/** Returns the value of a key, and makes it where there is none. */
export function getOrMake<K, V>(known: Known<K, V>, key: K, make: () => NoInfer<V>): V {
  const there = known.get(key);
  if (there !== undefined) return there;
  const made = make();
  known.set(key, made);
  return made;
}
