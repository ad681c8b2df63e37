'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import Link from 'next/link';
import { useQueryState } from 'nuqs';
import { useMemo, useRef } from 'react';
import { mutate } from 'swr';
import { formatCount, formatDuration } from '#core/events/units.ts';
import type { FollowedView, HealthAnswer } from '#core/health/views.ts';
import { callApi, useApi } from '../../data/use-api.ts';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { StateMark } from '../../kit/state-mark.tsx';
import { ago, inUtc, percent } from '../../kit/times.ts';

const order = ['silent', 'late', 'new', 'maintenance', 'steady', 'retired'];
const rowHeight = 48;
const hour = 3_600_000;

/** All emitters, or those of one source, the ones that need someone first. What is shown is in the address. */
export function EmitterTable({ source }: { readonly source?: string }) {
  const path = source === undefined ? '/api/health' : `/api/health?source=${source}`;
  const { data } = useApi<HealthAnswer>(path, 5_000);
  const [state, setState] = useQueryState('state', { defaultValue: 'all' });
  const [of] = useQueryState('of');
  const emitters = useMemo(
    () => data?.followed.filter((view) => view.emitter !== '' && (!of || view.source === of)) ?? [],
    [data, of],
  );
  const chosen = useMemo(
    () =>
      emitters
        .filter((view) => shown(view, state))
        .sort((a, b) => order.indexOf(a.health.state) - order.indexOf(b.health.state) || b.lastSeen - a.lastSeen),
    [emitters, state],
  );
  const count = (name: string): number => emitters.filter((view) => shown(view, name)).length;
  const options = [
    { value: 'all', title: `All ${formatCount(emitters.length)}` },
    ...['silent', 'late', 'steady'].map((name) => ({ value: name, title: `${formatCount(count(name))} ${name}` })),
    { value: 'fresh', title: `${formatCount(count('fresh'))} newly seen in 4 h` },
    { value: 'gone', title: `${formatCount(count('gone'))} not seen for 24 h` },
  ];
  const scroller = useRef<HTMLElement>(null);
  const rows = useVirtualizer({
    count: chosen.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 10,
  });
  return (
    <section aria-label="Emitters">
      <Choice label="Which emitters" value={state} onChange={(next) => void setState(next)} options={options} />
      {data && emitters.length === 0 && (
        <p className="mt-2 border-y border-hair py-3 text-second">No emitter has named itself yet.</p>
      )}
      <section
        ref={scroller}
        className="mt-2 max-h-[560px] overflow-auto border-y border-hair"
        tabIndex={0}
        aria-label="List of emitters"
      >
        <div style={{ height: rows.getTotalSize() }} className="relative">
          {rows.getVirtualItems().map((item) => {
            const view = chosen[item.index];
            return (
              view && (
                <div key={item.key} className="absolute inset-x-0" style={{ top: item.start, height: rowHeight }}>
                  <EmitterRow view={view} withSource={source === undefined} />
                </div>
              )
            );
          })}
        </div>
      </section>
    </section>
  );
}

function shown({ health, firstSeen, lastSeen }: FollowedView, state: string): boolean {
  if (state === 'all') return true;
  if (state === 'fresh') return firstSeen > Date.now() - 4 * hour;
  if (state === 'gone') return lastSeen < Date.now() - 24 * hour && health.state !== 'retired';
  return health.state === state;
}

function EmitterRow({ view, withSource }: { readonly view: FollowedView; readonly withSource: boolean }) {
  const retire = async (): Promise<void> => {
    const body = JSON.stringify({ source: view.source, emitter: view.emitter, retired: !view.retired });
    await callApi('/api/emitters', { method: 'PUT', body });
    await mutate((key) => typeof key === 'string' && key.startsWith('/api/health'));
  };
  const quiet = view.health.state === 'silent' || view.health.state === 'late' || view.health.state === 'retired';
  return (
    <div className="grid h-full grid-cols-[1fr_84px_84px_96px_68px] items-center gap-3 border-b border-hair px-1">
      <span className="min-w-0">
        <span className="flex gap-3">
          <b className="truncate font-[650]">{view.emitter}</b>
          <StateMark state={view.health.state} />
          {withSource && (
            <Link href={`/sources/${view.source}`} className="text-[12px] text-second hover:text-mark">
              {view.source}
            </Link>
          )}
        </span>
        <small className="block truncate text-[12px] text-second" title={view.health.reason}>
          {view.health.reason}
          {view.missing > 0 && ` · ${formatCount(view.missing)} numbers missing`}
          {view.duplicates > 0 && ` · ${formatCount(view.duplicates)} twice`}
        </small>
      </span>
      <span className="text-right text-[12.5px]">{view.eventsPerSecond.toFixed(2)} /s</span>
      <span className="text-right text-[12.5px] text-second">{percent(view.parsedShare)} parsed</span>
      <span className="text-right text-[12.5px] text-second" title={`${inUtc(view.lastSeen)} · ${lateness(view)}`}>
        {ago(view.lastSeen)}
      </span>
      {quiet ? (
        <Button look="quiet" className="px-1! text-[12px]" onClick={() => void retire()}>
          {view.retired ? 'Expect again' : 'Retire'}
        </Button>
      ) : (
        <span />
      )}
    </div>
  );
}

/** Clock skew and lateness in words. */
function lateness({ lateness: mean, latenessLeast }: FollowedView): string {
  if (latenessLeast < -2_000) return `its clock is ${formatDuration(-latenessLeast / 1000)} ahead`;
  return `events arrive ${formatDuration(Math.max(0, mean) / 1000)} after their time`;
}
