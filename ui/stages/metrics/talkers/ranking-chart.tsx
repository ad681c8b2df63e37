'use client';

import { useCallback, useMemo } from 'react';
import type { RankingAnswer } from '../../../data/answers.ts';
import { MetricChart } from '../metric-chart.tsx';

/** Who contributed most by step, on top of one another; a click ranks by the step under it. */
export function RankingChart({
  data,
  onChoose,
}: {
  readonly data: RankingAnswer;
  readonly onChoose: (time: number) => void;
}) {
  const { from, to, every, at, totals, total, talkers, isRunning } = data;
  const picture = useMemo(
    () => ({
      ...{ from, every, isRunning },
      whole: { labels: [], values: totals, all: total },
      lines: talkers.slice(0, 8).map(({ name, values, amount }) => ({ labels: [name], values, all: amount })),
      figure: data.measure === 'events' ? 'count' : 'sum',
      unit: data.measure === 'bytes' ? 'By' : '',
      isStacked: true,
      marked: at === null ? null : { from: at, to: at + every },
    }),
    [from, every, isRunning, totals, total, talkers, data.measure, at],
  );
  const choose = useCallback(
    (time: number) => {
      const step = from + Math.floor((time - from) / every) * every;
      if (step >= from && step < to) onChoose(step);
    },
    [from, to, every, onChoose],
  );
  return <MetricChart height={220} picture={picture} onTime={choose} />;
}
