'use client';

import Link from 'next/link';
import { formatCoins } from '#core/costs/format-coins.ts';
import { daysOfMonth } from '#core/costs/retention/lifetime.ts';
import { formatBytes } from '#core/events/units.ts';
import { useQuestion } from '../../data/client.ts';
import { Section } from '../../kit/section.tsx';
import { percent } from '../../kit/times/times.ts';
import { ShapeText } from '../explore/shapes/shape-text.tsx';

/** Shapes that are offered, and the least share of the tier that one of them has. */
const mostOffered = 3;
const leastShare = 0.02;

/** Severities of lines that nobody should be offered to leave out. */
const serious: ReadonlySet<string> = new Set(['warn', 'error', 'fatal']);

/** What of a tier without exclusions makes the most noise: its largest shapes, with a way to decide about each. */
export function NoisyShapes({ tier }: { readonly tier: string }) {
  const { data } = useQuestion('shapes', { condition: `tier = ${tier}`, from: '-1d' });
  const offered = (data?.shapes ?? [])
    .filter(({ wanted, severity, bytes }) => {
      return !wanted && !serious.has(severity) && bytes >= leastShare * (data?.total.bytes ?? 0);
    })
    .slice(0, mostOffered);
  if (!data || offered.length === 0) return null;
  return (
    <Section title="Its largest shapes · last 24 h" className="mt-6 border-t border-hair pt-3">
      {offered.map(({ id, pieces, bytes, coins }) => (
        <Link
          key={id}
          href={`/explore?view=shapes&w=-1d&shape=${id}`}
          className="block border-t border-hair py-1.5 hover:bg-land/40"
        >
          <span className="line block truncate">
            <ShapeText pieces={pieces} />
          </span>
          <span className="text-[12.5px] text-second">
            {formatBytes(bytes)} a day, {percent(bytes / Math.max(1, data.total.bytes))} of what it keeps
            {data.currency && `, ${formatCoins(coins * daysOfMonth, data.currency)} per 30 days`}
          </span>
        </Link>
      ))}
    </Section>
  );
}
