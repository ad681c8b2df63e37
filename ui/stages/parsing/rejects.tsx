'use client';

import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import useSWR, { mutate } from 'swr';
import { hour } from '#core/events/time-units.ts';
import { formatCount } from '#core/events/units.ts';
import { readingRule } from '#core/formats/read.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import type { SummaryValue } from '#core/summaries/aggregate-states.ts';
import { Spark } from '../../charts/spark.tsx';
import { call } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Problem } from '../../kit/section.tsx';
import { percent } from '../../kit/times/times.ts';
import { Quarantine } from './quarantine.tsx';

interface GroupRow {
  readonly reason: string;
  readonly count: number;
  readonly hours: readonly number[];
}

type Rows = readonly (readonly SummaryValue[])[];

const key = 'rejects';
const hoursShown = 24;

/** A summary over the rejects since a time. */
async function countRejects(show: string, from = '-7d'): Promise<Rows> {
  const { summary } = await call('search', {
    ...{ condition: 'has parse.failed', tiers: ['rejects'], from, to: 'now' },
    ...{ limit: 0, buckets: 0, show, background: true },
  });
  return summary?.rows ?? [];
}

/** The rejects of the last week by step and reason, with their counts over the last day. */
async function readGroups(): Promise<readonly GroupRow[]> {
  const [all, byHour] = await Promise.all([
    countRejects('count() by parse.failed top 100'),
    countRejects('count() by parse.failed every 1h top 100', '-24h'),
  ]);
  const now = Math.floor(Date.now() / hour);
  return all.map(([reason, count]) => ({
    reason: String(reason),
    count: Number(count),
    hours: Array.from({ length: hoursShown }, (_, i) => {
      const start = (now - hoursShown + 1 + i) * hour;
      const row = byHour.find((cells) => cells[0] === start && cells[1] === reason);
      return Number(row?.[2] ?? 0);
    }),
  }));
}

/** What could not be handled: what was set aside whole, and below it what steps and readers rejected. */
export function Rejects() {
  return (
    <>
      <Quarantine />
      <RejectGroups />
    </>
  );
}

/** What steps rejected: grouped, with lines that show it, to be tried again once the plan is mended. */
function RejectGroups() {
  const { data, error } = useSWR(key, readGroups, { refreshInterval: 15_000 });
  const [open, setOpen] = useState('');
  if (error) return <Problem>{error instanceof Error ? error.message : 'The rejects could not be loaded.'}</Problem>;
  if (data?.length === 0) {
    return (
      <div className="border-y border-hair py-6">
        <p className="font-semibold">No rejects.</p>
        <p className="text-second">
          Steps reject events only if set to; otherwise an event that fails is kept and marked. Marked events are listed
          under Pipelines.
        </p>
      </div>
    );
  }
  return (
    <>
      <RetrySources />
      <ul aria-label="Rejects by reason">
        {data?.map((group) => (
          <li key={group.reason} className="border-t border-hair last:border-b">
            <div className="flex items-center gap-4 py-2">
              <button
                type="button"
                aria-expanded={open === group.reason}
                onClick={() => setOpen(open === group.reason ? '' : group.reason)}
                className="min-w-0 flex-1 text-left hover:text-mark"
              >
                <b className="font-[650]">{group.reason.slice(group.reason.indexOf(': ') + 2)}</b>
                <small className="block text-[12px] text-second">
                  {isReading(group.reason)
                    ? 'before any step: the record could not be read'
                    : `step ${group.reason.slice(0, group.reason.indexOf(': '))}`}
                </small>
              </button>
              <Spark values={group.hours} label={`Rejected by hour over the last day: ${group.reason}`} />
              <b className="w-[90px] text-right font-semibold">{formatCount(group.count)}</b>
              <RejectActions reason={group.reason} />
            </div>
            {open === group.reason && <RejectLines reason={group.reason} />}
          </li>
        ))}
      </ul>
    </>
  );
}

