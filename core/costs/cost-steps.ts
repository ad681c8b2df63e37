import { monthOf } from './month/calendar.ts';

/** In what steps costs are given. */
export const costSteps = ['day', 'week', 'month'] as const;

export type CostStep = (typeof costSteps)[number];

/** 1970-01-01 was a Thursday: weeks begin four days later. */
const firstMonday = 4;

/** The days on which steps of a window (`from` up to `to`) begin, the first on its first day; weeks begin on Mondays. */
export function stepStarts(from: number, to: number, step: CostStep): readonly number[] {
  const starts: number[] = [];
  for (let day = from; day < to; day++) if (day === from || step === 'day' || isFirst(day, step)) starts.push(day);
  return starts;
}

function isFirst(day: number, step: CostStep): boolean {
  return step === 'week' ? (day - firstMonday) % 7 === 0 : monthOf(day).from === day;
}
