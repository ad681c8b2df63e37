/** An address with what is known of a query. */
export function withQuery(path: string, parts: Readonly<Record<string, string | number | undefined>>): string {
  const known = Object.entries(parts).flatMap(([name, value]) =>
    value === undefined ? [] : [`${name}=${encodeURIComponent(value)}`],
  );
  return known.length === 0 ? path : `${path}?${known.join('&')}`;
}
