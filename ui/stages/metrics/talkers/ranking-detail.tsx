'use client';

import { ChevronLeft, ChevronRight, X } from 'lucide-react';
import Link from 'next/link';
import { parseAsArrayOf, parseAsJson, parseAsString, useQueryStates } from 'nuqs';
import { useCallback, useMemo } from 'react';
import type { RankingAnswer, TalkerLabels } from '#core/answers/rankings.ts';
import { formatCount, formatDuration } from '#core/events/units.ts';
import { conditionWithout } from '#core/talkers/talker-condition.ts';
import { talkersCsv } from '#core/talkers/talkers-csv.ts';
import { useApi } from '../../../data/use-api.ts';
import { Button } from '../../../kit/button.tsx';
import { Choice } from '../../../kit/choice.tsx';
import { saveFile } from '../../../kit/save-file.ts';
import { Problem, Section } from '../../../kit/section.tsx';
import { dayAndMinute } from '../../../kit/times.ts';
import { MetricChart } from '../metric-chart.tsx';
import { newMetricLink } from '../new-metric-link.ts';
import { amountInWords, amountTitle } from './amount-in-words.ts';
import { TalkerTable } from './talker-table.tsx';

const windows = [
  { value: '3h', title: '3 h', from: '-3h' },
  { value: '1d', title: '1 d', from: '-1d' },
  { value: '7d', title: '7 d', from: '-7d' },
  { value: '30d', title: '30 d', from: '-30d' },
  { value: '90d', title: '90 d', from: '-90d' },
  { value: '15mo', title: '15 mo', from: '-456d' },
] as const;

/** Of more than these a metric that is made of a ranking keeps the top alone. */
const manyTalkers = 100;
const keptTop = 20;

/** Values of keys, as the address has them. */
const labelsInAddress = parseAsArrayOf(
  parseAsJson<TalkerLabels>((value) =>
    Array.isArray(value) && value.every((one) => one === null || typeof one === 'string') ? value : null,
  ),
  ';',
).withDefault([]);

/** One ranking: who contributed most over a window, by steps and in all. */
export function RankingDetail({ id }: { readonly id: string }) {
  const [{ window, at, without }, choose] = useQueryStates({
    window: parseAsString.withDefault('1d'),
    at: parseAsString.withDefault(''),
    without: labelsInAddress,
  });
  const chosen = windows.find(({ value }) => value === window) ?? windows[1];
  const query = new URLSearchParams({
    from: chosen.from,
    ...(at && { at }),
    ...(without.length > 0 && { without: JSON.stringify(without) }),
  });
  const { data, error } = useApi<RankingAnswer>(`/api/rankings/${encodeURIComponent(id)}?${query}`, 10_000);
  const rankBy = useCallback(
    (time: number | undefined) => void choose({ at: time === undefined ? null : new Date(time).toISOString() }),
    [choose],
  );
  if (error)
    return (
      <Problem>
        {error.message}{' '}
        {at !== '' && (
          <Button look="quiet" onClick={() => rankBy(undefined)}>
            Rank by the whole window
          </Button>
        )}
      </Problem>
    );
  if (!data || data.id !== id) return null;
  const condition = conditionWithout(data.when, data.by, data.without);
  return (
    <>
      <Section
        title={`${data.title} · ${amountTitle(data)} by ${formatDuration(data.every / 1_000)}`}
        className="mt-6"
        aside={
          <span className="flex flex-wrap items-center justify-end gap-2">
            <ByOneStep data={data} onChoose={rankBy} />
            <Choice
              label="Window"
              value={chosen.value}
              options={windows}
              onChange={(value) => void choose({ window: value, at: null })}
            />
          </span>
        }
      >
        <RankingChart data={data} onChoose={rankBy} />
        <LeftOut data={data} onBack={(place) => void choose({ without: without.filter((_, i) => i !== place) })} />
      </Section>
      <Section
        title={<RankedOver data={data} />}
        className="mt-5"
        aside={
          <span className="-mr-3 flex flex-wrap items-center">
            <Link
              href={newMetricLink({
                when: condition,
                measure: data.amount === 'events' ? 'count' : 'sum',
                of: data.amount === 'events' ? '' : data.amount === 'bytes' ? 'raw_bytes' : data.of,
                by: data.by.map((field) => ({ field, ...(data.distinct > manyTalkers && { top: keptTop }) })),
              })}
              className="px-3 py-1 font-semibold text-mark hover:underline"
            >
              Make a metric of it
            </Link>
            <Link
              href={`/metrics/talkers?${new URLSearchParams({ edit: 'new', when: condition, keys: data.by.join(',') })}`}
              className="px-3 py-1 font-semibold text-mark hover:underline"
            >
              Make a ranking of it
            </Link>
            <Button look="quiet" onClick={() => saveFile(`${data.id}.csv`, 'text/csv', talkersCsv(data))}>
              CSV
            </Button>
          </span>
        }
      >
        <TalkerTable
          data={data}
          onLeaveOut={(labels) => void choose({ without: [...without, labels] }, { history: 'push' })}
        />
        <Bound data={data} />
      </Section>
    </>
  );
}

