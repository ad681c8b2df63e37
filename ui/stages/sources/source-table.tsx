'use client';

import Link from 'next/link';
import { parseAsStringEnum, useQueryState } from 'nuqs';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { Spark } from '../../charts/spark.tsx';
import { Choice } from '../../kit/choice.tsx';
import { StateMark } from '../../kit/state-mark.tsx';
import { ago, inUtc, percent } from '../../kit/times.ts';

export interface SourceView {
  readonly name: string;
  readonly kind: string;
  readonly owner: string;
  readonly labels: Readonly<Record<string, string>>;
  readonly eventsPerSecond: number;
  readonly typicalPerSecond: number | null;
  readonly day: { readonly events: number; readonly bytes: number };
  readonly parsedShare: number;
  readonly lastSeen: number | null;
  readonly firstSeen: number | null;
  readonly health: { readonly state: string; readonly reason: string } | null;
  readonly emitters: { readonly all: number; readonly silent: number; readonly late: number; readonly fresh: number };
  readonly spark: readonly number[];
}

const shows = ['all', 'needs', 'fresh', 'gone'] as const;
type Show = (typeof shows)[number];
const sorts = ['name', 'rate', 'day', 'parsed', 'seen'] as const;
type SortKey = (typeof sorts)[number];

const sortings: Readonly<Record<SortKey, (source: SourceView) => number | string>> = {
  name: (source) => source.name,
  rate: (source) => -source.eventsPerSecond,
  day: (source) => -source.day.bytes,
  parsed: (source) => source.parsedShare,
  seen: (source) => -(source.lastSeen ?? 0),
};

const hour = 3_600_000;

const picks: Readonly<Record<Show, (source: SourceView) => boolean>> = {
  all: () => true,
  needs: ({ health, emitters }) => health?.state === 'silent' || health?.state === 'late' || emitters.silent > 0,
  fresh: ({ firstSeen }) => firstSeen !== null && firstSeen > Date.now() - 4 * hour,
  gone: ({ lastSeen }) => (lastSeen ?? 0) < Date.now() - 24 * hour,
};

/** The sources, each with its health, rate, volume and share. What is shown and how it is sorted is in the address. */
export function SourceTable({ sources }: { readonly sources: readonly SourceView[] }) {
  const [show, setShow] = useQueryState('show', parseAsStringEnum([...shows]).withDefault('all'));
  const [sort, setSort] = useQueryState('sort', parseAsStringEnum([...sorts]).withDefault('day'));
  const by = sortings[sort];
  const chosen = sources.filter(picks[show]).sort((a, b) => (by(a) < by(b) ? -1 : by(a) > by(b) ? 1 : 0));
  const total = sources.reduce((sum, source) => sum + source.day.bytes, 0);
  const heading = (title: string, key: SortKey, right = false) => (
    <th scope="col" aria-sort={sort === key ? 'descending' : 'none'} className={right ? 'text-right' : ''}>
      <button
        type="button"
        onClick={() => void setSort(key)}
        className={`py-1.5 font-semibold ${sort === key ? 'text-ink' : ''}`}
      >
        {title}
        {sort === key && ' ↓'}
      </button>
    </th>
  );
  return (
    <>
      <Choice
        label="Which sources"
        value={show}
        onChange={(next) => void setShow(next)}
        options={[
          { value: 'all', title: 'All' },
          { value: 'needs', title: 'Silent or late' },
          { value: 'fresh', title: 'Newly seen in 4 h' },
          { value: 'gone', title: 'Not seen for 24 h' },
        ]}
      />
      <table className="mt-2 w-full">
        <thead>
          <tr className="border-b border-hair text-[12.5px]">
            {heading('source', 'name')}
            <th scope="col">health</th>
            <th scope="col">last 24 h</th>
            {heading('events/s now', 'rate', true)}
            <th scope="col" className="text-right">
              typical
            </th>
            {heading('a day', 'day', true)}
            <th scope="col" className="w-[110px] pl-4">
              share
            </th>
            {heading('parsed', 'parsed', true)}
            <th scope="col" className="text-right">
              emitters
            </th>
            {heading('last seen', 'seen', true)}
          </tr>
        </thead>
        <tbody>
          {chosen.map((source) => (
            <SourceRow key={source.name} source={source} total={total} />
          ))}
        </tbody>
      </table>
      {chosen.length === 0 && <p className="border-b border-hair py-3 text-second">None.</p>}
    </>
  );
}

function SourceRow({ source, total }: { readonly source: SourceView; readonly total: number }) {
  const poor = source.day.events > 0 && source.parsedShare < 0.95;
  const share = total > 0 ? source.day.bytes / total : 0;
  const { all, silent } = source.emitters;
  return (
    <tr className="border-b border-hair hover:bg-land/40">
      <td className="py-1.5">
        <Link href={`/sources/${source.name}`} className="font-[650] hover:text-mark">
          {source.name}
        </Link>
        <span className="ml-2 text-[12px] text-second">
          {source.kind}
          {source.owner !== '' && ` · ${source.owner}`}
        </span>
      </td>
      <td>
        {source.health ? (
          <StateMark state={source.health.state} reason={source.health.reason} />
        ) : (
          <span className="text-second">waiting</span>
        )}
      </td>
      <td>
        <Spark values={source.spark} label={`Events of ${source.name} by hour over the last day`} />
      </td>
      <td className="text-right">{source.eventsPerSecond.toFixed(2)}</td>
      <td className="text-right text-second">
        {source.typicalPerSecond === null ? '–' : source.typicalPerSecond.toFixed(2)}
      </td>
      <td className="text-right">{formatBytes(source.day.bytes)}</td>
      <td className="pl-4">
        <span className="flex items-center gap-2">
          <span aria-hidden="true" className="h-2.5 bg-d3" style={{ width: `${50 * share}px` }} />
          <span className="text-[12px] text-second">{percent(share)}</span>
        </span>
      </td>
      <td className={`text-right ${poor ? 'font-semibold text-caution' : ''}`}>
        {poor && <span aria-hidden="true">▲ </span>}
        {source.day.events > 0 ? percent(source.parsedShare) : '–'}
      </td>
      <td className="text-right">
        {all === 0 ? <span className="text-second">–</span> : formatCount(all)}
        {silent > 0 && (
          <Link
            href={`/sources?view=emitters&state=silent&of=${source.name}`}
            className="ml-1.5 font-semibold text-danger"
          >
            ◆ {silent}
            <span className="sr-only"> silent</span>
          </Link>
        )}
      </td>
      <td className="text-right text-second" title={source.lastSeen ? inUtc(source.lastSeen) : undefined}>
        {source.lastSeen ? ago(source.lastSeen) : 'never'}
      </td>
    </tr>
  );
}
