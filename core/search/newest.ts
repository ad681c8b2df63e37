/** Rows of one segment, the earliest first. */
export interface FoundRows {
  readonly segment: number;
  readonly rows: Int32Array;
  /** In milliseconds; mirrored where the oldest are asked for (see `order.ts`). */
  readonly times: Float64Array;
}

/** Gathers the newest of the rows that are found, so many at most. Rows of the same time are as good as one another. */
export class NewestRows {
  private found: FoundRows[] = [];
  private count = 0;
  private edge = Number.NEGATIVE_INFINITY;

  constructor(readonly most: number) {}

  /** Rows that are not newer than this are not wanted any more. */
  get after(): number {
    return this.edge;
  }

  /** Adds rows, of which only the newest are looked at. */
  add({ segment, rows, times }: FoundRows): void {
    const from = Math.max(rows.length - this.most, firstAfter(times, this.edge));
    if (this.most === 0 || from >= rows.length) return;
    this.found.push({ segment, rows: rows.subarray(from), times: times.subarray(from) });
    this.count += rows.length - from;
    // Finding the edge costs more than keeping some rows too many for a while.
    const enough = this.edge === Number.NEGATIVE_INFINITY ? this.most : this.most * 1.5;
    if (this.count >= enough) this.cut();
  }

  /** The newest rows by segment, at most `most` of all that were added (by default as many as are gathered). */
  newest(most = this.most): readonly FoundRows[] {
    if (this.count <= most) return this.found;
    return newestOf(this.found, most);
  }

  private cut(): void {
    this.found = newestOf(this.found, this.most);
    this.count = this.most;
    this.edge = Math.min(...this.found.map(({ times }) => times[0] as number));
  }
}

function newestOf(found: readonly FoundRows[], most: number): FoundRows[] {
  const times = new Float64Array(found.reduce((sum, { rows }) => sum + rows.length, 0));
  let at = 0;
  for (const part of found) {
    times.set(part.times, at);
    at += part.times.length;
  }
  times.sort();
  const edge = times[times.length - most] as number;
  // Of those at the edge only as many as there is room for.
  let room = most - (times.length - firstAfter(times, edge));
  return found.flatMap(({ segment, rows, times: sorted }) => {
    const after = firstAfter(sorted, edge);
    const from = Math.max(firstAfter(sorted, edge, true), after - room);
    room -= after - from;
    return from < rows.length ? [{ segment, rows: rows.subarray(from), times: sorted.subarray(from) }] : [];
  });
}

/** The first place in sorted times whose time is after `edge`, or with `orAt` at it or after it. */
function firstAfter(times: Float64Array, edge: number, orAt = false): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const time = times[middle] as number;
    if (time < edge || (time === edge && !orAt)) low = middle + 1;
    else high = middle;
  }
  return low;
}
