import { ChevronLeft, ChevronRight } from 'lucide-react';
import { dayOf, monthOf, textOfDay } from '#core/costs/month/calendar.ts';
import type { CostMonthAnswer } from '../../data/answers.ts';
import { Button } from '../../kit/button.tsx';

/** Goes to the month before the one that is shown, and back; `onChange` gets `2026-10`, or null for the one that is not over. */
export function WhichMonth({
  month: { from, to, isOver },
  onChange,
}: {
  readonly month: CostMonthAnswer;
  readonly onChange: (month: string | null) => void;
}) {
  const go = (day: number): void => {
    const { from: first, to: end } = monthOf(day);
    onChange(end > dayOf(Date.now()) ? null : textOfDay(first).slice(0, 7));
  };
  return (
    <span>
      <Button look="quiet" aria-label="Previous month" onClick={() => go(dayOf(from) - 1)}>
        <ChevronLeft size={16} aria-hidden="true" />
      </Button>
      <Button look="quiet" aria-label="Next month" disabled={!isOver} onClick={() => go(dayOf(to))}>
        <ChevronRight size={16} aria-hidden="true" />
      </Button>
    </span>
  );
}
