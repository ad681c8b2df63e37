import type { Money } from '../money.ts';
import { monthOf } from '../month/calendar.ts';
import type { Prices } from '../prices.ts';

/** How much of a day's price for receiving is off: `off` parts of `of`. */
export interface DiscountShare {
  readonly off: bigint;
  readonly of: bigint;
}

const noDiscount: DiscountShare = { off: 0n, of: 1n };

/**
 * What is received on a day beyond the amount of the month above which there is a discount costs less, whoever sent it.
 * `receivedOn` tells the bytes of a day in all.
 */
export function discountOn(day: number, prices: Prices, receivedOn: (day: number) => number): DiscountShare {
  const discount = prices.entryOn(day)?.discount;
  if (!discount) return noDiscount;
  let before = 0;
  for (let at = monthOf(day).from; at < day; at++) before += receivedOn(at);
  const received = receivedOn(day);
  const over = Math.min(received, Math.max(0, before + received - discount.above * 1e9));
  if (over <= 0) return noDiscount;
  return {
    off: BigInt(Math.round(over)) * BigInt(Math.round(discount.percent * 10_000)),
    of: BigInt(Math.max(1, Math.round(received))) * 1_000_000n,
  };
}

/** An amount less what is off. */
export function discounted(amount: Money, { off, of }: DiscountShare): Money {
  return off === 0n ? amount : (amount * (of - off)) / of;
}
