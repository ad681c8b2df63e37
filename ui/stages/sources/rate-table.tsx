'use client';

import { useQueryState } from 'nuqs';
import { useMemo } from 'react';
import { formatBytes, formatCount, formatDuration } from '#core/events/units.ts';
import type { RateView as Rate } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { Choice } from '../../kit/choice.tsx';
import { type Column, DataTable } from '../../kit/data-table.tsx';
import { Problem } from '../../kit/section.tsx';
import { dayAndMinute, inOtherZone, percent } from '../../kit/times/times.ts';
import { WindowPicker } from '../../kit/times/window-picker.tsx';

/** The columns; `total` is what came in the window, in bytes. */
function columnsFor(ofEmitters: boolean, total: number): readonly Column<Rate>[] {
  const share = ({ bytes }: Rate): number => (total > 0 ? bytes / total : 0);
  const number = (id: string, title: string, value: (row: Rate) => number, text: (value: number) => string) =>
    ({ id, title, value, align: 'right', first: 'descending', cell: (row) => text(value(row)) }) satisfies Column<Rate>;
  return [
    {
      id: 'name',
      title: ofEmitters ? 'emitter' : 'source',
      value: ({ name, source }) => name || source,
      cell: ({ name, source }) => <b className="font-[650]">{name || source}</b>,
    },
    ...(ofEmitters ? [{ id: 'source', title: 'source', value: ({ source }: Rate) => source }] : []),
    number(
      'events-rate',
      'events/s',
      ({ eventsPerSecond }) => eventsPerSecond,
      (value) => value.toFixed(3),
    ),
    number(
      'bytes-rate',
      'bytes/s',
      ({ bytesPerSecond }) => bytesPerSecond,
      (value) => `${formatBytes(value)}/s`,
    ),
    number('events', 'events', ({ events }) => events, formatCount),
    number('bytes', 'bytes', ({ bytes }) => bytes, formatBytes),
    {
      id: 'share',
      title: 'share of the whole',
      width: 240,
      first: 'descending',
      value: share,
      cell: (row) => (
        <span className="flex items-center gap-2 pl-3">
          <span aria-hidden="true" className="h-2.5 bg-d3" style={{ width: `${160 * share(row)}px` }} />
          <span className="text-[12px] text-second">{percent(share(row))}</span>
        </span>
      ),
    },
  ];
}

/** How long a window is, in whole seconds. */
function secondsOf({ from, to }: { readonly from: number; readonly to: number }): number {
  return Math.round((to - from) / 1_000);
}

/** Events and bytes a second of sources and emitters over any window, the largest first, with their share of the whole. */
export function RateTable() {
  const [window, setWindow] = useQueryState('window', { defaultValue: '-1d..now' });
  const [level, setLevel] = useQueryState('level', { defaultValue: 'sources' });
  const [from = '', to = 'now'] = window.split('..');
  const { data, error } = useQuestion('emitterVolumes', { from, to }, 15_000);
  const rates = level === 'emitters' ? data?.emitters : data?.sources;
  const rows = rates?.rows ?? [];
  const total = rates?.bytes ?? 0;
  const columns = useMemo(() => columnsFor(level === 'emitters', total), [level, total]);
  return (
    <section aria-label="Rates">
      <div className="flex items-start gap-3 pb-5">
        <Choice
          label="Group by"
          value={level}
          onChange={(next) => void setLevel(next)}
          options={[
            { value: 'sources', title: 'Sources' },
            { value: 'emitters', title: 'Emitters' },
          ]}
        />
        <WindowPicker value={window} onChange={(next) => void setWindow(next)} />
        {rates && (
          <p
            className="py-2 text-[12.5px] text-second"
            title={`${inOtherZone(rates.from)} to ${inOtherZone(rates.to)}`}
          >
            over {formatDuration(secondsOf(rates))}
            {level === 'emitters' && `, from ${dayAndMinute(rates.from)}: emitters are counted by the hour`}
          </p>
        )}
      </div>
      {error && <Problem>{error.message}</Problem>}
      <DataTable
        name="rates"
        label="Rates"
        columns={columns}
        rows={rows}
        keyOf={(row) => `${row.source} ${row.name}`}
        sorted={{ by: 'bytes', way: 'descending' }}
      />
    </section>
  );
}
