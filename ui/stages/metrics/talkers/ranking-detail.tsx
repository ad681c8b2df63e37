'use client';

import Link from 'next/link';
import { parseAsArrayOf, parseAsJson, parseAsString, useQueryStates } from 'nuqs';
import { useCallback } from 'react';
import { formatCount, formatDuration } from '#core/events/units.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import { metricOfRanking } from '#core/plan/parts/rankings/metric-of-ranking.ts';
import { rankedBy } from '#core/plan/parts/rankings/ranking.ts';
import { conditionWithout } from '#core/talkers/talker-condition.ts';
import type { TalkerLabels } from '#core/talkers/talker-labels.ts';
import { talkersCsv } from '#core/views/talkers-csv.ts';
import type { RankingAnswer } from '../../../data/answers.ts';
import { useQuestion } from '../../../data/client.ts';
import { Button } from '../../../kit/button.tsx';
import { Choice } from '../../../kit/choice.tsx';
import { saveFile } from '../../../kit/save-file.ts';
import { Problem, Section } from '../../../kit/section.tsx';
import { dayAndMinute } from '../../../kit/times/times.ts';
import { amountInWords } from '../../../parts/rankings/amount-in-words.ts';
import { newMetricLink } from '../new-metric-link.ts';
import { LeftOut } from './left-out.tsx';
import { RankingChart } from './ranking-chart.tsx';
import { StepChoice } from './step-choice.tsx';
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
  const given = {
    id,
    from: chosen.from,
    ...(at && { at }),
    ...(without.length > 0 && { without: JSON.stringify(without) }),
  };
  const { data, error } = useQuestion('ranking', given, 10_000);
  const rankAt = useCallback(
    (time: number | undefined) => void choose({ at: time === undefined ? null : new Date(time).toISOString() }),
    [choose],
  );
  if (error)
    return (
      <Problem>
        {error.message}{' '}
        {at !== '' && (
          <Button look="quiet" onClick={() => rankAt(undefined)}>
            Rank over the whole window
          </Button>
        )}
      </Problem>
    );
  if (!data || data.id !== id) return null;
  const condition = conditionWithout(data.when, data.by, data.without);
  return (
    <>
      <Section
        title={`${data.title} · ${rankedBy(data)} by ${formatDuration(data.every / 1_000)}`}
        className="mt-6"
        aside={
          <span className="flex flex-wrap items-center justify-end gap-2">
            <StepChoice data={data} onChoose={rankAt} />
            <Choice
              label="Window"
              value={chosen.value}
              options={windows}
              onChange={(value) => void choose({ window: value, at: null })}
            />
          </span>
        }
      >
        <RankingChart data={data} onChoose={rankAt} />
        <LeftOut data={data} onBack={(place) => void choose({ without: without.filter((_, i) => i !== place) })} />
      </Section>
      <Section
        title={<RankedOver data={data} />}
        className="mt-5"
        aside={<MakeOfRanking data={data} condition={condition} />}
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

/** The beginning of a metric of a ranking; of many who contribute it keeps the top alone. */
function keptMetric(data: RankingAnswer, when: string): Partial<MetricDocument> {
  const { by = [], ...metric } = metricOfRanking({ ...data, when });
  return { ...metric, by: data.distinct > manyTalkers ? by.map((key) => ({ ...key, top: keptTop })) : by };
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
      {data.measure === 'events' && ' events'}
    </>
  );
}

/** How far amounts can be trusted. */
function Bound({ data }: { readonly data: RankingAnswer }) {
  const { missed, talkers, isRunning, at, to, every } = data;
  if (talkers.length === 0) return null;
  return (
    <p className="mt-2 text-[12.5px] text-second">
      {missed === 0
        ? 'Amounts are exact: each value had its own counter.'
        : `Amounts are lower bounds from shared counters; the true ones are at most ${amountInWords(missed, data)} higher.`}{' '}
      All events that arrived count, kept or not.
      {isRunning &&
        at === null &&
        ` The table goes up to now; the chart ends at ${dayAndMinute(to - every)}, with its last full step.`}
    </p>
  );
}

/** What can be made of a ranking as it is shown: a metric, another ranking, a file. */
function MakeOfRanking({ data, condition }: { readonly data: RankingAnswer; readonly condition: string }) {
  return (
    <span className="-mr-3 flex flex-wrap items-center">
      <Link
        href={newMetricLink(keptMetric(data, condition))}
        className="px-3 py-1 font-semibold text-mark hover:underline"
      >
        Create metric
      </Link>
      <Link
        href={`/metrics/talkers?${new URLSearchParams({ edit: 'new', when: condition, keys: data.by.join(',') })}`}
        className="px-3 py-1 font-semibold text-mark hover:underline"
      >
        Create ranking
      </Link>
      <Button look="quiet" onClick={() => saveFile(`${data.id}.csv`, 'text/csv', talkersCsv(data))}>
        CSV
      </Button>
    </span>
  );
}
