import { dayLength, dayOf, monthOf, textOfDay } from '#core/costs/month/calendar.ts';
import type { CostMonthAnswer } from '../../data/answers.ts';
import { monthInWords } from '../../kit/times/month-in-words.ts';

/** Windows that costs are shown for. */
export const costWindows = ['month', '7d', '30d'] as const;

export type CostWindowName = (typeof costWindows)[number];

/** Days as the API takes them, the last one exclusive. */
export interface CostWindow {
  readonly from: string;
  readonly to: string;
  /** In words that read on after "beside". */
  readonly title: string;
}

const lengths = { '7d': 7, '30d': 30 } as const;

/** A window, seen from the month that is shown and from a time (milliseconds): full days, but for the month with today. */
export function windowOf(
  name: CostWindowName,
  month: Pick<CostMonthAnswer, 'from' | 'to' | 'isOver'>,
  now: number,
): CostWindow {
  const today = dayOf(now);
  if (name !== 'month') return days(today - lengths[name], today, `the last ${lengths[name]} full days`);
  const from = dayOf(month.from);
  if (month.isOver) return days(from, dayOf(month.to), monthInWords(month.from));
  return days(from, today + 1, 'the month so far');
}

/** What a window is compared with: as many days before it; of a month the same days of the month before. */
export function windowBefore(
  name: CostWindowName,
  month: Pick<CostMonthAnswer, 'from' | 'to' | 'isOver'>,
  now: number,
): CostWindow {
  const today = dayOf(now);
  if (name !== 'month')
    return days(today - 2 * lengths[name], today - lengths[name], `the ${lengths[name]} days before`);
  const from = dayOf(month.from);
  const before = monthOf(from - 1);
  const title = monthInWords(before.from * dayLength);
  if (month.isOver) return days(before.from, before.to, title);
  return days(before.from, Math.min(before.to, before.from + today + 1 - from), `the same days of ${title}`);
}

function days(from: number, to: number, title: string): CostWindow {
  return { from: textOfDay(from), to: textOfDay(to), title };
}
