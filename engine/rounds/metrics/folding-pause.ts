import type { Pause } from '../../base/repeat.ts';

/**
 * How long what groups brought for metrics and rankings waits to be put where it belongs: it takes about the fiftieth part of
 * a thread's time at most, as long as eight seconds are enough for that. What trickles in is gathered for a dozen seconds, while
 * what comes after a silence is there at once.
 */
export const foldingPause: Pause = { least: 2_000, most: 8_000, times: 50, busy: 12_000 };
