import { wholeOf } from '../../costs/cost-table.ts';
import { inCurrency } from '../../costs/money.ts';
import { dayInWords, dayOf, textOfDay } from '../../costs/month/calendar.ts';
import { formatBytes } from '../../events/units.ts';
import { roundedUp } from '../../routing/cap-forecast.ts';
import { exactQuantile } from '../../sketches/exact-quantile.ts';
import type { ChangeKind } from './change-kind.ts';
import { monthlySaving } from './monthly-saving.ts';
import { tierDays } from './tier-days.ts';

/** Days that have to be known. */
const leastDays = 7;
/** A tier bursts if its busiest day has so many times as much as its usual one. */
const burst = 3;
/** The cap is so many times the usual day, so that only bursts meet it. */
const room = 2;

/** A cap for tiers that burst: what is past it goes to no tier. */
export const cap: ChangeKind = {
  kind: 'cap',
  suggest: ({ plan, series, prices, now }) =>
    plan.tiers.flatMap((tier) => {
      const known = tierDays(series, tier.id, dayOf(now));
      if (tier.cap || known.length < leastDays) return [];
      const usual = exactQuantile(
        known.map(({ bytes }) => bytes),
        0.5,
      );
      const busiest = known.reduce((most, one) => (one.bytes > most.bytes ? one : most));
      if (usual === 0 || busiest.bytes < burst * usual) return [];
      const amount = roundedUp(room * usual);
      const saved = known.map(({ flows, bytes }) => {
        const past = Math.max(0, bytes - amount) / Math.max(1, bytes);
        return flows.reduce((sum, flow) => {
          const cost = (outcome: string): number =>
            inCurrency(wholeOf(prices.costOf({ ...flow, outcome, stored: undefined })));
          return sum + past * (cost('kept') - cost('overflowed')) * 10 ** prices.currency.digits;
        }, 0);
      });
      return {
        ...{ id: `cap:${tier.id}`, ...monthlySaving(saved) },
        title: `Cap ${tier.title} at ${formatBytes(amount)} a day`,
        reason: `twice a usual day; ${dayInWords(textOfDay(busiest.day))} had ${formatBytes(busiest.bytes)}`,
        edit: { kind: 'cap', tier: tier.id, cap: { day: formatBytes(amount), over: 'passing' } },
      };
    }),
};
