import type { SwitchesAnswer, SwitchView } from '#core/answers/switches.ts';
import { coinsOf } from '#core/costs/money.ts';
import type { VolumePrices } from '#core/costs/volume-prices.ts';
import { parseDuration } from '#core/events/units.ts';
import { operations } from '#core/operations/index.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { describeOverride } from '#core/plan/parts/postures/describe-override.ts';
import type { PostureDocument } from '#core/plan/parts/postures/postures-shape.ts';
import { withPosture } from '#core/plan/postures.ts';
import { flowsOf, type RehearsedFlow } from '#core/rehearsal/rehearsal-answer.ts';
import { addedCost } from '#core/rehearsal/rehearsal-money.ts';
import { mergeRehearsal, newRehearsal } from '#core/rehearsal/rehearse.ts';
import type { Amount, PricedAmount } from '#core/routing/volume-sums.ts';
import type { Queryable } from '#store/database.ts';
import { endPlanSwitch, type PlanSwitch, switchPlan } from '#store/plan/plan-switches.ts';
import { shownPrices } from '../../costs/shown-prices.ts';
import { exclusionSwitch, postureSwitch } from '../../plan/plan-switches.ts';
import { overTape } from '../../search/over-tape.ts';
import { command, question } from '../handler.ts';
import { Refusal } from '../refusal.ts';
import type { OperationServices } from '../services.ts';
import { livePlan } from './draft-answer.ts';

export const switches = question(operations.switches, async (_input, services): Promise<SwitchesAnswer> => {
  const now = Date.now();
  const { plan, revision } = services.plan.current();
  const running = services.switches.running(now);
  const switchOf = (name: string): SwitchView | null => {
    const found = running.find((one) => one.name === name);
    return found ? viewOf(found) : null;
  };
  const added = addedBy(services, plan, revision);
  const prices = await shownPrices(services.database, now);
  const addedTo = (posture: PostureDocument): PricedAmount | null => {
    const found = added?.get(posture.id);
    if (!found) return null;
    const { flows, ...amount } = found;
    const plans = { live: plan, draft: withPosture(plan, posture) };
    return { ...amount, coins: prices ? coinsAnHour(flows, prices, plans) : 0 };
  };
  return {
    currency: prices?.currency ?? null,
    postures: (plan.postures ?? []).map((posture) => {
      const { id, title, reason = '', fleet = '', overrides } = posture;
      return {
        ...{ id, title, reason, fleet },
        overrides: overrides.map(describeOverride),
        on: switchOf(postureSwitch(id)),
        adds: addedTo(posture),
      };
    }),
    exclusions: plan.tiers.flatMap((tier) =>
      (tier.exclusions ?? []).flatMap(({ id, title }) => {
        const found = running.find(({ name }) => name === exclusionSwitch(`${tier.id}/${id}`));
        return found ? [{ ...viewOf(found), tier: tier.id, exclusion: id, title, keep: found.keep }] : [];
      }),
    ),
  };
});

function viewOf({ since, until, reason, who }: PlanSwitch): SwitchView {
  return { since, until, reason, who };
}

/** Most taped records by which it is told what a posture adds. */
const mostRecords = 12_000;
/** For how long that is not asked again, in milliseconds. */
const addedStays = 300_000;

interface Added {
  readonly revision: number;
  readonly at: number;
  /** By posture, what it adds in an hour; undefined while it is being found out. */
  amounts: ReadonlyMap<string, AddedAmount> | undefined;
}

/** What a posture adds in an hour, and what flows with and without it in a day. */
interface AddedAmount extends Amount {
  readonly flows: readonly RehearsedFlow[];
}

const addedOf = new WeakMap<OperationServices['plan'], Added>();

