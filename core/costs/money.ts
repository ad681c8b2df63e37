/**
 * An amount of money in units so small that a byte at any price of a book, for a day of any month, is a whole number of them.
 * Amounts are added up as they are, in any order, and become coins where they are shown.
 */
export type Money = bigint;

/** Months have 28, 29, 30 or 31 days: this is a multiple of all of them. */
const multipleOfMonths = 377_580n;

/** Units of {@link Money} in one of the currency. */
export const unit = 10n ** 18n * multipleOfMonths;

/** Prices are in millionths of the currency: a book has at most six digits behind the point. */
export const millionths = 1e6;

/** What a byte costs at a price in millionths of the currency for 10⁹ of them. */
export function priceOfByte(price: number): Money {
  return BigInt(price) * 1_000n * multipleOfMonths;
}

/** What an event costs at a price in millionths of the currency for a million of them. */
export function priceOfEvent(price: number): Money {
  return BigInt(price) * 1_000_000n * multipleOfMonths;
}

/** What a byte that is stored for a day of a month of so many days costs, by the price of a month: its days share it equally. */
export function priceOfByteDay(price: number, daysOfMonth: number): Money {
  return BigInt(price) * 1_000n * (multipleOfMonths / BigInt(daysOfMonth));
}

/** What so many of something cost at the price of one. */
export function priceOf(count: number, one: Money): Money {
  return BigInt(Math.round(count)) * one;
}

/** What metric series cost for a month, at a price in millionths of the currency; a day's part of any month is whole. */
export function priceOfSeries(series: number, price: number): Money {
  return BigInt(series) * BigInt(price) * 1_000_000_000_000n * multipleOfMonths;
}

/** An amount in the currency, near enough for what is expected. */
export function inCurrency(amount: Money): number {
  return Number(amount) / Number(unit);
}

/** An amount in whole coins of so many digits behind the point (2: cents), the half one rounded away from zero. */
export function coinsOf(amount: Money, digits: number): number {
  const coin = unit / 10n ** BigInt(digits);
  const half = amount < 0n ? -coin / 2n : coin / 2n;
  return Number((amount + half) / coin);
}

/**
 * The coins of the parts of a whole, which add up to those of the whole: each part gets its whole coins, and those that are
 * left go to the parts with the largest remainders, of equal ones to the first (largest remainder method, A. Hamilton 1792).
 */
export function coinsOfParts(parts: readonly Money[], digits: number): readonly number[] {
  const coin = unit / 10n ** BigInt(digits);
  const whole = coinsOf(
    parts.reduce((sum, part) => sum + part, 0n),
    digits,
  );
  const coins = parts.map((part) => Number(floorDivided(part, coin)));
  const byRemainder = parts
    .map((part, place) => ({ place, rest: part - floorDivided(part, coin) * coin }))
    .sort((a, b) => (a.rest === b.rest ? a.place - b.place : a.rest < b.rest ? 1 : -1));
  const left = whole - coins.reduce((sum, count) => sum + count, 0);
  for (const { place } of byRemainder.slice(0, left)) coins[place] = (coins[place] as number) + 1;
  return coins;
}

function floorDivided(amount: Money, by: Money): Money {
  const whole = amount / by;
  return amount % by < 0n ? whole - 1n : whole;
}
