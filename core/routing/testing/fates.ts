import type { RoutedBatch } from '../route.ts';

/** Events of a batch’s ledger by outcome, tier and rule, such as `kept rest` or `excluded rest noise`. */
export function fates({ ledger }: RoutedBatch): Readonly<Record<string, number>> {
  const sums: Record<string, number> = {};
  for (const { outcome, tier, rule, events } of ledger) {
    const name = [outcome, tier, rule].filter((part) => part !== '').join(' ');
    sums[name] = (sums[name] ?? 0) + events;
  }
  return sums;
}
