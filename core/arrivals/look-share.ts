/** The most of a group's time that looking at arrivals may take. */
const mostTime = 0.04;
/** How fast the share follows: down at once by what is too much, up slowly. */
const upBy = 1.25;
const least = 0.002;

/**
 * The share of events that is looked at for those who watch arrivals. It shrinks when looking takes more than a twenty-fifth
 * of a thread's time, so that watching does not hold up the intake, and grows again when there is room.
 */
export class LookShare {
  private share = 1;

  /** The share to be looked at, from 0.002 to 1. */
  get current(): number {
    return this.share;
  }

  /** Learns from a group: what looking took of all its time, in milliseconds. */
  settle(looking: number, all: number): void {
    if (all <= 0) return;
    const part = looking / all;
    const factor = part > mostTime ? mostTime / part : part < mostTime / 2 ? upBy : 1;
    this.share = Math.min(1, Math.max(least, this.share * Math.max(0.2, factor)));
  }
}
