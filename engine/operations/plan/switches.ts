import type { SwitchesAnswer, SwitchView } from '#core/answers/switches.ts';
import { coinsOf } from '#core/costs/money.ts';
import type { VolumePrices } from '#core/costs/volume-prices.ts';
import { parseDuration } from '#core/events/units.ts';
import { operations } from '#core/operations/index.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { describeOverride } from '#core/plan/parts/postures/describe-override.ts';
import type { PostureDocument } from '#core/plan/parts/postures/postures-shape.ts';
import { withPosture } from '#core/plan/postures.ts';
import type { RehearsedFlow } from '#core/rehearsal/flows.ts';
import { addedCost } from '#core/rehearsal/rehearsal-money.ts';

import type { PricedAmount } from '#core/routing/volume-sums.ts';
import type { Queryable } from '#store/database.ts';
import { endPlanSwitch, type PlanSwitch, switchPlan } from '#store/plan/plan-switches.ts';
import { exclusionSwitch, postureSwitch } from '../../plan/plan-switches.ts';
import { livePlan } from '../../plan/stored-plans.ts';
import { command, question } from '../handler.ts';
import { Refusal } from '../refusal.ts';

export const switches = question(operations.switches, async (_input, services): Promise<SwitchesAnswer> => {
  const now = Date.now();
  const { plan, revision } = services.plan.current();
  const running = services.switches.running(now);
  const switchOf = (name: string): SwitchView | null => {
    const found = running.find((one) => one.name === name);
    return found ? viewOf(found) : null;
  };
  const added = services.additions.of(plan, revision);
  const prices = await services.costs.prices(now);
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
