import { wholeOf } from '../costs/cost-table.ts';
import type { Money } from '../costs/money.ts';
import { type FlowVolume, flowOf, type KeepOf } from '../costs/retention/lifetime.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';
import type { PlanDocument } from '../plan/document.ts';
import { keepOf } from '../plan/retention.ts';
import type { VolumeSum } from '../routing/volume-sums.ts';
import type { RehearsedFlow } from './flows.ts';

/** The flows of a rehearsal that can differ in cost, without the rules that made them: enough to tell what came of it. */
export function flowsOfChange(flows: readonly RehearsedFlow[]): readonly RehearsedFlow[] {
  const places = new Map<string, RehearsedFlow>();
  for (const {
    place: [source, outcome, tier],
    live,
    draft,
  } of flows) {
    const key = JSON.stringify([source, outcome, tier]);
    const known = places.get(key) ?? { live: nothing, draft: nothing };
    places.set(key, {
      place: [source, outcome, tier, ''],
      live: plus(known.live, live),
      draft: plus(known.draft, draft),
    });
  }
  return [...places.values()];
}

const nothing = { events: 0, bytes: 0 };

function plus(a: RehearsedFlow['live'], b: RehearsedFlow['live']): RehearsedFlow['live'] {
  return { events: a.events + b.events, bytes: a.bytes + b.bytes };
}

/** The plan before a revision, and its own. */
export interface RevisionPlans {
  readonly before: PlanDocument;
  readonly after: PlanDocument;
}

/**
 * By how much what came on each day (its start in milliseconds) while a revision was live costs less than it would have with the plan
 * before, as that was rehearsed; negative where it costs more. `came` are sums by day, source, outcome and tier. Only sources whose
 * events the rehearsal found to cost something else count: of all others nothing was changed.
 */
export function savedByRevision(
  flows: readonly RehearsedFlow[],
  came: readonly VolumeSum[],
  prices: VolumePrices,
  plans: RevisionPlans,
): ReadonlyMap<number, Money> {
  const keeps =
    (plan: PlanDocument): KeepOf =>
    (tier) =>
      keepOf(plan, tier) ?? 0;
  const [before, after] = [keeps(plans.before), keeps(plans.after)];
  const bySource = new Map<string, RehearsedFlow[]>();
  for (const flow of flows) bySource.set(flow.place[0], [...(bySource.get(flow.place[0]) ?? []), flow]);
  const costOf = (list: readonly FlowVolume[], keep: KeepOf, at?: number): Money =>
    // What is stored of events that did not come is not known: both sides are reckoned alike.
    list.reduce((sum, flow) => sum + wholeOf(prices.costOf({ ...flow, stored: undefined }, { keepOf: keep, at })), 0n);
  const saved = new Map<number, Money>();
  for (const [source, rehearsed] of bySource) {
    const live = rehearsed.map((flow) => volumeOf(flow, 'live'));
    const draft = rehearsed.map((flow) => volumeOf(flow, 'draft'));
    const bytes = live.reduce((sum, flow) => sum + flow.bytes, 0);
    if (bytes === 0 || costOf(live, before) === costOf(draft, after)) continue;
    for (const [start, flows] of byDay(came.filter((sum) => sum.source === source))) {
      const times = flows.reduce((sum, flow) => sum + flow.bytes, 0) / bytes;
      const unchanged = live.map((flow) => ({ ...flow, events: flow.events * times, bytes: flow.bytes * times }));
      const less = costOf(unchanged, before, start) - costOf(flows, after, start);
      saved.set(start, (saved.get(start) ?? 0n) + less);
    }
  }
  return saved;
}

function volumeOf({ place: [source, outcome, tier], ...volumes }: RehearsedFlow, of: 'live' | 'draft'): FlowVolume {
  return { source, outcome, tier, ...volumes[of] };
}

function byDay(sums: readonly VolumeSum[]): ReadonlyMap<number, readonly FlowVolume[]> {
  const days = new Map<number, FlowVolume[]>();
  for (const sum of sums) days.set(sum.start, [...(days.get(sum.start) ?? []), flowOf(sum)]);
  return days;
}
