const mostOneIn = 1_000_000;

/** Whether an exclusion may keep one in `n`. */
export function isSampleSize(n: number): boolean {
  return Number.isInteger(n) && n >= 2 && n <= mostOneIn;
}

/** How much of the events an exclusion keeps: 0 none, 1 all, n one in n; undefined when the text says neither. */
export function keptOneIn(keep: string): number | undefined {
  if (keep === 'none') return 0;
  if (keep === 'all') return 1;
  const share = /^1 in (\d+)$/.exec(keep);
  const n = Number(share?.[1]);
  return share && isSampleSize(n) ? n : undefined;
}
