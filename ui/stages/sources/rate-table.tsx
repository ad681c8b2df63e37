'use client';

import { useQueryState } from 'nuqs';
import { useState } from 'react';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { useApi } from '../../data/use-api.ts';
import { Choice } from '../../kit/choice.tsx';
import { Problem } from '../../kit/section.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { percent } from '../../kit/times.ts';

interface RatesAnswer {
  readonly rows: readonly {
    readonly source: string;
    readonly name: string;
    readonly events: number;
    readonly bytes: number;
    readonly eventsPerSecond: number;
    readonly bytesPerSecond: number;
  }[];
}

const mostRows = 200;

/** Events and bytes a second of sources and emitters over any window, the largest first, with their share of the whole. */
export function RateTable() {
  const [window, setWindow] = useQueryState('window', { defaultValue: '-1d..now' });
  const [typed, setTyped] = useState(window);
  const [level, setLevel] = useQueryState('level', { defaultValue: 'sources' });
  const [from = '', to = 'now'] = window.split('..');
  const { data, error } = useApi<RatesAnswer>(`/api/emitters?${new URLSearchParams({ from, to })}`, 15_000);
  const rows = data?.rows.filter((row) => (row.name === '') === (level === 'sources')) ?? [];
  const total = data?.rows.filter((row) => row.name === '').reduce((sum, row) => sum + row.bytes, 0) ?? 0;
  return (
    <section aria-label="Rates">
      <form
        className="flex items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void setWindow(typed);
        }}
      >
        <Choice
          label="Of whom"
          value={level}
          onChange={(next) => void setLevel(next)}
          options={[
            { value: 'sources', title: 'Sources' },
            { value: 'emitters', title: 'Emitters' },
          ]}
        />
        <TextField
          label="Window, by the hour"
          mono
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          className="w-[260px]"
        />
      </form>
      {error && <Problem>{error.message}</Problem>}
      <table className="mt-2 w-full">
        <thead>
          <tr className="border-b border-hair text-[12.5px]">
            <th scope="col">{level === 'sources' ? 'source' : 'emitter'}</th>
            <th scope="col" className="text-right">
              events/s
            </th>
            <th scope="col" className="text-right">
              bytes/s
            </th>
            <th scope="col" className="text-right">
              events
            </th>
            <th scope="col" className="text-right">
              bytes
            </th>
            <th scope="col" className="w-[240px] pl-6">
              share of the whole
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, mostRows).map((row) => (
            <tr key={`${row.source} ${row.name}`} className="border-b border-hair">
              <td className="py-1">
                <b className="font-[650]">{row.name || row.source}</b>
                {row.name !== '' && <span className="ml-2 text-[12px] text-second">{row.source}</span>}
              </td>
              <td className="text-right">{row.eventsPerSecond.toFixed(3)}</td>
              <td className="text-right">{formatBytes(row.bytesPerSecond)}/s</td>
              <td className="text-right">{formatCount(row.events)}</td>
              <td className="text-right">{formatBytes(row.bytes)}</td>
              <td className="pl-6">
                <span className="flex items-center gap-2">
                  <span
                    aria-hidden="true"
                    className="h-2.5 bg-d3"
                    style={{ width: `${total > 0 ? (160 * row.bytes) / total : 0}px` }}
                  />
                  <span className="text-[12px] text-second">{percent(total > 0 ? row.bytes / total : 0)}</span>
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > mostRows && (
        <p className="py-2 text-second">{formatCount(rows.length - mostRows)} more are not shown.</p>
      )}
    </section>
  );
}
