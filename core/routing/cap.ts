import { parseQuantity } from '../events/units.ts';
import type { ZoneDay } from './day-of-zone.ts';
import type { OverflowKind } from './overflow/overflow.ts';

/** What of the events counts against an allowance: how many they are, or their bytes as they arrived. */
export type CapUnit = 'events' | 'bytes';

/** A day's allowance as it is written. */
export interface DayAmount {
  readonly unit: CapUnit;
  readonly amount: number;
}

const largest = 1e15;

/** An allowance that nothing reaches. */
export const unlimited: DayAmount = { unit: 'bytes', amount: largest };

/** Reads `2 GB`, `500000 events` or `1.5M events`; undefined where it is neither, or nothing, or beyond all measure. */
export function parseDayAmount(text: string): DayAmount | undefined {
  const count = /^([\d.]+)\s*([kMG]?)\s*events?$/i.exec(text.trim().replaceAll(',', ''));
  const quantity = parseQuantity(text);
  const amount = count
    ? Math.round(Number(count[1]) * ({ k: 1e3, m: 1e6, g: 1e9 }[(count[2] ?? '').toLowerCase()] ?? 1))
    : quantity?.unit === 'size'
      ? Math.round(quantity.value)
      : Number.NaN;
  if (!(amount >= 1 && amount <= largest)) return undefined;
  return { unit: count ? 'events' : 'bytes', amount };
}

/** By which rule the ledger names what a tier keeps that was past the cap of another one. */
export function passedOnRule(tier: string): string {
  return `cap/${tier}`;
}

/** Whether a sum of the ledger, by outcome, tier and rule, is of what went past the cap of a tier. */
export function isPastCap(
  sum: { readonly outcome?: string; readonly tier?: string; readonly rule?: string },
  tier: string,
): boolean {
  return (sum.outcome === 'overflowed' && sum.tier === tier) || sum.rule === passedOnRule(tier);
}

/** The allowance of a tier for a day, ready to be kept. */
export interface CompiledCap extends DayAmount {
  /** Not lifted: what is over goes another way. */
  readonly isOn: boolean;
  readonly dayOf: (time: number) => ZoneDay;
  readonly overflow: OverflowKind;
  /** The tier, further down, that gets what is over; undefined where none does. */
  readonly to: string | undefined;
}
