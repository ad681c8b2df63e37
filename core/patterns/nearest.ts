/** The known name most like `name`, when it is close enough to be a slip of the hand. */
export function nearest(name: string, known: readonly string[]): string | undefined {
  const wanted = name.toLowerCase();
  let best: string | undefined;
  let least = Math.max(1, Math.floor(name.length / 3)) + 1;
  for (const candidate of known) {
    const distance = editDistance(wanted, candidate.toLowerCase(), least);
    if (distance >= least) continue;
    least = distance;
    best = candidate;
  }
  return best;
}

/** Letters to change, add or take away to get from `a` to `b` (V. Levenshtein, 1966); `limit` when that or more. */
function editDistance(a: string, b: string, limit: number): number {
  if (Math.abs(a.length - b.length) >= limit) return limit;
  let previous = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++) {
      const changed = (previous[j - 1] as number) + (a[i - 1] === b[j - 1] ? 0 : 1);
      row.push(Math.min(changed, (previous[j] as number) + 1, (row[j - 1] as number) + 1));
    }
    previous = row;
  }
  return Math.min(limit, previous[b.length] as number);
}
