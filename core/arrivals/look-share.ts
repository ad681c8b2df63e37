/** The most of a thread's time that looking at arrivals may take. */
const mostTime = 0.015;
/** How fast the share grows again, and how far it may fall at once. */
const upBy = 1.25;
const downTo = 0.2;
const least = 0.002;
/** Time that a group's looking is set against at most, in milliseconds: a thread that rested long has no more to give. */
const mostSpan = 1_000;
/**
 * Looking time (milliseconds) that may have been saved up: what a group takes once, such as when its code is compiled, is no
 * sign that too much comes.
 */
const mostSaved = 4 * mostSpan * mostTime;
/** Lines of a view that a thread tells in a second, and in a group at least and at most: no more are shown. */
const linesPerSecond = 100;
const fewestLines = 2;
const mostLines = 25;

/**
 * The share of events that is looked at for those who watch arrivals. It shrinks when looking takes more than its part of a
 * thread's time and what was saved of it before is used up, so that watching does not hold up the intake, and grows again when
 * there is room.
 */
export class LookShare {
  private share = 1;
  private saved = mostSaved;
  private last: number | undefined;

  /** The share to be looked at, from 0.002 to 1. */
  get current(): number {
    return this.share;
  }

  /** How many lines of a view a group may tell that begins then: what many small groups tell adds up to what is shown. */
  linesAt(start: number): number {
    const since = this.last === undefined ? mostSpan : start - this.last;
    return Math.min(mostLines, Math.max(fewestLines, Math.ceil((since * linesPerSecond) / 1_000)));
  }

  /** Learns from a group that ended then, and what looking at it took (milliseconds of one clock). */
  settle(looking: number, end: number): void {
    const { last } = this;
    this.last = end;
    // Of the first one it is not known how long the thread had rested before.
    if (last === undefined || end <= last) return;
    const span = Math.min(mostSpan, end - last);
    const part = looking / span;
    this.saved = Math.max(-mostSaved, Math.min(mostSaved, this.saved + span * mostTime - looking));
    const factor = this.saved < 0 && part > mostTime ? mostTime / part : part < mostTime / 2 ? upBy : 1;
    this.share = Math.min(1, Math.max(least, this.share * Math.max(downTo, factor)));
  }
}
