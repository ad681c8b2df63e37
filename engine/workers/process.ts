import { LRUCache } from 'lru-cache';
import { LookShare } from '#core/arrivals/look-share.ts';
import { type Condition, conditionOf } from '#core/conditions/condition.ts';
import type { FollowerChoice, GroupContext } from '#core/consumers/consumer.ts';
import { beginGroup, type Effects } from '#core/consumers/index.ts';
import type { ReadResult } from '#core/formats/read.ts';
import type { CompiledPlan } from '#core/plan/compile.ts';
import type { Switched } from '#core/plan/postures.ts';
import { Allowances, type UsedDay } from '#core/routing/allowances.ts';
import { Ledger } from '#core/routing/ledger.ts';
import { seededRandom } from '#core/routing/route.ts';
import type { Delivery, DeliveryAnswer } from '../deliveries/delivery.ts';
import { giveWay } from './give-way.ts';
import { handedOver } from './handed-over.ts';
import { livePlan, PlanUnready } from './plans.ts';
import { quickDeflate } from './quick-deflate.ts';
import { readDelivery } from './read-delivery.ts';
import { currentShape, refreshShapes, shaper } from './shapes.ts';
import { workerNiceness } from './worker-database.ts';

giveWay(workerNiceness());

/** How much of what comes in this thread looks at for those who watch. */
const lookShare = new LookShare();

/** Conditions of open views, ready to be asked. */
const watchedFor = new LRUCache<string, Condition>({
  max: 100,
  memoMethod: (condition) => conditionOf(condition),
});

/** Deliveries to be run through a plan together. */
export interface ProcessTask {
  readonly deliveries: readonly Delivery[];
  /** Of the plan: the thread reads it once. */
  readonly revision: number;
  readonly now: number;
  /** When each table that steps look values up in was last changed (milliseconds). */
  readonly tables: Readonly<Record<string, number>>;
  /** Whether steps are weighed, traits gathered and profiles taken, which is done for some groups only. */
  readonly profiled: boolean;
  readonly followers: readonly FollowerChoice[];
  /** The views of arrivals that are open. */
  readonly views?: readonly { readonly id: number; readonly condition: string }[];
  /** What of the plan is switched at `now`. */
  readonly switched: Switched;
  /** What of the days of tiers with caps is used; absent where no tier has one. */
  readonly used?: readonly UsedDay[];
  /** Up to which version what was decided about shapes has to be known. */
  readonly shapes: number;
}

/** What a worker made of some deliveries; nothing of it is stored yet. */
export interface ProcessResult {
  readonly answers: readonly DeliveryAnswer[];
  /** How many milliseconds each delivery took, with its part of what is made of all together. */
  readonly times: readonly number[];
  readonly effects: Effects;
}

/** Why nothing can be processed for now, which is no delivery's fault. */
export interface Unready {
  readonly unready: string;
}

/** Reads, parses and routes deliveries, and has all consumers take them in. */
export default async function processDeliveries(task: ProcessTask): Promise<ProcessResult | Unready> {
  try {
    await refreshShapes(task.shapes);
    const { bytes, ...result } = processGroup(await livePlan(task.revision, task.tables, task.switched), task);
    return handedOver(result, bytes);
  } catch (error) {
    if (error instanceof PlanUnready) return { unready: error.message };
    throw error;
  }
}

/** Runs deliveries through a plan; with what came of it, the bytes in it that may be handed over. */
export function processGroup(
  plan: CompiledPlan,
  task: Omit<ProcessTask, 'tables' | 'shapes' | 'switched'>,
): ProcessResult & { readonly bytes: readonly Uint8Array[] } {
  const random = seededRandom(Math.floor(Math.random() * 0x7fffffff));
  const { now, revision, profiled, followers, views = [] } = task;
  const allowances = task.used && new Allowances(task.used);
  const group: GroupContext = {
    now,
    revision,
    profiled,
    followers,
    deflate: quickDeflate,
    ledger: new Ledger(),
    steps: new Map(),
    newShapes: () => shaper.takeNew(),
    currentShape,
    allowances,
    ...(views.length > 0 && { watched: { views: views.map(opened), share: lookShare, random } }),
  };
  shaper.begin();
  const takes = beginGroup(plan, group);
  const take = (delivery: Delivery): DeliveryAnswer => {
    const read = readDelivery(delivery);
    if ('kind' in read) return read;
    const { records, replaced } = read;
    const result = { ...read.result, batch: shaper.shaped(read.result.batch) };
    const { backfill, fleets, notBefore } = delivery;
    // What steps do is measured live: history that is brought in says nothing about a day.
    allowances?.mark();
    const measured = backfill ? {} : { measures: group.steps, weigh: profiled };
    const routed = plan.run(result.batch, {
      now,
      random,
      since: notBefore,
      expires: true,
      currentShape,
      allowances,
      ...measured,
      ...(fleets && { fleets }),
    });
    if (routed.refusedBy && delivery.refusable) {
      allowances?.takeBack();
      return { kind: 'capped', ...routed.refusedBy };
    }
    takes.add({ delivery, read: result, records, routed });
    return {
      kind: 'stored',
      accepted: result.batch.rows,
      rejected: result.rejected,
      problems: result.problems,
      notes: notesOf(result, replaced),
    };
  };
  const begun = performance.now();
  const ends: number[] = [];
  const answers = task.deliveries.map((delivery) => {
    const answer = take(delivery);
    ends.push(performance.now());
    return answer;
  });
  const made = takes.finish();
  return { answers, times: timesOf(begun, ends), ...made };
}

/** What each part of some work took, by when it ended, with its share of what came after all of them until now. */
function timesOf(begun: number, ends: readonly number[]): readonly number[] {
  const ended = ends.at(-1) ?? begun;
  const share = (performance.now() - begun) / Math.max(ended - begun, 0.001);
  return ends.map((end, i) => (end - (ends[i - 1] ?? begun)) * share);
}

function opened({ id, condition }: { readonly id: number; readonly condition: string }) {
  return { id, condition: watchedFor.memo(condition) };
}

function notesOf(result: ReadResult, replaced: boolean): readonly string[] {
  const notes: string[] = [];
  if (replaced) notes.push('Some bytes were no UTF-8; each was replaced by U+FFFD.');
  if (result.timesNotBelieved > 0) {
    notes.push(
      `${result.timesNotBelieved} events had a time far from their arrival; the time of arrival was used and theirs kept in time.given.`,
    );
  }
  if (result.attributesLeftOut > 0) {
    notes.push(
      `${result.attributesLeftOut} values were left out: a request may have at most 500 different field names, of at most 256 bytes each.`,
    );
  }
  return notes;
}
