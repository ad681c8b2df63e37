'use client';

import { parseTime } from '#core/conditions/times.ts';
import { formatDuration } from '#core/events/units.ts';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { maintenance } from '../../data/source-requests.ts';
import { Button } from '../../kit/button.tsx';
import { Form, TextInput, TimeInput, timeText } from '../../kit/form.tsx';
import { dayAndMinute } from '../../kit/times/times.ts';

const start = { title: '', scope: '', from: 'now', length: '2h', schedule: '' };
const shape = maintenance.shape({ from: timeText });

async function announce(fields: typeof start): Promise<void> {
  const body = { ...fields, from: parseTime(fields.from, Date.now()) };
  await call('announceMaintenance', body);
  await refresh('maintenance');
}

/** Announced absences, once or by a schedule: who is away is not silent. */
export function MaintenancePanel() {
  const { data } = useQuestion('maintenance', {});
  const remove = async (id: number): Promise<void> => {
    await call('removeMaintenance', { id });
    await refresh('maintenance');
  };
  return (
    <div className="flex flex-col gap-3">
      <p className="text-second">Sources and emitters under maintenance are not reported as late or silent.</p>
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
      <Form label="New window" shape={shape} start={start} onSend={announce} submit="Announce" clears>
        <TextInput name="title" label="Reason" placeholder="New switches on Pier 4" />
        <TextInput name="scope" label="Who" mono placeholder="source = gates emitter = gate-p4-*" />
        <div className="flex gap-3">
          <TimeInput name="from" label="From" className="flex-1" />
          <TextInput name="length" label="For" mono className="w-[90px]" />
        </div>
        <TextInput name="schedule" label="Repeat (cron, UTC)" mono placeholder="0 2 * * 0" />
      </Form>
    </div>
  );
}
