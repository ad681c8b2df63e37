import { fitted } from '../events/fitted.ts';
import { type Labels, labelsId } from '../metrics/labels.ts';
import type { KeyValue } from '../summaries/key-codes.ts';
import type { CompiledRanking } from './compiled-ranking.ts';
import type { RankedBatch } from './ranked-batch.ts';
import { stepStart, type TalkerLevel, talkerLevelAt } from './talker-levels.ts';
import { addTalkers, newTalkerSketch, type TalkerSketch } from './talker-sketch.ts';

/** Counters of what a group of events brings; those of its step take it in. */
export const countersOfGroup = 250;

/** Longest value of a key, in characters; longer ones are cut, and those that begin alike are one. */
const longestValue = 200;

/** What a sketch is of: a step of a level. */
export interface TalkerSlot {
  readonly level: TalkerLevel;
  /** Its start, in milliseconds. */
  readonly start: number;
  readonly sketch: TalkerSketch;
}

/** What a ranking gathered of some events, by the steps that they belong to. */
export class TalkerAccumulator {
  private readonly byStart = new Map<string, TalkerSlot>();

  constructor(readonly ranking: CompiledRanking) {}

  /** The steps in which anything came. */
  get slots(): readonly TalkerSlot[] {
    return [...this.byStart.values()];
  }

  /** Takes in the events of a batch that the ranking is of. */
  add(batch: RankedBatch): void {
    for (const { start, amounts, valuesOf, hashOf } of batch.amountsOf(this.ranking)) {
      const slot = this.slotOf(start, batch.now);
      if (slot) addTalkers(slot.sketch, amounts, { idOf: (place) => labelsId(labelsOf(valuesOf(place))), hashOf });
    }
  }

  private slotOf(time: number, now: number): TalkerSlot | undefined {
    const level = talkerLevelAt(time, now);
    if (!level) return undefined;
    const start = stepStart(level, time);
    const id = `${level.level} ${start}`;
    let slot = this.byStart.get(id);
    if (!slot) this.byStart.set(id, (slot = { level, start, sketch: newTalkerSketch(countersOfGroup) }));
    return slot;
  }
}

function labelsOf(values: readonly KeyValue[]): Labels {
  return values.some((value) => value !== null && value.length > longestValue)
    ? values.map((value) =>
        value !== null && value.length > longestValue ? fitted(value.slice(0, 2 * longestValue), longestValue) : value,
      )
    : values;
}
