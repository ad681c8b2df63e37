import { dayLength } from '../costs/month/calendar.ts';
import type { PlanDocument } from '../plan/document.ts';
import { compileCap } from '../plan/parts/tiers/compile-tier.ts';
import type { CapUnit } from '../routing/cap.ts';
import type { Move } from './moves.ts';
import { isNowhere, type SlottedWindow, slotCount } from './transitions.ts';

/** The daily volume of a tier with a cap, and when it would meet the cap. */
export interface CapMeeting {
  readonly tier: string;
  readonly unit: CapUnit;
  readonly amount: number;
  /** The daily volume without the cap, in the cap's unit. */
  readonly wanted: number;
  /** Milliseconds after midnight in the cap's time zone; null if not met. */
  readonly meets: number | null;
}

/** The caps of the live plan and of the draft. */
export interface CapMeetings {
  readonly live: readonly CapMeeting[];
  readonly draft: readonly CapMeeting[];
}

/** The active caps of a plan on a day like the rehearsed ones; `withExtra` includes the surge. */
export function capMeetings(
  plan: PlanDocument,
  moves: readonly Move[],
  of: 'live' | 'draft',
  window: SlottedWindow,
  withExtra: boolean,
): readonly CapMeeting[] {
  return plan.tiers.flatMap(({ id, cap }) => {
    const compiled = cap && compileCap(cap);
    if (!compiled?.isOn) return [];
    const slots = slotsOfTier(moves, id, of, compiled.unit, withExtra);
    const length = (window.to - window.from) / slotCount;
    const timed = Array.from(slots, (amount, slot) => {
      const start = window.from + slot * length;
      return { amount, since: start - compiled.dayOf(start).start };
    }).sort((a, b) => a.since - b.since);
    let total = 0;
    let meets: number | null = null;
    for (const { amount, since } of timed) {
      if (meets === null && total + amount >= compiled.amount)
        meets = Math.min(dayLength, since + (amount > 0 ? ((compiled.amount - total) / amount) * length : 0));
      total += amount;
    }
    return [{ tier: id, unit: compiled.unit, amount: compiled.amount, wanted: total, meets }];
  });
}

/** The volume that a tier keeps by slot, scaled to the answer's span. */
function slotsOfTier(
  moves: readonly Move[],
  tier: string,
  of: 'live' | 'draft',
  unit: CapUnit,
  withExtra: boolean,
): Float64Array {
  const sums = new Float64Array(slotCount);
  for (const move of moves) {
    const [outcome, where] = move[of];
    if (isNowhere(move[of]) || outcome !== 'kept' || where !== tier) continue;
    const inWindow = move.slots.reduce((sum, bytes) => sum + bytes, 0);
    if (inWindow === 0) continue;
    const factor = (unit === 'bytes' ? move.bytes : move.events) / inWindow;
    for (let slot = 0; slot < slotCount; slot++)
      sums[slot] =
        (sums[slot] as number) + factor * ((move.slots[slot] ?? 0) + (withExtra ? (move.extra[slot] ?? 0) : 0));
  }
  return sums;
}