/** What each posture adds in an hour; found out beside the answer, which does not wait for it. */
function addedBy(
  services: OperationServices,
  plan: PlanDocument,
  revision: number,
): ReadonlyMap<string, AddedAmount> | undefined {
  const known = addedOf.get(services.plan);
  const isFresh = known && known.revision === revision && Date.now() - known.at < addedStays;
  if (isFresh || (plan.postures ?? []).length === 0) return known?.amounts;
  const before = known?.revision === revision ? known.amounts : undefined;
  const added: Added = { revision, at: Date.now(), amounts: before };
  addedOf.set(services.plan, added);
  findAdded(services, plan).then(
    (amounts) => {
      added.amounts = amounts;
    },
    () => addedOf.delete(services.plan),
  );
  return before;
}

async function findAdded(
  { database, pools, senders }: OperationServices,
  live: PlanDocument,
): Promise<ReadonlyMap<string, AddedAmount>> {
  const amounts = new Map<string, AddedAmount>();
  const now = Date.now();
  const { tables, fleets } = senders;
  for (const posture of live.postures ?? []) {
    const merged = newRehearsal();
    const draft = withPosture(live, posture);
    await overTape(
      { database, pools, now, mostRecords },
      (lane, part) =>
        pools.read(lane, { kind: 'rehearse', live, draft, tables, fleets, of: { kind: 'tape', ...part }, now }),
      (part) => mergeRehearsal(merged, part),
    );
    const { draft: on, live: off } = merged;
    const sum = (part: 'events' | 'bytes'): number =>
      [...on.tiers.values()].reduce((all, tier) => all + tier[part], 0) -
      [...off.tiers.values()].reduce((all, tier) => all + tier[part], 0);
    amounts.set(posture.id, { events: sum('events') / 24, bytes: sum('bytes') / 24, flows: flowsOf(merged) });
  }
  return amounts;
}

/** Coins that an hour costs more with a posture, by a day's flows. */
function coinsAnHour(
  flows: readonly RehearsedFlow[],
  prices: VolumePrices,
  plans: { readonly live: PlanDocument; readonly draft: PlanDocument },
): number {
  return coinsOf(addedCost(flows, prices, plans) / 24n, prices.currency.digits);
}

async function turn(tx: Queryable, row: PlanSwitch, isOn: boolean): Promise<void> {
  if (isOn) await switchPlan(tx, row);
  else await endPlanSwitch(tx, row.name, row.since);
}

export const switchPosture = command(operations.switchPosture, {
  subject: ({ id, on }) => `${id} ${on ? 'on' : 'off'}`,
  carryOut: async ({ id, on, for: time, reason }, { tx, now, who }) => {
    const { plan } = await livePlan(tx);
    const posture = plan.postures?.find((one) => one.id === id || one.title === id);
    if (!posture) throw new Refusal(404, '', `The live plan has no posture ${id}.`);
    const until = now + (parseDuration(time) ?? 0);
    await turn(tx, { name: postureSwitch(posture.id), keep: '', since: now, until, reason, who }, on);
    return { id: posture.id, on, ...(on && { until }) };
  },
});

/** The exclusion of the live plan that is meant; refuses where there is none. */
async function exclusionOf(tx: Queryable, tier: string, exclusion: string): Promise<string> {
  const { plan } = await livePlan(tx);
  const found = plan.tiers.find(({ id }) => id === tier)?.exclusions?.some(({ id }) => id === exclusion);
  if (!found) throw new Refusal(404, '', `The live plan has no exclusion ${tier}/${exclusion}.`);
  return exclusionSwitch(`${tier}/${exclusion}`);
}

export const switchExclusion = command(operations.switchExclusion, {
  subject: ({ tier, exclusion, keep }) => `${tier}/${exclusion} ${keep}`,
  carryOut: async ({ tier, exclusion, keep, for: time, reason }, { tx, now, who }) => {
    const name = await exclusionOf(tx, tier, exclusion);
    const until = now + (parseDuration(time) ?? 0);
    await turn(tx, { name, keep, since: now, until, reason, who }, true);
    return { tier, exclusion, keep, until };
  },
});

export const restoreExclusion = command(operations.restoreExclusion, {
  subject: ({ tier, exclusion }) => `${tier}/${exclusion}`,
  carryOut: async ({ tier, exclusion }, { tx, now }) => {
    await endPlanSwitch(tx, await exclusionOf(tx, tier, exclusion), now);
    return {};
  },
});
