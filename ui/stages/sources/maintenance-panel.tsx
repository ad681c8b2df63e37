'use client';

import { type FormEvent, useState } from 'react';
import { mutate } from 'swr';
import { formatDuration } from '#core/events/units.ts';
import { callApi, useApi } from '../../data/use-api.ts';
import { Button } from '../../kit/button.tsx';
import { Problem } from '../../kit/section.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { dayAndMinute } from '../../kit/times.ts';

interface Window {
  readonly id: number;
  readonly title: string;
  readonly scope: string;
  readonly from: number;
  readonly to: number | null;
  readonly schedule: string;
  readonly length: number;
}

const path = '/api/maintenance';

/** The local time that a date field holds. */
function fieldTime(time: number): string {
  const date = new Date(time - new Date(time).getTimezoneOffset() * 60_000);
  return date.toISOString().slice(0, 16);
}

/** Announced absences, once or by a schedule: who is away is not silent. */
export function MaintenancePanel() {
  const { data } = useApi<{ readonly windows: readonly Window[] }>(path);
  const [title, setTitle] = useState('');
  const [scope, setScope] = useState('');
  const [from, setFrom] = useState(() => fieldTime(Date.now()));
  const [length, setLength] = useState('2h');
  const [schedule, setSchedule] = useState('');
  const [failed, setFailed] = useState('');
  const add = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    setFailed('');
    try {
      const body = { title, scope, from: new Date(from).getTime(), length, schedule };
      await callApi(path, { method: 'POST', body: JSON.stringify(body) });
      setTitle('');
      await mutate(path);
    } catch (error) {
      setFailed(error instanceof Error ? error.message : 'The maintenance could not be kept.');
    }
  };
  const remove = async (id: number): Promise<void> => {
    await callApi(path, { method: 'DELETE', body: JSON.stringify({ id }) });
    await mutate(path);
  };
  return (
    <div className="flex flex-col gap-3">
      <p className="text-second">Who is away for maintenance is neither late nor silent.</p>
      <ul>
        {data?.windows.map((window) => (
          <li key={window.id} className="flex items-center gap-2 border-t border-hair py-1.5 last:border-b">
            <span className="flex-1">
              <b className="font-[650]">{window.title}</b> <span className="line block">{window.scope}</span>
              <small className="text-[12px] text-second">
                {window.schedule === ''
                  ? `${dayAndMinute(window.from)} to ${dayAndMinute(window.to ?? 0)}`
                  : `${window.schedule} (UTC), for ${formatDuration(window.length / 1000)} each`}
              </small>
            </span>
            <Button look="quiet" onClick={() => void remove(window.id)}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      <form onSubmit={(event) => void add(event)} className="flex flex-col gap-3">
        <TextField
          label="What for"
          value={title}
          onChange={(event) => setTitle(event.target.value)}
          placeholder="New switches on Pier 4"
          required
        />
        <TextField
          label="Who"
          mono
          value={scope}
          onChange={(event) => setScope(event.target.value)}
          placeholder="source = gates emitter = gate-p4-*"
          required
        />
        <div className="flex gap-3">
          <TextField
            label="From"
            type="datetime-local"
            value={from}
            onChange={(event) => setFrom(event.target.value)}
            className="flex-1"
          />
          <TextField
            label="For"
            mono
            value={length}
            onChange={(event) => setLength(event.target.value)}
            className="w-[90px]"
          />
        </div>
        <TextField
          label="Again by this schedule (cron, UTC)"
          mono
          value={schedule}
          onChange={(event) => setSchedule(event.target.value)}
          placeholder="0 2 * * 0"
        />
        {failed !== '' && <Problem>{failed}</Problem>}
        <div>
          <Button type="submit" look="main">
            Announce
          </Button>
        </div>
      </form>
    </div>
  );
}
