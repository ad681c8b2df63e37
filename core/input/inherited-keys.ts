const inherited = new Set(Object.getOwnPropertyNames(Object.prototype));

/** Whether every object has something of this name, such as `toString` or `__proto__`, whatever else it has. */
export function isInherited(key: string): boolean {
  return inherited.has(key);
}

/**
 * Where in a value from outside a key stands that every object inherits: its path, such as `name.toString`;
 * undefined where there is none. An object with such a key is none that code can trust, as what it asks of all objects
 * is something else there.
 */
export function inheritedKeyIn(value: unknown): string | undefined {
  const open: { readonly value: unknown; readonly path: string }[] = [{ value, path: '' }];
  for (let next = open.pop(); next; next = open.pop()) {
    const { value: within, path } = next;
    if (typeof within !== 'object' || within === null) continue;
    for (const key of Object.keys(within)) {
      const at = path === '' ? key : `${path}.${key}`;
      if (isInherited(key)) return at;
      const part: unknown = Reflect.get(within, key);
      if (typeof part === 'object' && part !== null) open.push({ value: part, path: at });
    }
  }
  return undefined;
}
