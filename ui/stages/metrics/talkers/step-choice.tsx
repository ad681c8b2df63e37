import { ChevronLeft, ChevronRight } from 'lucide-react';
import type { RankingAnswer } from '../../../data/answers.ts';
import { Button } from '../../../kit/button.tsx';
import { dayAndMinute } from '../../../kit/times/times.ts';

/** Ranks by one step instead of the whole window, and goes to the one before or after. */
export function StepChoice(props: {
  readonly data: RankingAnswer;
  readonly onChoose: (time: number | undefined) => void;
}) {
  const { data, onChoose } = props;
  const { from, to, every, at, totals } = data;
  if (at === null) {
    const busiest = totals.indexOf(Math.max(...totals));
    return (
      <Button look="quiet" disabled={busiest < 0} onClick={() => onChoose(from + busiest * every)}>
        Rank one step
      </Button>
    );
  }
  return (
    <span className="flex items-center gap-1 text-[12.5px]">
      <Button look="quiet" aria-label="Previous step" disabled={at - every < from} onClick={() => onChoose(at - every)}>
        <ChevronLeft size={14} aria-hidden="true" />
      </Button>
      <span className="tabular-nums">{dayAndMinute(at)}</span>
      <Button look="quiet" aria-label="Next step" disabled={at + every >= to} onClick={() => onChoose(at + every)}>
        <ChevronRight size={14} aria-hidden="true" />
      </Button>
      <Button look="quiet" onClick={() => onChoose(undefined)}>
        Whole window
      </Button>
    </span>
  );
}
