import { array, boolean, number, object, string } from 'yup';

/** Most entries, points of a curve, own rates of an entry, and budgets. */
const most = { entries: 500, points: 50, own: 200, budgets: 200 } as const;

/** Dearest price, in the currency; prices have at most six digits behind the point. */
const dearest = 1e9;

const price = number()
  .typeError('a price is a number, such as 9.5')
  .min(0, 'a price is not negative')
  .max(dearest, 'a price is at most 1,000,000,000')
  .test('digits', 'a price has at most six digits behind the point', (value) => {
    return (
      value === undefined ||
      value > dearest ||
      Math.abs(value * 1e6 - Math.round(value * 1e6)) < 1e-3 * Math.max(1, value)
    );
  });

const point = object({
  days: number().typeError('days are a number').required('say of how many days').min(0).max(10_000),
  price: price.required('say what it costs'),
}).noUnknown();

const rates = {
  received: price,
  kept: array(point).min(1, 'a curve has at least one point').max(most.points).default(undefined),
  stored: price,
  series: price,
  scanned: price,
  archived: price,
  sent: price,
};

const name = string().max(64);

const entry = object({
  from: string()
    .required('say from which day on it holds, such as 2026-10-01')
    .test('day', 'a day is written as 2026-10-01', isDay),
  ...rates,
  discount: object({
    above: number().typeError('an amount in GB').required('say above how many GB a month').min(0).max(1e12),
    percent: number().typeError('a number from 0 to 100').required('say how much off').min(0).max(100),
  })
    .noUnknown()
    .default(undefined),
  own: array(object({ team: name, tier: name, ...rates }).noUnknown())
    .max(most.own)
    .default(undefined),
}).noUnknown();

/** A price book as it is written; what no shape can say is looked at in `checkPriceBook`. */
export const priceBookShape = object({
  prices: number().oneOf([1], 'a price book begins with prices: 1').required('a price book begins with prices: 1'),
  currency: object({
    sign: string().trim().required('say what stands before an amount').max(8),
    digits: number().integer().min(0).max(4).default(2),
  })
    .noUnknown()
    .required(),
  entries: array(entry)
    .required('a price book has entries')
    .min(1, 'a price book has at least one entry')
    .max(most.entries),
  budgets: array(
    object({
      amount: number().typeError('a budget is a number').required('say how much').positive().max(1e15),
      team: name,
      fleet: name,
      tier: name,
    }).noUnknown(),
  )
    .max(most.budgets)
    .default(undefined),
  shown: boolean().typeError('shown is true or false').default(undefined),
}).noUnknown();

/** Whether a text is a day of the calendar. */
function isDay(text: string | undefined): boolean {
  const time = Date.parse(`${text}T00:00:00Z`);
  return /^\d{4}-\d\d-\d\d$/.test(text ?? '') && new Date(time || 0).toISOString().startsWith(text ?? '');
}