/** Who contributed most by step, on top of one another; a click ranks by the step under it. */
function RankingChart({ data, onChoose }: { readonly data: RankingAnswer; readonly onChoose: (time: number) => void }) {
  const { from, to, every, at, totals, total, talkers, isRunning } = data;
  const picture = useMemo(
    () => ({
      ...{ from, every, isRunning },
      whole: { labels: [], values: totals, all: total },
      lines: talkers.slice(0, 8).map(({ told, values, amount }) => ({ labels: [told], values, all: amount })),
      figure: data.amount === 'events' ? 'count' : 'sum',
      unit: data.amount === 'bytes' ? 'By' : '',
      isStacked: true,
      marked: at === null ? null : { from: at, to: at + every },
    }),
    [from, every, isRunning, totals, total, talkers, data.amount, at],
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

/** Ranks by one step instead of the whole window, and goes to the one before or after. */
function ByOneStep(props: { readonly data: RankingAnswer; readonly onChoose: (time: number | undefined) => void }) {
  const { data, onChoose } = props;
  const { from, to, every, at, totals } = data;
  if (at === null) {
    const busiest = totals.indexOf(Math.max(...totals));
    return (
      <Button look="quiet" disabled={busiest < 0} onClick={() => onChoose(from + busiest * every)}>
        Rank by one step
      </Button>
    );
  }
  return (
    <span className="flex items-center gap-1 text-[12.5px]">
      <Button
        look="quiet"
        aria-label="The step before"
        disabled={at - every < from}
        onClick={() => onChoose(at - every)}
      >
        <ChevronLeft size={14} aria-hidden="true" />
      </Button>
      <span className="tabular-nums">{dayAndMinute(at)}</span>
      <Button look="quiet" aria-label="The step after" disabled={at + every >= to} onClick={() => onChoose(at + every)}>
        <ChevronRight size={14} aria-hidden="true" />
      </Button>
      <Button look="quiet" onClick={() => onChoose(undefined)}>
        The whole window
      </Button>
    </span>
  );
}

/** Who is left out, each of whom can be taken back. */
function LeftOut({ data, onBack }: { readonly data: RankingAnswer; readonly onBack: (place: number) => void }) {
  const { without, leftOut } = data;
  if (without.length === 0) return null;
  return (
    <p className="mt-1 flex flex-wrap items-center gap-1.5 text-[12.5px] text-second">
      <span>
        Left out, {leftOut > 0 ? `${amountInWords(leftOut, data)} in all` : 'though they brought nothing here'}:
      </span>
      {without.map((labels, i) => {
        const told = labels.map((value, k) => value ?? `(no ${data.by[k]})`).join(' · ');
        return (
          <span
            key={told}
            className="inline-flex max-w-[340px] items-center gap-1 rounded-[5px] border border-hair bg-sheet px-1.5"
          >
            <span className="line truncate">{told}</span>
            <button type="button" aria-label={`Take ${told} back`} onClick={() => onBack(i)} className="hover:text-ink">
              <X size={13} aria-hidden="true" />
            </button>
          </span>
        );
      })}
    </p>
  );
}

function RankedOver({ data }: { readonly data: RankingAnswer }) {
  const { at, every, talkers, distinct, missed, total } = data;
  const span = at === null ? 'over the window' : `in the ${formatDuration(every / 1_000)} from ${dayAndMinute(at)}`;
  if (talkers.length === 0) return <>Nobody {span}</>;
  const first = talkers.length < distinct ? `The first ${talkers.length} of ` : '';
  return (
    <>
      {first}
      {missed > 0 ? '≈ ' : ''}
      {formatCount(distinct)} {span}, {amountInWords(total, data)}
      {data.amount === 'bytes' ? '' : data.amount === 'events' ? ' events' : ''}
    </>
  );
}

/** How far amounts can be trusted. */
function Bound({ data }: { readonly data: RankingAnswer }) {
  const { missed, talkers } = data;
  if (talkers.length === 0) return null;
  return (
    <p className="mt-2 text-[12.5px] text-second">
      {missed === 0
        ? 'These amounts are exact: everyone who came had a counter of their own.'
        : `Amounts are told by counters that are shared: each is at least what stands there, and at most ${amountInWords(missed, data)} more.`}{' '}
      They are of everything that arrives, whatever is kept.
    </p>
  );
}
