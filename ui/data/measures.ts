import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';

/** What volume can be shown in, as the address has it. */
export const measureNames = ['bytes', 'events', 'money'] as const;

export type MeasureName = (typeof measureNames)[number];

/** What volume is shown in, as amounts have it. */
export type Measure = 'bytes' | 'events' | 'coins';

/** The measure of a name; bytes for money where nothing has a price. */
export function measureOf(name: MeasureName, currency: Currency | null | undefined): Measure {
  if (name === 'money') return currency ? 'coins' : 'bytes';
  return name;
}

/** Measures to choose from; money where there are prices. */
export function measureOptions(
  currency: Currency | null | undefined,
): readonly { readonly value: MeasureName; readonly title: string }[] {
  return measureNames
    .filter((name) => name !== 'money' || currency)
    .map((value) => ({ value, title: value.charAt(0).toUpperCase() + value.slice(1) }));
}

/** An amount of a measure, as it is shown. */
export function measured(value: number, measure: Measure, currency: Currency | null | undefined): string {
  if (measure === 'coins') return currency ? formatCoins(value, currency) : '';
  return measure === 'bytes' ? formatBytes(value) : formatCount(value);
}
