import { mostNewest, type SearchQuery } from '#core/search/search.ts';
import type { FindRef } from '../workers/tasks/find.ts';
import type { JudgedSegment } from './judged-segments.ts';

/** Most events handed to a worker at a time; between two of them a search can be cancelled, and others have their turn. */
const taskEvents = 524_288;
/** Most events of the first task of a lane, so that the newest lines are there soon; each task after it may be twice as large. */
const firstEvents = 65_536;

/** The same where no lines are wanted: fewer questions to the store. */
const firstOfCounts = 262_144;

/** The segments that one lane has to look through, the newest first; all times mirrored where the oldest are asked for. */
export class FindQueue {
  private at = 0;
  private most: number;

  constructor(
    private readonly segments: readonly JudgedSegment[],
    private readonly query: SearchQuery,
  ) {
    this.most = query.limit > 0 ? firstEvents : firstOfCounts;
  }

  /** The last time (milliseconds) of an event that was not handed out yet; −∞ where there is none. */
  get latest(): number {
    return this.segments[this.at]?.newest ?? Number.NEGATIVE_INFINITY;
  }

  /**
   * The next segments to look through, none when all are done. Of events after `after` enough were found: segments that
   * are counted already and hold nothing newer are passed over.
   */
  next(after: number): readonly FindRef[] {
    const newestRows = mostNewest(this.query);
    const task: FindRef[] = [];
    let events = 0;
    let countedEvents = 0;
    while (this.at < this.segments.length) {
      const segment = this.segments[this.at] as JudgedSegment;
      const { counted, newest } = this.wanted(segment, after);
      if (!counted || newest) {
        if (events > 0 && events + segment.events > this.most) break;
        if (counted && countedEvents >= newestRows) break;
        const { id, tier, source, events: rows, inside, holds } = segment;
        task.push({ id, tier, source, events: rows, inside, holds, counted, newest });
        events += rows;
        if (counted && holds) countedEvents += rows;
      }
      this.at++;
    }
    this.most = Math.min(taskEvents, this.most * 2);
    return task;
  }

  /** How many segments that were not handed out yet are still to be looked through. */
  left(after: number): number {
    return this.segments.slice(this.at).filter((segment) => {
      const { counted, newest } = this.wanted(segment, after);
      return !counted || newest;
    }).length;
  }

  /** What is wanted of a segment where enough was found of events after `after`. */
  private wanted({ minutes, newest }: JudgedSegment, after: number): { counted: boolean; newest: boolean } {
    return {
      counted: minutes !== undefined || !this.query.isCounted,
      newest: mostNewest(this.query) > 0 && newest > after,
    };
  }
}
