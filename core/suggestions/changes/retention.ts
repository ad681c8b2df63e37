import { wholeOf } from '../../costs/cost-table.ts';
import { coinsOf, inCurrency } from '../../costs/money.ts';
import { daysOfMonth } from '../../costs/retention/lifetime.ts';
import { day, hour } from '../../events/time-units.ts';
import { formatCount, formatDuration } from '../../events/units.ts';
import { keepOf } from '../../plan/retention.ts';
import { shorterKeep } from '../../usage/shorter-keep.ts';
import type { ChangeKind } from './change-kind.ts';
import { monthlySaving } from './monthly-saving.ts';

/** A shorter retention for tiers of which nothing older was read. Its saving is that of the tier's panel: by the volume of the last week. */
export const retention: ChangeKind = {
  kind: 'retention',
  suggest: ({ plan, tierDaysOf, prices, retentionCostOf, usageOf, now }) =>
    plan.tiers.flatMap((tier) => {
      const keep = keepOf(plan, tier.id) ?? 0;
      const usage = usageOf(tier.id);
      const days = shorterKeep(usage, keep, now);
      if (days === undefined) return [];
      const week = retentionCostOf(tier.id, days * day);
      if (!week) return [];
      const saved = wholeOf(week.current) - wholeOf(week.changed);
      // Days differ by as much whatever of them is saved.
      const byDay = tierDaysOf(tier.id).map(({ flows }) =>
        flows.reduce((sum, flow) => {
          const cost = (time: number): number => inCurrency(wholeOf(prices.costOf(flow, { keepOf: () => time })));
          return sum + (cost(keep) - cost(days * day)) * 10 ** prices.currency.digits;
        }, 0),
      );
      return {
        id: `retention:${tier.id}`,
        coins: coinsOf((saved * BigInt(daysOfMonth)) / daysOfWeek, prices.currency.digits),
        band: monthlySaving(byDay).band,
        title: `Keep ${tier.title} ${days} d instead of ${formatDuration(keep / 1_000)}`,
        reason: reasonOf(usage.times, usage.oldestAge ?? 0),
        edit: { kind: 'retention', tier: tier.id, keep: `${days}d` },
      };
    }),
};

const daysOfWeek = 7n;

function reasonOf(times: number, oldestAge: number): string {
  const oldest = formatDuration(Math.max(1, Math.ceil(oldestAge / hour)) * 3_600);
  return `${formatCount(times)} ${times === 1 ? 'question' : 'questions'} in 30 days, none about events older than ${oldest}`;
}
