'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { isRehearsalSpan } from '#core/rehearsal/rehearsal-span.ts';
import type { RehearsalSoFar } from '#core/rehearsal/so-far.ts';
import type { SurgeChoice } from '#core/rehearsal/surge.ts';
import { useDraft } from '../data/draft.ts';
import { useKept } from '../kit/use-kept.ts';

/** A rehearsal of the draft that runs at the press of a button. */
export interface RehearsalRun {
  /** Stops the running rehearsal; undefined if none is running. */
  readonly busy: AbortController | undefined;
  /** First figures of the running rehearsal. */
  readonly soFar: RehearsalSoFar | undefined;
  /** Runs a rehearsal and opens its result. This browser remembers `span`; if absent, the last one is used. */
  readonly run: (span?: string, surge?: SurgeChoice) => Promise<void>;
}

const usualSpan = '24h';

export function useRehearsal(): RehearsalRun {
  const { rehearse } = useDraft();
  const [busy, setBusy] = useState<AbortController | undefined>();
  const [soFar, setSoFar] = useState<RehearsalSoFar | undefined>();
  const [last, setLast] = useKept('rehearsal-span', usualSpan);
  const router = useRouter();
  const run = async (wanted = last, surge?: SurgeChoice): Promise<void> => {
    // The browser's storage may hold anything.
    const span = isRehearsalSpan(wanted) ? wanted : usualSpan;
    const controller = new AbortController();
    setBusy(controller);
    setLast(span);
    try {
      await rehearse({ span, ...(surge && { surge }) }, controller.signal, setSoFar);
      router.push('/changes?rehearsal=1');
    } catch (error) {
      if (!controller.signal.aborted) toast.error(error instanceof Error ? error.message : 'The rehearsal failed.');
    } finally {
      setBusy(undefined);
      setSoFar(undefined);
    }
  };
  return { busy, soFar, run };
}
