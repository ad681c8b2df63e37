import type { DaySeries } from '../../costs/day-series.ts';
import type { FlowVolume } from '../../costs/retention/lifetime.ts';

/** Full days that are looked at. */
const mostDays = 14;

/** What a tier kept on each of its last full days, at most two weeks, the earliest first: by source. Days before its first events are left out. */
export function tierDays(
  series: readonly DaySeries[],
  tier: string,
  today: number,
): readonly { readonly day: number; readonly flows: readonly FlowVolume[]; readonly bytes: number }[] {
  const kept = series.filter((one) => one.tier === tier && one.outcome === 'kept');
  const days = Array.from({ length: mostDays }, (_, i) => today - mostDays + i).map((day) => {
    const flows = kept.flatMap(({ source, outcome, from, events, bytes, stored }): FlowVolume[] => {
      const at = day - from;
      const volume = { events: events[at] ?? 0, bytes: bytes[at] ?? 0, stored: stored[at] ?? 0 };
      return volume.events > 0 ? [{ source, tier, outcome, ...volume }] : [];
    });
    return { day, flows, bytes: flows.reduce((sum, flow) => sum + flow.bytes, 0) };
  });
  const first = days.findIndex(({ flows }) => flows.length > 0);
  // The first day is not a whole one.
  return first < 0 ? [] : days.slice(days[first]?.day === today - mostDays ? first : first + 1);
}
