/** About this many records of a source go on the tape in an hour before the tape begins to leave some out. */
const fullRate = 400;

/**
 * Decides of how many records of a source one goes on the tape: all at first, then ever fewer as the hour fills, so
 * that a source puts some thousand records an hour on the tape whatever its volume.
 */
export class TapeRate {
  private readonly counts = new Map<string, { hour: number; records: number }>();

  /** One in how many of a delivery of history, which holds about an hour of a source. */
  everyOfHistory(records: number): number {
    return Math.max(1, Math.round(records / (fullRate / 2)));
  }

  /** One in how many, for a delivery of about `records` records that arrived at `received` (milliseconds). */
  every(source: string, received: number, records: number): number {
    const hour = Math.floor(received / 3_600_000);
    let count = this.counts.get(source);
    if (!count || count.hour !== hour) this.counts.set(source, (count = { hour, records: 0 }));
    count.records += records;
    return Math.max(1, Math.round(count.records / fullRate));
  }
}
