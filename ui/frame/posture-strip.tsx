'use client';

import Link from 'next/link';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatDuration } from '#core/events/units.ts';
import { switchPosture, useSwitches } from '../data/switches.ts';
import { Button } from '../kit/button.tsx';
import { dayAndMinute } from '../kit/times/times.ts';

/** On every screen while a posture is on: which, until when, why, and what it adds. */
export function PostureStrip() {
  const { postures = [], now, currency } = useSwitches();
  return postures.map(({ id, title, on, adds }) => {
    if (!on) return null;
    return (
      <div
        key={id}
        role="status"
        className="flex flex-wrap items-center gap-x-4 border-b border-hair bg-land px-6 py-1 text-[13px]"
      >
        <span>
          <span aria-hidden="true" className="text-caution">
            ▲
          </span>{' '}
          <Link href={`/routing#posture-${id}`} className="font-[680] hover:text-mark">
            {title}
          </Link>{' '}
          is on until {dayAndMinute(on.until)}
        </span>
        <span className="text-second">
          {formatDuration(Math.max(1, Math.ceil((on.until - now) / 1000)))} left
          {adds &&
            adds.bytes > 0 &&
            ` · keeps ≈ ${formatBytes(adds.bytes)} more per hour${currency ? `, ${formatCoins(adds.coins, currency, true)}` : ''}`}
          {on.reason !== '' && ` · ${on.reason}`}
        </span>
        <Button look="quiet" className="ml-auto py-0!" onClick={() => void switchPosture(id, 'off')}>
          Switch off
        </Button>
      </div>
    );
  });
}
