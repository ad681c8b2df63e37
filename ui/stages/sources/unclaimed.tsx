'use client';

import { useRouter } from 'next/navigation';
import useSWR from 'swr';
import { formatCount } from '#core/events/units.ts';
import { call } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';

/** Programs that began to send syslog without having been announced: their events are kept, and they can become sources. */
export function Unclaimed() {
  const router = useRouter();
  const { data } = useSWR(
    'unclaimed',
    () =>
      call('search', {
        condition: 'source = syslog',
        from: '-1d',
        to: 'now',
        limit: 0,
        buckets: 0,
        show: 'count() by app top 10',
        background: true,
      }),
    { refreshInterval: 20_000 },
  );
  const rows = (data?.summary?.rows ?? []).flatMap(([app, count]) =>
    app === null ? [] : [{ app: String(app), count: Number(count) }],
  );
  if (rows.length === 0) return null;
  const claim = (app: string): void => {
    const name = app.toLowerCase().replace(/[^a-z0-9]+/g, '-');
    router.push(`/sources?${new URLSearchParams({ connect: '1', kind: 'syslog', claim: name })}`);
  };
  return (
    <Section title="Sending syslog unannounced · last 24 h" className="mt-6 max-w-[640px]">
      <ul>
        {rows.map(({ app, count }) => (
          <li key={app} className="flex items-center justify-between border-t border-hair py-1 last:border-b">
            <span>
              <b className="font-[650]">{app}</b>{' '}
              <span className="text-second">{formatCount(count)} events, kept under “syslog”</span>
            </span>
            <Button look="quiet" onClick={() => claim(app)}>
              Create source
            </Button>
          </li>
        ))}
      </ul>
    </Section>
  );
}
