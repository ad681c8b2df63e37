import type { ConditionContext } from '../conditions/evaluate.ts';
import type { EventBatch } from '../events/batch.ts';
import { fitted } from '../events/fitted.ts';
import { allRows, chosenRows } from '../events/select.ts';
import { type Labels, labelsId } from '../metrics/labels.ts';
import { numbersOf } from '../search/gather-aggregate.ts';
import { groupRows, type KeyValue } from '../search/group-rows.ts';
import type { CompiledRanking } from './ranking.ts';
import { fiveMinutes, stepStart, type TalkerLevel, talkerLevelAt } from './talker-levels.ts';
import { addTalker, newTalkerSketch, type TalkerSketch } from './talker-sketch.ts';

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
export class TalkerTake {
  private readonly byStart = new Map<string, TalkerSlot>();

  constructor(readonly ranking: CompiledRanking) {}

  /** The steps in which anything came. */
  get slots(): readonly TalkerSlot[] {
    return [...this.byStart.values()];
  }

  /** Takes in the events of a batch that the ranking is of; those from before `since` (milliseconds) were taken in before. */
  add(batch: EventBatch, context: ConditionContext & { readonly now: number }, since = 0): void {
    const { by } = this.ranking;
    const rows = this.rowsOf(batch, context, since);
    if (rows.length === 0) return;
    const { groups, keys } = groupRows(batch, rows, { by, every: fiveMinutes.step, tier: '' });
    const amounts = this.amountsOf(batch, rows, groups, keys.length);
    let last: { readonly bucket: number; readonly slot: TalkerSlot | undefined } | undefined;
    for (const [group, { bucket, values }] of keys.entries()) {
      if (last?.bucket !== bucket) last = { bucket, slot: this.slotOf(bucket, context.now) };
      if (last.slot) addTalker(last.slot.sketch, labelsId(labelsOf(values)), amounts[group] as number);
    }
  }

  private rowsOf(batch: EventBatch, context: ConditionContext, since: number): Int32Array {
    const { when } = this.ranking;
    if (when.text === '' && since === 0) return allRows(batch);
    const mask = when.test(batch, context);
    if (since > 0) for (let row = 0; row < mask.length; row++) if ((batch.time[row] as number) < since) mask[row] = 0;
    return chosenRows(mask);
  }

  /** What each group of rows comes to. */
  private amountsOf(batch: EventBatch, rows: Int32Array, groups: Int32Array, count: number): Float64Array {
    const { amount, of } = this.ranking;
    const { weight } = batch;
    const sums = new Float64Array(count);
    const values = amount === 'bytes' ? batch.size : amount === 'sum' ? numbersOf(batch, of) : undefined;
    if (amount === 'sum' && !values) return sums;
    for (let i = 0; i < rows.length; i++) {
      const row = rows[i] as number;
      const value = values ? (values[row] as number) : 1;
      if (value > 0)
        sums[groups[i] as number] = (sums[groups[i] as number] as number) + value * (weight[row] as number);
    }
    return sums;
  }

  private slotOf(time: number, now: number): TalkerSlot | undefined {
    const level = talkerLevelAt(time, now);
    if (!level) return undefined;
    const start = stepStart(level, time);
    const id = `${level.level} ${start}`;
    let slot = this.byStart.get(id);
    if (!slot) this.byStart.set(id, (slot = { level, start, sketch: newTalkerSketch(fiveMinutes.most) }));
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
