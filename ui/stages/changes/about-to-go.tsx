'use client';

import { toast } from 'sonner';
import type { GraceView } from '../../data/answers.ts';
import { call, useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { whatGoes, whyItGoes } from '../../kit/leaving.ts';
import { Section } from '../../kit/section.tsx';
import { dayAndMinute, inOtherZone } from '../../kit/times/times.ts';

/** Stored events that a revision lets go, while they can still be kept. */
export function AboutToGo() {
  const { data, mutate } = useQuestion('graces', {}, 15_000);
  if (!data || data.graces.length === 0) return null;
  const keep = async (grace: GraceView): Promise<void> => {
    try {
      await call('keepGraced', { id: grace.id });
      await mutate();
      toast(`Events are kept for the retention of “${grace.title}”.`);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The events could not be kept.');
    }
  };
  return (
    <Section title="Events about to be deleted" className="mt-6">
      <ul className="border-b border-hair">
        {data.graces.map((grace) => (
          <li key={grace.id} className="flex items-center gap-4 border-t border-hair py-1.5">
            <span className="min-w-0 flex-1">
              <Going grace={grace} />
            </span>
            {!grace.isKept && <Button onClick={() => void keep(grace)}>Keep events</Button>}
          </li>
        ))}
      </ul>
    </Section>
  );
}

function Going({ grace }: { readonly grace: GraceView }) {
  const { isKept, revision, until } = grace;
  const what = <b className="font-[650]">{whatGoes(grace)}</b>;
  if (isKept)
    return (
      <>
        {what} are kept for their old retention, though {whyItGoes(grace)} since revision {revision}.
      </>
    );
  return (
    <>
      <span className="text-danger">◆</span> {what} will be deleted on{' '}
      <time title={inOtherZone(until)}>{dayAndMinute(until)}</time>: since revision {revision} {whyItGoes(grace)}.
    </>
  );
}
