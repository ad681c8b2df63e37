'use client';

import Link from 'next/link';
import { useQueryState } from 'nuqs';
import { useMemo } from 'react';
import { formatCount, formatDuration } from '#core/events/units.ts';
import type { FollowedView } from '#core/health/views.ts';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { type Column, DataTable } from '../../kit/data-table.tsx';
import { StateMark } from '../../kit/state-mark.tsx';
import { ago, inOtherZone, percent } from '../../kit/times/times.ts';
import { SeenChoice, type SeenSpans, spanInWords, useSeenSpans } from './seen-choice.tsx';

const order = ['silent', 'late', 'new', 'maintenance', 'steady', 'retired'];

/** All emitters, or those of one source, the ones that need someone first. What is shown is in the address. */
export function EmitterTable({ source }: { readonly source?: string }) {
  const { data } = useQuestion('health', { source }, 5_000);
  const [state, setState] = useQueryState('state', { defaultValue: 'all' });
  const [of] = useQueryState('of');
  const spans = useSeenSpans();
  const { fresh, gone } = spans;
  const emitters = useMemo(
    () => data?.followed.filter((view) => view.emitter !== '' && (!of || view.source === of)) ?? [],
    [data, of],
  );
  const listed = useMemo(
    () =>
      emitters
        .filter((view) => shown(view, state, { fresh, gone }))
        .sort((a, b) => order.indexOf(a.health.state) - order.indexOf(b.health.state) || b.lastSeen - a.lastSeen),
    [emitters, state, fresh, gone],
  );
  const count = (name: string): number => emitters.filter((view) => shown(view, name, spans)).length;
  const options = [
    { value: 'all', title: `All ${formatCount(emitters.length)}` },
    ...['silent', 'late', 'steady'].map((name) => ({ value: name, title: `${formatCount(count(name))} ${name}` })),
    { value: 'fresh', title: `${formatCount(count('fresh'))} first seen within ${spanInWords(fresh)}` },
    { value: 'gone', title: `${formatCount(count('gone'))} not seen for ${spanInWords(gone)}` },
  ];
  const columns = useMemo(() => columnsFor(source === undefined), [source]);
  return (
    <section aria-label="Emitters">
      <DataTable
        name="emitters"
        label="Emitters"
        columns={columns}
        rows={listed}
        keyOf={(view) => `${view.source} ${view.emitter}`}
        rowHeight={48}
        empty={emitters.length === 0 ? 'No emitters seen yet.' : 'None.'}
        aside={
          <SeenChoice label="Which emitters" value={state} onChange={(next) => void setState(next)} options={options} />
        }
      />
    </section>
  );
}

function shown({ health, firstSeen, lastSeen }: FollowedView, state: string, spans: SeenSpans): boolean {
  if (state === 'all') return true;
  if (state === 'fresh') return firstSeen > Date.now() - spans.fresh;
  if (state === 'gone') return lastSeen < Date.now() - spans.gone && health.state !== 'retired';
  return health.state === state;
}

function columnsFor(withSource: boolean): readonly Column<FollowedView>[] {
  return [
    { id: 'emitter', title: 'emitter', value: ({ emitter }) => emitter, cell: (view) => <Emitter view={view} /> },
    {
      id: 'state',
      title: 'health',
      width: 120,
      value: ({ health }) => order.indexOf(health.state),
      cell: ({ health }) => <StateMark state={health.state} />,
    },
    {
      id: 'source',
      title: 'source',
      hidden: !withSource,
      value: ({ source }) => source,
      cell: ({ source }) => (
        <Link href={`/sources/${source}`} className="text-[12.5px] text-second hover:text-mark">
          {source}
        </Link>
      ),
    },
    {
      id: 'rate',
      title: 'events/s',
      align: 'right',
      first: 'descending',
      value: ({ eventsPerSecond }) => eventsPerSecond,
      cell: ({ eventsPerSecond }) => eventsPerSecond.toFixed(2),
    },
    {
      id: 'parsed',
      title: 'parsed',
      align: 'right',
      value: ({ parsedShare }) => parsedShare,
      cell: ({ parsedShare }) => <span className="text-second">{percent(parsedShare)}</span>,
    },
    {
      id: 'seen',
      title: 'last seen',
      align: 'right',
      first: 'descending',
      value: ({ lastSeen }) => lastSeen,
      cell: (view) => (
        <span className="text-second" title={`${inOtherZone(view.lastSeen)} · ${lateness(view)}`}>
          {ago(view.lastSeen)}
        </span>
      ),
    },
    { id: 'retire', title: '', isPicture: true, width: 100, value: () => null, cell: (view) => <Retire view={view} /> },
  ];
}

function Emitter({ view }: { readonly view: FollowedView }) {
  return (
    <span className="block min-w-0">
      <b className="block truncate font-[650]">{view.emitter}</b>
      <small className="block max-w-[64ch] truncate text-[12px] text-second" title={view.health.reason}>
        {view.health.reason}
        {view.missing > 0 && ` · ${formatCount(view.missing)} numbers missing`}
        {view.duplicates > 0 && ` · ${formatCount(view.duplicates)} twice`}
      </small>
    </span>
  );
}

function Retire({ view }: { readonly view: FollowedView }) {
  const retire = async (): Promise<void> => {
    await call('planEmitter', { source: view.source, emitter: view.emitter, retired: !view.retired });
    await refresh('health');
  };
  const quiet = view.health.state === 'silent' || view.health.state === 'late' || view.health.state === 'retired';
  if (!quiet) return null;
  return (
    <Button look="quiet" className="px-1! text-[12px]" onClick={() => void retire()}>
      {view.retired ? 'Expect again' : 'Retire'}
    </Button>
  );
}

/** Clock skew and lateness in words. */
function lateness({ lateness: mean, latenessLeast }: FollowedView): string {
  if (latenessLeast < -2_000) return `its clock is ${formatDuration(-latenessLeast / 1000)} ahead`;
  return `events arrive ${formatDuration(Math.max(0, mean) / 1000)} after their time`;
}
