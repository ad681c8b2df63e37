'use client';

import Link from 'next/link';
import { parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { withPart } from '#core/conditions/parts.ts';
import { equalsText, writeField } from '#core/conditions/write.ts';
import { formatDuration } from '#core/events/units.ts';
import { labelInWords, theRest } from '#core/metrics/labels.ts';
import { measures } from '#core/metrics/measures/index.ts';
import { keyName } from '#core/plan/parts/metrics/metric.ts';
import { metricCsv } from '#core/views/metric-csv.ts';
import type { MetricAnswer, MetricView } from '../../data/answers.ts';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { saveFile } from '../../kit/save-file.ts';
import { Problem, Section } from '../../kit/section.tsx';
import { Select } from '../../kit/select.tsx';
import { dayAndMinute, dayOf, inOtherZone } from '../../kit/times/times.ts';
import { figureInWords } from '../../parts/metrics/figures.ts';
import { ReadBy } from '../../parts/read-by.tsx';
import { MetricChart } from './metric-chart.tsx';
import { metricWindows } from './windows.ts';

/** One metric: its chart over a window, by its keys, its table and where it comes from. */
export function MetricDetail({ metric: { id, measure, by: keys } }: { readonly metric: MetricView }) {
  const [{ window, by: wanted, figure: wantedFigure, before }, choose] = useQueryStates({
    window: parseAsString.withDefault('1d'),
    by: parseAsString.withDefault(''),
    figure: parseAsString.withDefault(''),
    before: parseAsStringLiteral(['', 'yes']).withDefault(''),
  });
  const chosen = metricWindows.find(({ value }) => value === window) ?? metricWindows[0];
  const names = keys.map(keyName);
  // What the address says may be of another metric.
  const by = wanted
    .split(',')
    .filter((name) => names.includes(name))
    .join(',');
  const figure = measures.get(measure)?.figures.find(({ name }) => name === wantedFigure)?.name;
  const given = {
    id,
    from: chosen.from,
    ...(by && { by }),
    ...(figure && { figure }),
    ...(before && { before }),
  };
  const { data, error } = useQuestion('metric', given, 10_000);
  const since = useLinesSince(data);
  if (error) return <Problem>{error.message}</Problem>;
  if (!data || data.id !== id) return null;
  const isAdditive = measures.get(measure)?.additive === true;
  return (
    <>
      <Section
        title={`${data.name}${data.by.length > 0 ? ` · by ${data.by.join(', ')}` : ''} · by ${formatDuration(data.every / 1_000)}`}
        className="mt-6"
        aside={
          <PictureChoices
            data={data}
            by={by}
            window={chosen.value}
            isBeside={before === 'yes'}
            onChoose={(next) => void choose(next)}
          />
        }
      >
        <MetricChart
          height={230}
          picture={{
            ...data,
            isStacked: isAdditive && data.figure === (measures.get(measure)?.figures[0]?.name ?? ''),
            linesSince: since ?? null,
            filled: data.fill && data.begun !== null ? { from: data.fill.from, to: data.begun } : null,
          }}
        />
        {since !== undefined && since > data.from + data.every && (
          <p className="mt-1 text-[12.5px] text-second">
            Its events are stored since {dayAndMinute(since)}: earlier ones have expired.
          </p>
        )}
      </Section>
      <ReadBy kind="metric" name={data.id} className="mt-1 text-[12.5px] text-second" />
      <MetricLines data={data} keys={keys} />
      <Origins data={data} />
    </>
  );
}

/** Since when events that a metric is of can be found (milliseconds); undefined where that is not known. */
function useLinesSince(metric: MetricAnswer | undefined): number | undefined {
  const question = useMemo(
    () =>
      metric && {
        condition: metric.when,
        from: new Date(metric.from).toISOString(),
        to: new Date(metric.to).toISOString(),
        show: 'first(time) as first',
        limit: 0,
        fields: false,
        background: true,
      },
    [metric],
  );
  const { data, isLoading } = useQuestion('search', question ?? null);
  // While it is loading, `data` still belongs to the previous question.
  const first = isLoading ? undefined : data?.summary?.rows[0]?.[0];
  return typeof first === 'number' ? first : undefined;
}

function MetricLines({ data, keys }: { readonly data: MetricAnswer; readonly keys: MetricView['by'] }) {
  const { lines, whole, figure, unit, otherCount, others } = data;
  const rows = lines.length > 0 ? lines : [{ ...whole, labels: ['total'] }];
  return (
    <Section
      title="Total over the window"
      className="mt-5"
      aside={
        <Button look="quiet" onClick={() => saveFile(`${data.name}.csv`, 'text/csv', metricCsv(data))}>
          CSV
        </Button>
      }
    >
      <table className="w-full text-left">
        <caption className="sr-only">Series</caption>
        <thead className="text-[12.5px] text-second">
          <tr className="border-b border-hair">
            <th className="py-1 font-semibold">{data.by.join(' · ') || 'what'}</th>
            <th className="text-right font-semibold">{figure}</th>
            <th className="text-right font-semibold">last</th>
            <th className="w-24" aria-label="events" />
          </tr>
        </thead>
        <tbody>
          {rows.map(({ labels, values, all }) => (
            <tr key={labels.join('\u0000')} className="border-b border-hair">
              <td className="line py-1">{labels.join(' · ')}</td>
              <td className="text-right tabular-nums">{figureInWords(all, figure, unit)}</td>
              <td className="text-right tabular-nums">{figureInWords(lastOf(values, data.isRunning), figure, unit)}</td>
              <td className="text-right">
                <Link
                  href={eventsOf(data, keys, lines.length > 0 ? labels : [])}
                  className="text-mark text-[12.5px] hover:underline"
                >
                  Show events
                </Link>
              </td>
            </tr>
          ))}
          {others && (
            <tr className="border-b border-hair text-second">
              <td className="py-1">{otherCount} others</td>
              <td className="text-right tabular-nums">{figureInWords(others.all, figure, unit)}</td>
              <td />
              <td />
            </tr>
          )}
        </tbody>
      </table>
    </Section>
  );
}

/** The last value, of a step that is over. */
function lastOf(values: readonly (number | null)[], isRunning: boolean): number | null {
  return values.slice(0, isRunning ? -1 : undefined).findLast((value) => value !== null) ?? null;
}

/** Explore with the events of a line; what stands for several values narrows nothing. */
function eventsOf({ when, by, from, to }: MetricAnswer, keys: MetricView['by'], labels: readonly string[]): string {
  const parts = labels.flatMap((value, i) => {
    const key = keys.find((one) => keyName(one) === by[i]);
    if (!key || key.table !== undefined || value === labelInWords(theRest)) return [];
    return value === labelInWords(null) ? [`not has ${writeField(key.field)}`] : [equalsText(key.field, value)];
  });
  const window = `${inOtherZone(from)}..${inOtherZone(to)}`;
  return `/explore?${new URLSearchParams({ c: parts.reduce(withPart, when), w: window })}`;
}

/** Which figure, by which key, over which window, and whether beside the period before. */
function PictureChoices(props: {
  readonly data: MetricAnswer;
  readonly by: string;
  readonly window: string;
  readonly isBeside: boolean;
  readonly onChoose: (next: {
    readonly figure?: string;
    readonly by?: string | null;
    readonly window?: string;
    readonly before?: 'yes' | null;
  }) => void;
}) {
  const { data, by, window, isBeside, onChoose } = props;
  return (
    <span className="flex flex-wrap items-center justify-end gap-2">
      {data.figures.length > 1 && (
        <Select
          label="Figure"
          isLabelHidden
          value={data.figure}
          options={data.figures.map((name) => ({ value: name, title: name }))}
          onChange={(name) => onChoose({ figure: name })}
        />
      )}
      {data.keys.length > 0 && (
        <Select
          label="By"
          isLabelHidden
          value={by || 'all'}
          options={[
            { value: 'all', title: 'total' },
            ...data.keys.map((name) => ({ value: name, title: `by ${name}` })),
            ...(data.keys.length > 1 ? [{ value: data.keys.join(','), title: `by ${data.keys.join(', ')}` }] : []),
          ]}
          onChange={(name) => onChoose({ by: name === 'all' ? null : name })}
        />
      )}
      <Choice label="Window" value={window} options={metricWindows} onChange={(value) => onChoose({ window: value })} />
      <label className="flex items-center gap-1.5 text-[12.5px]">
        <input
          type="checkbox"
          checked={isBeside}
          onChange={(event) => onChoose({ before: event.target.checked ? 'yes' : null })}
        />
        beside the previous period
      </label>
    </span>
  );
}

/** Its definition, and the revisions in which it was changed. */
function Origins({ data }: { readonly data: MetricAnswer }) {
  return (
    <Section title="Definition" className="mt-5">
      <p className="line text-[12.5px]">{data.when || 'all events'}</p>
      <Begin data={data} />
      <ul className="mt-1 text-[12.5px] text-second">
        {data.revisions.map(({ revision, at, text }) => (
          <li key={`${revision} ${text}`}>
            Revision {revision}, {dayOf(at)}: {text}
          </li>
        ))}
      </ul>
    </Section>
  );
}

/** When it began, and what was filled in, or can be, from events that were stored before. */
function Begin({ data: { id, begun, fill } }: { readonly data: MetricAnswer }) {
  const [isBusy, setBusy] = useState(false);
  const fillIn = async (): Promise<void> => {
    setBusy(true);
    try {
      await call('fillMetric', { id });
      await refresh('metric');
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The metric could not be filled in.');
    } finally {
      setBusy(false);
    }
  };
  if (begun === null) return null;
  return (
    <p className="mt-1 text-[12.5px] text-second">
      It counts events since {dayAndMinute(begun)}.{' '}
      {fill ? (
        <>
          {fill.isDone ? 'It was' : 'It is being'} filled in from events stored before
          {fill.from < begun && `, back to ${dayAndMinute(fill.from)}`}, without those that no tier kept.
        </>
      ) : (
        <button
          type="button"
          disabled={isBusy}
          onClick={() => void fillIn()}
          className="font-semibold text-mark hover:underline disabled:opacity-50"
        >
          Fill in from stored events
        </button>
      )}
    </p>
  );
}
