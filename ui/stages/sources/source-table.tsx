'use client';

import Link from 'next/link';
import { parseAsStringEnum, useQueryState } from 'nuqs';
import { useMemo } from 'react';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { Spark } from '../../charts/spark.tsx';
import type { SourceView } from '../../data/answers.ts';
import { type MonthCosts, useMonthCosts } from '../../data/month-costs.ts';
import { type Column, DataTable } from '../../kit/data-table.tsx';
import { StateMark } from '../../kit/state-mark.tsx';
import { ago, inOtherZone, percent } from '../../kit/times/times.ts';
import { SeenChoice, type SeenSpans, spanInWords, useSeenSpans } from './seen-choice.tsx';

const shows = ['all', 'needs', 'fresh', 'gone'] as const;
type Show = (typeof shows)[number];

const picks: Readonly<Record<Show, (source: SourceView, spans: SeenSpans) => boolean>> = {
  all: () => true,
  needs: ({ health, emitters }) => health?.state === 'silent' || health?.state === 'late' || emitters.silent > 0,
  fresh: ({ firstSeen }, { fresh }) => firstSeen !== null && firstSeen > Date.now() - fresh,
  gone: ({ lastSeen }, { gone }) => (lastSeen ?? 0) < Date.now() - gone,
};

/** The columns; `total` is what all sources send in a day, in bytes. Without prices there is none of costs. */
function columnsFor(total: number, costs: MonthCosts | undefined): readonly Column<SourceView>[] {
  const share = ({ day }: SourceView): number => (total > 0 ? day.bytes / total : 0);
  return [
    { id: 'name', title: 'source', value: ({ name }) => name, cell: (source) => <SourceName source={source} /> },
    {
      id: 'health',
      title: 'health',
      value: ({ health }) => health?.state ?? null,
      cell: ({ health }) =>
        health ? (
          <StateMark state={health.state} reason={health.reason} />
        ) : (
          <span className="text-second">waiting</span>
        ),
    },
    {
      id: 'spark',
      title: 'events 24 h',
      room: 700,
      isPicture: true,
      value: () => null,
      cell: ({ name, spark }) => <Spark values={spark} label={`Events of ${name} by hour over the last day`} />,
    },
    {
      id: 'rate',
      title: 'events/s now',
      align: 'right',
      first: 'descending',
      value: ({ eventsPerSecond }) => eventsPerSecond,
      cell: ({ eventsPerSecond }) => eventsPerSecond.toFixed(2),
    },
    {
      id: 'typical',
      title: 'typical',
      room: 1_000,
      align: 'right',
      first: 'descending',
      value: ({ typicalPerSecond }) => typicalPerSecond,
      cell: ({ typicalPerSecond }) => (
        <span className="text-second">{typicalPerSecond === null ? '–' : typicalPerSecond.toFixed(2)}</span>
      ),
    },
    {
      id: 'day',
      title: 'received 24 h',
      align: 'right',
      first: 'descending',
      value: ({ day }) => day.bytes,
      cell: ({ day }) => formatBytes(day.bytes),
      figure: ({ name, day }) => ({
        ...{ name: 'received', of: `source ${name}`, over: 'last 24 h', unit: 'bytes', value: day.bytes },
      }),
    },
    {
      id: 'share',
      title: 'share',
      room: 1_050,
      width: 110,
      first: 'descending',
      value: share,
      cell: (source) => (
        <span className="flex items-center gap-2">
          <span aria-hidden="true" className="h-2.5 bg-d3" style={{ width: `${50 * share(source)}px` }} />
          <span className="text-[12px] text-second">{percent(share(source))}</span>
        </span>
      ),
    },
    ...costColumn(costs),
    {
      id: 'parsed',
      title: 'parsed',
      align: 'right',
      value: ({ day, parsedShare }) => (day.events > 0 ? parsedShare : null),
      figure: ({ name, day, parsedShare }) =>
        day.events > 0
          ? {
              ...{
                name: 'parsed',
                of: `source ${name}`,
                over: 'last 24 h',
                unit: 'share of events',
                value: parsedShare,
              },
            }
          : undefined,
      cell: (source) => <Parsed source={source} />,
    },
    {
      id: 'emitters',
      title: 'emitters',
      align: 'right',
      first: 'descending',
      value: ({ emitters }) => emitters.all,
      cell: (source) => <EmitterCount source={source} />,
    },
    {
      id: 'seen',
      title: 'last seen',
      align: 'right',
      first: 'descending',
      value: ({ lastSeen }) => lastSeen,
      cell: ({ lastSeen }) => (
        <span className="text-second" title={lastSeen ? inOtherZone(lastSeen) : undefined}>
          {lastSeen ? ago(lastSeen) : 'never'}
        </span>
      ),
    },
    { id: 'owner', title: 'owner', hidden: true, value: ({ owner }) => owner },
  ];
}

