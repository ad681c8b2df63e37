/** The value under a key of a map; a missing one is made and kept. */
export function entryOf<Key, Value>(map: Map<Key, Value>, key: Key, make: () => Value): Value {
  let value = map.get(key);
  if (value === undefined) map.set(key, (value = make()));
  return value;
}
