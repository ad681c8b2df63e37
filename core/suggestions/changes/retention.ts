import { wholeOf } from '../../costs/cost-table.ts';
import { inCurrency } from '../../costs/money.ts';
import { dayOf } from '../../costs/month/calendar.ts';
import { day, hour } from '../../events/time-units.ts';
import { formatCount, formatDuration } from '../../events/units.ts';
import { keepOf } from '../../plan/retention.ts';
import { shorterKeep } from '../../usage/shorter-keep.ts';
import type { ChangeKind } from './change-kind.ts';
import { monthlySaving } from './monthly-saving.ts';
import { tierDays } from './tier-days.ts';

/** A shorter retention for tiers of which nothing older was read. */
export const retention: ChangeKind = {
  kind: 'retention',
  suggest: ({ plan, series, prices, usageOf, now }) =>
    plan.tiers.flatMap((tier) => {
      const keep = keepOf(plan, tier.id) ?? 0;
      const usage = usageOf(tier.id);
      const days = shorterKeep(usage, keep, now);
      const known = tierDays(series, tier.id, dayOf(now));
      if (days === undefined || known.length === 0) return [];
      const { digits } = prices.currency;
      const saved = known.map(({ flows }) =>
        flows.reduce((sum, flow) => {
          const cost = (time: number): number => inCurrency(wholeOf(prices.costOf(flow, { keepOf: () => time })));
          return sum + (cost(keep) - cost(days * day)) * 10 ** digits;
        }, 0),
      );
      return {
        ...{ id: `retention:${tier.id}`, ...monthlySaving(saved) },
        title: `Keep ${tier.title} ${days} d instead of ${formatDuration(keep / 1_000)}`,
        reason: reasonOf(usage.times, usage.oldestAge ?? 0),
        edit: { kind: 'retention', tier: tier.id, keep: `${days}d` },
      };
    }),
};

function reasonOf(times: number, oldestAge: number): string {
  const oldest = formatDuration(Math.max(1, Math.ceil(oldestAge / hour)) * 3_600);
  return `${formatCount(times)} ${times === 1 ? 'question' : 'questions'} in 30 days, none about events older than ${oldest}`;
}
