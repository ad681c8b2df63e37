'use client';

import { useDeferredValue } from 'react';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatCount } from '#core/events/units.ts';
import { measures } from '#core/metrics/measures/index.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import type { MetricTrialAnswer, TriedKey } from '../../data/answers.ts';
import { call, useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';
import { percent } from '../../kit/times/times.ts';
import { figureInWords } from '../../parts/metrics/figures.ts';
import { MetricChart } from './metric-chart.tsx';

/** Asks what a metric would be made of. */
export async function tryMetric(metric: MetricDocument): Promise<MetricTrialAnswer> {
  return await call('tryMetric', { metric });
}

/** What a metric would be made of, as long as it is being written; null while nothing is known. */
export function useMetricTrial(metric: MetricDocument | undefined): MetricTrialAnswer | null {
  const asked = useDeferredValue(metric ? JSON.stringify(metric) : '');
  const { data } = useQuestion('tryMetric', asked ? { metric: JSON.parse(asked) } : null);
  return data ?? null;
}

/** Why a metric cannot be put into the draft: it would bring more series than it may have. Empty where it can. */
export function refusalOf(trial: MetricTrialAnswer, limit: number): string {
  const worst = worstKey(trial, limit);
  if (!worst) return '';
  const price =
    trial.currency && trial.priceOfAll > 0 ? `, ${formatCoins(trial.priceOfAll, trial.currency)} a month` : '';
  return `Grouped by ${worst.name} it has ${formatCount(trial.inMonth)} series${price}; the limit is ${formatCount(limit)}. Remove the key, keep its top values, or raise the limit.`;
}

/** The series of a metric before it exists, what they cost, and the ways out of too many. */
export function TriedSeries(props: {
  readonly trial: MetricTrialAnswer;
  readonly limit: number;
  readonly onLeaveOut: (key: string) => void;
  readonly onTop: (key: string) => void;
}) {
  const { trial, limit, onLeaveOut, onTop } = props;
  const worst = worstKey(trial, limit);
  const money = (coins: number): string => (trial.currency ? `, ${formatCoins(coins, trial.currency)} a month` : '');
  if (trial.records === 0)
    return (
      <p role="status" className="text-[12.5px] text-caution">
        ▲ No event on the tape of the last 24 h matches.
      </p>
    );
  const { likely, least, most } = trial.series;
  const isOver = trial.inMonth > limit;
  return (
    <div role="status" aria-label="Series" className="text-[13.5px] leading-[19px]">
      <p>
        <b className="font-[680]">≈ {formatCount(likely)} series</b>
        {least !== most && (
          <span className="text-second">
            {' '}
            (between {formatCount(least)} and {formatCount(most)})
          </span>
        )}{' '}
        at the rate of the last 24 h: {formatCount(trial.inMonth)} in 30 days{isOver ? '' : money(trial.coins)};{' '}
        {formatCount(trial.inAll)} over its whole retention.
        {isOver && ` With the limit of ${formatCount(limit)}${money(trial.coins)}.`}
      </p>
      {worst && (
        <div className="mt-1.5 border-l-2 border-mark pl-2.5">
          <p>
            <b className="font-[680] text-mark">{worst.name}</b> has ≈ {formatCount(worst.values.likely)} values per day
            {worst.isOpen && ', with new ones all the time'}: without a limit {formatCount(trial.inMonth)} series
            {trial.currency && trial.priceOfAll > 0 && `, ${formatCoins(trial.priceOfAll, trial.currency)} a month`}.
            Without it: {formatCount(worst.without.series)} series
            {money(worst.without.coins)}.
          </p>
          <p className="mt-1.5 flex flex-wrap gap-2">
            <Button onClick={() => onLeaveOut(worst.name)}>Remove key</Button>
            <Button onClick={() => onTop(worst.name)}>Keep top 20</Button>
          </p>
        </div>
      )}
    </div>
  );
}

/** The key that is to blame where there are more series than there may be. */
function worstKey(trial: MetricTrialAnswer, limit: number): TriedKey | undefined {
  if (trial.inMonth <= limit) return undefined;
  return [...trial.keys].sort((a, b) => a.without.series - b.without.series)[0];
}

/** Lines beside those that are drawn; of more than these none is drawn. */
const mostOthers = 20;

/** How it would look over the tape of the last day. */
export function TriedChart({ trial, metric }: { readonly trial: MetricTrialAnswer; readonly metric: MetricDocument }) {
  const measure = measures.get(metric.measure);
  const figure = measure?.figures[0]?.name ?? '';
  const unit = metric.unit ?? '';
  if (trial.records === 0 || !measure) return null;
  return (
    <Section
      title={`On the tape of the last day · ${formatCount(trial.events)} events`}
      className="border-t border-hair pt-3"
    >
      <MetricChart
        height={150}
        picture={{
          ...{ from: trial.from, every: trial.every, whole: trial.whole, figure, unit },
          // Many lines say less than all together.
          lines: trial.otherCount > mostOthers ? [] : trial.lines,
          ...{ isStacked: measure.additive, isSmall: true },
        }}
      />
      <dl className="mt-1 flex flex-wrap gap-x-4 gap-y-0.5 text-[12.5px]">
        {trial.figures.slice(0, 6).map(({ name, value }) => (
          <div key={name} className="flex gap-1.5">
            <dt className="text-second">{name}</dt>
            <dd className="tabular-nums">{figureInWords(value, name, unit)}</dd>
          </div>
        ))}
      </dl>
    </Section>
  );
}

/** Some values of a key, with the share of events that have them. */
export function KeyValues({ tried }: { readonly tried: TriedKey | undefined }) {
  if (!tried || tried.samples.length === 0) return null;
  return (
    <p className="line truncate text-[12px] text-second">
      {tried.samples
        .slice(0, 4)
        .map(({ value, share }) => `${value || '(empty)'} ${percent(share)}`)
        .join(' · ')}
    </p>
  );
}
