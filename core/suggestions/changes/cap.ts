import { exactCoinsSaved } from '../../costs/coins-saved.ts';
import { dayInWords, textOfDay } from '../../costs/month/calendar.ts';
import { formatBytes } from '../../events/units.ts';
import { roundedUp } from '../../routing/cap-forecast.ts';
import { exactQuantile } from '../../sketches/exact-quantile.ts';
import type { ChangeKind } from './change-kind.ts';
import { monthlySaving } from './monthly-saving.ts';

/** Days that have to be known. */
const leastDays = 7;
/** A tier bursts if its busiest day has so many times as much as its usual one. */
const burst = 3;
/** The cap is so many times the usual day, so that only bursts meet it. */
const room = 2;

/** A cap for tiers that burst: what is past it passes. */
export const cap: ChangeKind = {
  kind: 'cap',
  suggest: ({ plan, tierDaysOf, prices }) =>
    plan.tiers.flatMap((tier) => {
      const known = tierDaysOf(tier.id);
      if (tier.cap || known.length < leastDays) return [];
      const usual = exactQuantile(
        known.map(({ bytes }) => bytes),
        0.5,
      );
      const busiest = known.reduce((most, one) => (one.bytes > most.bytes ? one : most));
      if (usual === 0 || busiest.bytes < burst * usual) return [];
      const amount = roundedUp(room * usual);
      // What is past a cap costs as much as what is excluded.
      const saved = known.map(
        ({ flows, bytes }) => (Math.max(0, bytes - amount) / Math.max(1, bytes)) * exactCoinsSaved(flows, prices),
      );
      return {
        ...{ id: `cap:${tier.id}`, ...monthlySaving(saved) },
        title: `Cap ${tier.title} at ${formatBytes(amount)} a day`,
        reason: `twice a usual day; ${dayInWords(textOfDay(busiest.day))} had ${formatBytes(busiest.bytes)}`,
        edit: { kind: 'cap', tier: tier.id, cap: { day: formatBytes(amount), over: 'passing' } },
      };
    }),
};
