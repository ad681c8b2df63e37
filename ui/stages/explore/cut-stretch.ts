import type { TimeWindow } from '#core/conditions/times.ts';

/**
 * Why a stretch of time, which begins at `time` and lasts `every` (milliseconds), does not show all of itself: it is not over
 * at `now`, or the window begins or ends within it. Undefined for one that does.
 */
export function whyCut(
  { time, every }: { readonly time: number; readonly every: number },
  window: TimeWindow,
  now: number,
): string | undefined {
  if (time + every > window.to) return time + every > now ? 'incomplete' : 'cut by the window';
  return time < window.from ? 'cut by the window' : undefined;
}
