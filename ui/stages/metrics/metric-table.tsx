'use client';

import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatCount } from '#core/events/units.ts';
import { describeKeys, describeMeasure } from '#core/plan/parts/metrics/describe-metric.ts';
import { Spark } from '../../charts/spark.tsx';
import type { MetricsAnswer, MetricView } from '../../data/answers.ts';
import { Figure } from '../../kit/figure.tsx';
import { figureInWords } from '../../parts/metrics/figures.ts';
import { draftStates } from './draft-states.ts';

/** The metrics of the plan; the one that is shown below is on land. */
export function MetricTable(props: {
  readonly answer: MetricsAnswer;
  readonly chosen: string;
  readonly onChoose: (id: string, state: MetricView['state']) => void;
  readonly onEdit: (id: string) => void;
}) {
  const { answer, chosen, onChoose, onEdit } = props;
  return (
    <table className="mt-2 w-full text-left">
      <caption className="sr-only">Metrics</caption>
      <thead className="text-[12.5px] text-second">
        <tr className="border-b border-hair">
          <th className="py-1 font-semibold">metric</th>
          <th className="font-semibold">of</th>
          <th className="font-semibold">last 24 h</th>
          <th className="font-semibold">by</th>
          <th className="pr-3 text-right font-semibold">series</th>
          {answer.currency && <th className="pr-2 text-right font-semibold whitespace-nowrap">a month</th>}
          <th className="w-16" aria-label="edit" />
        </tr>
      </thead>
      <tbody>
        {answer.metrics.map((metric) => (
          <MetricRow
            key={metric.id}
            metric={metric}
            currency={answer.currency}
            isChosen={metric.id === chosen}
            onChoose={() => onChoose(metric.id, metric.state)}
            onEdit={() => onEdit(metric.id)}
          />
        ))}
        {answer.metrics.length === 0 && (
          <tr>
            <td colSpan={7} className="py-2 text-second">
              No matching metric.
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

function MetricRow(props: {
  readonly metric: MetricView;
  readonly currency: Currency | null;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
  readonly onEdit: () => void;
}) {
  const { metric, currency, isChosen, onChoose, onEdit } = props;
  const { name, when, by, series, limit, trend, figure, unit, state, grownKey } = metric;
  const of = metric.of === '' ? undefined : metric.of;
  const last = trend.findLast((value) => value !== null) ?? null;
  return (
    <tr className={`border-b border-hair align-top ${isChosen ? 'bg-land' : ''}`}>
      <td className="py-2 pr-3">
        <button type="button" onClick={onChoose} className="text-left font-[650] hover:text-mark">
          {name}
        </button>
        <span className="block text-[12.5px] text-second">
          {describeMeasure({ measure: metric.measure, of })}
          {draftStates[state] && <span className="text-mark"> · {draftStates[state]}</span>}
        </span>
      </td>
      <td className="line max-w-[220px] truncate py-2 pr-3 text-[12.5px] text-second" title={when}>
        {when || 'everything'}
      </td>
      <td className="py-2 pr-3">
        {trend.some((value) => value !== null) ? (
          <span className="flex items-center gap-2">
            <Spark
              values={trend.map((value) => value ?? 0)}
              label={`${name} over the last day`}
              width={130}
              height={28}
            />
            <span className="text-[12.5px] text-second whitespace-nowrap" title="Of the half hour that is not over yet">
              {figureInWords(last, figure, unit)} this ½ h
            </span>
          </span>
        ) : (
          <span className="text-[12.5px] text-second">no data yet</span>
        )}
      </td>
      <td className="py-2 pr-3 text-[12.5px]">{by.length > 0 ? describeKeys({ by }) : '–'}</td>
      <td className="py-2 pr-3 text-right tabular-nums">
        <Figure name="metric series" of={`metric ${name}`} over="last 30 days" unit="series" value={series} plain>
          {formatCount(series)}
        </Figure>
        {grownKey !== '' && (
          <span className="block text-[12.5px] text-caution">
            ▲ {grownKey} grew past {formatCount(limit)}
          </span>
        )}
      </td>
      {currency && (
        <td className="py-2 pr-2 text-right tabular-nums whitespace-nowrap">{formatCoins(metric.coins, currency)}</td>
      )}
      <td className="py-2 text-right">
        {state !== 'removed' && (
          <button type="button" onClick={onEdit} className="text-mark text-[12.5px] hover:underline">
            Edit<span className="sr-only"> {name}</span>
          </button>
        )}
      </td>
    </tr>
  );
}