/** Whether records were rejected as they were read, before any step. */
function isReading(reason: string): boolean {
  return reason.startsWith(`${readingRule}: `);
}

/** Sends rejects through the live plan again: those of a reason, or of a source. */
async function retryRejects(of: { readonly reason?: string; readonly source?: string }): Promise<void> {
  try {
    const { retried } = await call('retryRejects', of);
    toast(`${formatCount(retried)} rejects went through the live plan again, each once.`);
    await mutate((known) => typeof known === 'string' && known.startsWith(key));
  } catch (error) {
    toast.error(error instanceof Error ? error.message : 'The rejects could not be retried.');
  }
}

/** Retries all rejects of a source together, whatever they were rejected for. */
function RetrySources() {
  const { data } = useSWR(`${key} by source`, () => countRejects('count() by source top 20'), {
    refreshInterval: 15_000,
  });
  const [busy, setBusy] = useState('');
  const retry = async (source: string): Promise<void> => {
    setBusy(source);
    await retryRejects({ source });
    setBusy('');
  };
  if (!data || data.length === 0) return null;
  return (
    <p className="flex flex-wrap items-center gap-2 border-t border-hair py-2 text-[12.5px] text-second">
      Retry with live plan, all rejects of
      {data.map(([source, count]) => (
        <Button key={String(source)} disabled={busy !== ''} onClick={() => void retry(String(source))}>
          {busy === source ? 'Retrying …' : `${source} (${formatCount(Number(count))})`}
        </Button>
      ))}
    </p>
  );
}

function RejectActions({ reason }: { readonly reason: string }) {
  const [busy, setBusy] = useState('');
  const [found, setFound] = useState<RehearsalAnswer | undefined>();
  const rehearse = async (): Promise<void> => {
    setBusy('Rehearsing …');
    try {
      setFound(await call('rehearseRejects', { reason }));
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The rehearsal failed.');
    } finally {
      setBusy('');
    }
  };
  const retry = async (): Promise<void> => {
    setBusy('Retrying …');
    await retryRejects({ reason });
    setBusy('');
  };
  const pipeline = reason.split('/')[0];
  const rejected = found?.outcomes.find(({ id }) => id === 'rejected');
  const saved = found ? found.arrived.events - (rejected?.draft.events ?? 0) : 0;
  return (
    <span className="flex items-center gap-1">
      {found && (
        <span className="text-[12.5px]">
          <b>{percent(found.arrived.events > 0 ? saved / found.arrived.events : 0)}</b> of them would pass
        </span>
      )}
      {!isReading(reason) && (
        <Link
          href={`/parsing/${pipeline}?step=${Number.parseInt(reason.split('/')[1] ?? '1', 10)}`}
          className="px-2 font-semibold text-mark hover:underline"
        >
          Open step
        </Link>
      )}
      <Button disabled={busy !== ''} onClick={() => void rehearse()}>
        {busy === 'Rehearsing …' ? busy : 'Rehearse rejects'}
      </Button>
      <Button disabled={busy !== ''} onClick={() => void retry()}>
        {busy === 'Retrying …' ? busy : 'Retry with live plan'}
      </Button>
    </span>
  );
}

function RejectLines({ reason }: { readonly reason: string }) {
  const { data } = useSWR(`${key} ${reason}`, () =>
    call('search', {
      condition: `parse.failed = "${reason.replace(/["\\]/g, '\\$&')}"`,
      tiers: ['rejects'],
      from: '-7d',
      to: 'now',
      limit: 12,
      buckets: 0,
    }),
  );
  return (
    <ol className="mb-2">
      {data?.events.map((event, index) => (
        <li key={`${event.time} ${index}`} className="line border-t border-hair py-1 whitespace-pre-wrap break-all">
          <span className="mr-3 text-second">{event.source}</span>
          {event.body || JSON.stringify(event.attributes)}
        </li>
      ))}
    </ol>
  );
}
