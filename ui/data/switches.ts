'use client';

import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { call, refresh, useQuestion } from './client.ts';

/** What of the live plan is switched for a while. What has ended meanwhile is shown as off at once. */
export function useSwitches() {
  const { data } = useQuestion('switches', {}, 3_000);
  const [now, setNow] = useState(() => Date.now());
  const isAnyOn = (data?.postures.some(({ on }) => on !== null) ?? false) || (data?.exclusions.length ?? 0) > 0;
  useEffect(() => {
    // Only what is on has an end to be waited for.
    if (!isAnyOn) return;
    setNow(Date.now());
    const timer = setInterval(() => setNow(Date.now()), 1_000);
    return () => clearInterval(timer);
  }, [isAnyOn]);
  return {
    now,
    currency: data?.currency ?? undefined,
    postures: data?.postures.map((posture) => ({
      ...posture,
      on: posture.on && posture.on.until > now ? posture.on : null,
    })),
    exclusions: data?.exclusions.filter(({ until }) => until > now) ?? [],
  };
}

async function orToast(work: () => Promise<unknown>): Promise<void> {
  try {
    await work();
    await refresh('switches');
  } catch (error) {
    toast.error(error instanceof Error ? error.message : 'It could not be switched on or off.');
  }
}

/** Switches a posture on for a while, such as `4h`, with a reason, or off. */
export function switchPosture(
  id: string,
  wanted: { readonly for: string; readonly reason: string } | 'off',
): Promise<void> {
  const body = wanted === 'off' ? { on: false } : { on: true, ...wanted };
  return orToast(() => call('switchPosture', { id, ...body }));
}

/** Temporarily overrides how much an exclusion keeps, for a time such as `4h`, with a reason. */
export function switchExclusion(
  tier: string,
  exclusion: string,
  wanted: { readonly keep: string; readonly for: string; readonly reason: string },
): Promise<void> {
  return orToast(() => call('switchExclusion', { tier, exclusion, ...wanted }));
}

/** Has an exclusion keep again what the plan says. */
export function restoreExclusion(tier: string, exclusion: string): Promise<void> {
  return orToast(() => call('restoreExclusion', { tier, exclusion }));
}
