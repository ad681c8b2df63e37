/** A line of the table: what we do, what the peer does, in the same unit; `ratio` at or above `floor` is good. */
export interface Row {
  readonly id: string;
  readonly ours: number;
  readonly peer: number;
  readonly ratio: number;
  readonly floor: number;
}

/** Milliseconds that a piece of work takes: the median of several runs, after one that does not count. */
export async function medianTime(runs: number, work: () => unknown): Promise<number> {
  await work();
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const started = performance.now();
    await work();
    times.push(performance.now() - started);
  }
  return times.sort((a, b) => a - b)[runs >> 1] as number;
}

/** Turns that do not count: what is compiled while it runs needs a few. */
const warmUps = 3;

/**
 * A row for two pieces of work that take turns, so that a machine which is slower for a while is slower for both: the
 * medians of several runs in milliseconds, and the median of the turns' ratios.
 */
export async function compared(
  id: string,
  runs: number,
  ours: () => unknown,
  peer: () => unknown,
  floor: number,
): Promise<Row> {
  const turns: Turn[] = [];
  for (let i = -warmUps; i < runs; i++) {
    const started = performance.now();
    await ours();
    const between = performance.now();
    await peer();
    if (i >= 0) turns.push({ ours: between - started, peer: performance.now() - between });
  }
  return medianTurn(id, turns, floor);
}

/** Milliseconds that both took one after the other. */
export interface Turn {
  readonly ours: number;
  readonly peer: number;
}

/** A row of turns: the medians of the times, and the median of the turns' ratios. */
export function medianTurn(id: string, turns: readonly Turn[], floor: number): Row {
  const median = (part: (turn: Turn) => number): number =>
    turns.map(part).sort((a, b) => a - b)[turns.length >> 1] as number;
  return {
    id,
    ours: median(({ ours }) => ours),
    peer: median(({ peer }) => peer),
    ratio: median(({ ours, peer }) => peer / ours),
    floor,
  };
}

/** A row for two times of the same work: the ratio says how many times faster than the peer we are. */
export function faster(id: string, ours: number, peer: number, floor: number): Row {
  return { id, ours, peer, ratio: peer / ours, floor };
}
