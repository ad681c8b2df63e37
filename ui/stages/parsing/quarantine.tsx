'use client';

import { toast } from 'sonner';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { call, useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';
import { dayAndMinute, inOtherZone } from '../../kit/times/times.ts';

/** Deliveries that could not be stored as events and were set aside as they came. */
export function Quarantine() {
  const { data, mutate } = useQuestion('quarantine', {}, 15_000);
  if (!data || data.deliveries.length === 0) return null;
  const act = async (id: number, name: 'retryQuarantined' | 'removeQuarantined', done: string): Promise<void> => {
    try {
      await call(name, { id });
      toast(done);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The action failed.');
    }
    await mutate();
  };
  return (
    <Section title="Set aside, kept for 30 days" className="mb-5">
      <ul aria-label="Deliveries that were set aside" className="border-b border-hair">
        {data.deliveries.map(({ id, source, reason, records, bytes, at }) => (
          <li key={id} className="flex items-center gap-4 border-t border-hair py-1.5">
            <span className="min-w-0 flex-1">
              <b className="font-[650]">{source}</b>: {formatCount(records)} records, {formatBytes(bytes)},{' '}
              <time title={inOtherZone(at)}>{dayAndMinute(at)}</time>
              <small className="block truncate text-[12px] text-second" title={reason}>
                {reason}
              </small>
            </span>
            <Button onClick={() => void act(id, 'retryQuarantined', 'Delivery accepted again.')}>Retry</Button>
            <Button look="danger" onClick={() => void act(id, 'removeQuarantined', 'Delivery deleted.')}>
              Delete
            </Button>
          </li>
        ))}
      </ul>
    </Section>
  );
}
