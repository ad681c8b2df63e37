'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { namedSource } from '#core/plan/named-source.ts';
import { call, refresh } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { Dialog } from '../../kit/dialog.tsx';
import { Problem } from '../../kit/section.tsx';

/** Removing a source for good, with what is lost by it and what stays. */
export function RemoveSource({ name, received }: { readonly name: string; readonly received: string }) {
  const { plan } = useDraft();
  const router = useRouter();
  const [asking, setAsking] = useState(false);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const pipelines = plan?.pipelines.filter(({ when }) => namedSource(when) === name) ?? [];
  const remove = async (): Promise<void> => {
    setBusy(true);
    try {
      await call('removeSource', { name });
      router.push('/sources');
      await refresh('sources');
      toast(`${name} is removed.`);
    } catch (error) {
      setProblem(error instanceof Error ? error.message : 'The source could not be removed.');
      setBusy(false);
    }
  };
  return (
    <>
      <Button look="danger" className="-ml-3" onClick={() => setAsking(true)}>
        Remove source …
      </Button>
      <Dialog open={asking} title={`Remove ${name}`} onClose={() => setAsking(false)}>
        <p>
          No more events are accepted from {name}, which sent {received} in the last week. Its tokens, how far it was
          read, and what was learnt of the rhythm of its emitters are lost. A source that will merely be quiet is better
          retired.
        </p>
        <p className="mt-2 text-second">
          Its stored events stay searchable until they expire.
          {pipelines.length > 0 &&
            ` The plan keeps ${pipelines.map(({ title }) => `“${title}”`).join(', ')}, which nothing enters any more.`}
        </p>
        {problem !== '' && <Problem>{problem}</Problem>}
        <div className="mt-4 flex justify-end gap-3">
          <Button onClick={() => setAsking(false)}>Cancel</Button>
          <Button look="danger" disabled={busy} onClick={() => void remove()}>
            {busy ? 'Removing …' : 'Remove source'}
          </Button>
        </div>
      </Dialog>
    </>
  );
}
