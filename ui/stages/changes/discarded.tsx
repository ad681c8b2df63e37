'use client';

import { toast } from 'sonner';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';
import { ago, inOtherZone } from '../../kit/times/times.ts';

const shown = 3;

/** Drafts that were thrown away within a day and can be taken up again. */
export function Discarded() {
  const { data } = useQuestion('discardedDrafts', {}, 30_000);
  if (!data || data.drafts.length === 0) return null;
  const takeUp = async (id: number): Promise<void> => {
    try {
      await call('takeUpDraft', { id });
      await refresh('draft');
      toast('Draft restored.');
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The draft could not be restored.');
    }
    await refresh('discardedDrafts');
  };
  return (
    <Section title="Discarded drafts" className="mt-6">
      <ul className="border-b border-hair">
        {data.drafts.map(({ id, discardedAt, changes }) => (
          <li key={id} className="flex items-center gap-4 border-t border-hair py-1.5">
            <span className="min-w-0 flex-1">
              <time title={inOtherZone(discardedAt)} className="text-second">
                discarded {ago(discardedAt)}
              </time>
              {': '}
              {changes
                .slice(0, shown)
                .map(({ text }) => text)
                .join('; ') || 'no changes'}
              {changes.length > shown && `; and ${changes.length - shown} more`}
            </span>
            <Button onClick={() => void takeUp(id)}>Restore draft</Button>
          </li>
        ))}
      </ul>
    </Section>
  );
}
