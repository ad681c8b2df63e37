import type { DaySeries } from '../../costs/day-series.ts';
import type { FlowVolume } from '../../costs/retention/lifetime.ts';

/** What was kept on a full day (days since 1970), of a tier or of a source. */
export interface KeptDay {
  readonly day: number;
  readonly flows: readonly FlowVolume[];
  readonly bytes: number;
}

/** Full days that are looked at. */
const mostDays = 14;

/** The last full days before `today` of what was kept of a tier or a source, at most two weeks, the earliest first. The day on which it began is left out. */
export function keptDays(kept: readonly DaySeries[], today: number): readonly KeptDay[] {
  const days = Array.from({ length: mostDays }, (_, i) => today - mostDays + i).map((day): KeptDay => {
    const flows = kept.flatMap(({ source, tier, outcome, from, events, bytes, stored }): FlowVolume[] => {
      const at = day - from;
      const volume = { events: events[at] ?? 0, bytes: bytes[at] ?? 0, stored: stored[at] ?? 0 };
      return volume.events > 0 ? [{ source, tier, outcome, ...volume }] : [];
    });
    return { day, flows, bytes: flows.reduce((sum, flow) => sum + flow.bytes, 0) };
  });
  const first = days.findIndex(({ flows }) => flows.length > 0);
  return first < 0 ? [] : days.slice(first === 0 ? 0 : first + 1);
}