function costColumn(costs: MonthCosts | undefined): readonly Column<SourceView>[] {
  if (!costs) return [];
  const { currency, coinsOf } = costs;
  return [
    {
      id: 'cost',
      title: 'month so far',
      room: 800,
      align: 'right',
      first: 'descending',
      value: ({ name }) => {
        const coins = coinsOf(name);
        return coins === undefined ? null : coins / 10 ** currency.digits;
      },
      cell: ({ name }) => {
        const coins = coinsOf(name);
        return coins === undefined ? '–' : formatCoins(coins, currency, true);
      },
      figure: ({ name }) => {
        const value = coinsOf(name);
        const meaning = { name: 'cost', of: `source ${name}`, over: 'the month so far', unit: currency.sign };
        return value === undefined ? undefined : { ...meaning, value };
      },
    },
  ];
}

/** The sources, each with its health, rate, volume and share. What is shown and how it is sorted is in the address. */
export function SourceTable({ sources }: { readonly sources: readonly SourceView[] }) {
  const [show, setShow] = useQueryState('show', parseAsStringEnum([...shows]).withDefault('all'));
  const spans = useSeenSpans();
  const total = sources.reduce((sum, source) => sum + source.day.bytes, 0);
  const costs = useMonthCosts('source');
  const columns = useMemo(() => columnsFor(total, costs), [total, costs]);
  return (
    <DataTable
      name="sources"
      label="Sources"
      columns={columns}
      rows={sources.filter((source) => picks[show](source, spans))}
      keyOf={({ name }) => name}
      sorted={{ by: 'day', way: 'descending' }}
      aside={
        <SeenChoice
          label="Which sources"
          value={show}
          onChange={(next) => void setShow(next)}
          options={[
            { value: 'all', title: 'All' },
            { value: 'needs', title: 'Silent or late' },
            { value: 'fresh', title: `First seen within ${spanInWords(spans.fresh)}` },
            { value: 'gone', title: `Not seen for ${spanInWords(spans.gone)}` },
          ]}
        />
      }
    />
  );
}

function SourceName({ source }: { readonly source: SourceView }) {
  return (
    <>
      <Link href={`/sources/${source.name}`} className="mr-2 whitespace-nowrap font-[650] hover:text-mark">
        {source.name}
      </Link>
      <span className="inline-block whitespace-nowrap text-[12px] text-second">
        {source.kind}
        {source.owner !== '' && ` · ${source.owner}`}
      </span>
    </>
  );
}

function Parsed({ source: { day, parsedShare } }: { readonly source: SourceView }) {
  const poor = day.events > 0 && parsedShare < 0.95;
  return (
    <span className={poor ? 'font-semibold text-caution' : ''}>
      {poor && <span aria-hidden="true">▲ </span>}
      {day.events > 0 ? percent(parsedShare) : '–'}
    </span>
  );
}

function EmitterCount({ source: { name, emitters } }: { readonly source: SourceView }) {
  const { all, silent } = emitters;
  return (
    <>
      {all === 0 ? <span className="text-second">–</span> : formatCount(all)}
      {silent > 0 && (
        <Link href={`/sources?view=emitters&state=silent&of=${name}`} className="ml-1.5 font-semibold text-danger">
          ◆ {silent}
          <span className="sr-only"> silent</span>
        </Link>
      )}
    </>
  );
}
