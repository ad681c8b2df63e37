'use client';

import { parseAsInteger, useQueryState } from 'nuqs';
import { toast } from 'sonner';
import type { Currency } from '#core/costs/book/price-book.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { RevisionView } from '../../data/answers.ts';
import { call, refresh } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { dayAndMinute, inOtherZone } from '../../kit/times/times.ts';
import { PredictedAndMeasured } from '../overview/last-published.tsx';
import { glyphs } from './change-list.tsx';
import { RevisionSaving } from './revision-saving.tsx';
import { RevisionTimeline } from './revision-timeline.tsx';

/** A published revision: its changes, its effect, and, when expanded, its volume over time. */
export function Revision({
  revision,
  live,
  currency,
  plan,
}: {
  readonly revision: RevisionView;
  readonly live: boolean;
  readonly currency: Currency | null;
  /** For the titles of tiers. */
  readonly plan: PlanDocument | undefined;
}) {
  const [timeline, setTimeline] = useQueryState('timeline', parseAsInteger);
  const isOpen = timeline === revision.number;
  const bringBack = async (): Promise<void> => {
    await call('restoreRevision', { number: revision.number });
    await refresh('draft');
    toast(`Revision ${revision.number} is the draft now. Rehearse and publish it to restore it.`);
  };
  return (
    <li className="flex gap-6 border-t border-hair py-3 last:border-b">
      <div className="min-w-0 flex-1">
        <div className="flex items-baseline gap-3">
          <b className="font-[680]">Revision {revision.number}</b>
          <time className="text-second" title={inOtherZone(revision.publishedAt)}>
            {dayAndMinute(revision.publishedAt)}
          </time>
          {live ? (
            <span className="text-well">● live</span>
          ) : (
            <Button look="quiet" onClick={() => void bringBack()} aria-label={`Restore revision ${revision.number}`}>
              Restore
            </Button>
          )}
        </div>
        <p>{revision.note}</p>
        <ul className="mt-1 text-[12.5px] text-second">
          {revision.changes.slice(0, 6).map((change) => (
            <li key={change.path + change.text}>
              <span aria-hidden="true">{glyphs[change.kind]} </span>
              {change.text}
            </li>
          ))}
          {revision.changes.length > 6 && <li>and {revision.changes.length - 6} more</li>}
        </ul>
      </div>
      {revision.number > 1 && (
        <div className="w-[340px] shrink-0">
          <PredictedAndMeasured revision={revision} />
          {revision.isRehearsed && (
            <Button
              look="quiet"
              className="px-0!"
              aria-expanded={isOpen}
              onClick={() => void setTimeline(isOpen ? null : revision.number)}
            >
              Hour by hour
            </Button>
          )}
          {isOpen && <RevisionTimeline number={revision.number} plan={plan} />}
          <RevisionSaving revision={revision} isLive={live} currency={currency} />
        </div>
      )}
    </li>
  );
}
