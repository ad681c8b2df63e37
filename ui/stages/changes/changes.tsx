'use client';

import { useQueryState } from 'nuqs';
import { toast } from 'sonner';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import type { PlanChange } from '#core/plan/plan-change.ts';
import type { RevisionView } from '../../data/answers.ts';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { Figure, FigurePending, Mark } from '../../kit/figure.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Nothing, Section } from '../../kit/section.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { ChangesStill } from '../../kit/still-pictures.tsx';
import { dayAndMinute, inOtherZone } from '../../kit/times/times.ts';
import { PredictedAndMeasured } from '../overview/last-published.tsx';
import { AboutToGo } from './about-to-go.tsx';
import { Discarded } from './discarded.tsx';
import { RehearsalResult } from './rehearsal-result.tsx';

/** What did we change, and did it do what we said? */
export function Changes() {
  const { draft, plan, live } = useDraft();
  const { data } = useQuestion('revisions', {}, 15_000);
  const [panel, setPanel] = useQueryState('rehearsal');
  const [latest] = data?.revisions ?? [];
  const rehearsal = draft?.rehearsal;
  return (
    <WithPanel
      open={panel !== null && Boolean(rehearsal)}
      title="Rehearsal"
      onClose={() => void setPanel(null)}
      panel={
        rehearsal && plan && <RehearsalResult rehearsal={rehearsal} plan={plan} live={live} leaving={draft.leaving} />
      }
    >
      <Sentence>
        {latest ? (
          <>
            Revision{' '}
            <Figure name="revision" over="now" unit="number" value={latest.number}>
              {latest.number}
            </Figure>{' '}
            has been live since <Mark>{dayAndMinute(latest.publishedAt)}</Mark>;{' '}
            {draft ? (
              <>
                the draft changes{' '}
                <Figure name="changes of the draft" over="now" unit="changes" value={draft.changes.length} needs>
                  {draft.changes.length === 1 ? 'one thing' : `${draft.changes.length} things`}
                </Figure>
                .
              </>
            ) : (
              'there is no draft.'
            )}
          </>
        ) : (
          <>
            Revision <FigurePending /> is live.
          </>
        )}
      </Sentence>
      <Section
        title="Draft"
        className="mt-4"
        aside={
          rehearsal &&
          panel === null && (
            <Button look="quiet" onClick={() => void setPanel('1')}>
              Show rehearsal
            </Button>
          )
        }
      >
        {!draft && (
          <Nothing title="There is no draft." picture={<ChangesStill />}>
            Edit a pipeline or a tier to start one. Its changes are listed here until you publish them.
          </Nothing>
        )}
        {draft && <ChangeList changes={draft.changes} />}
        {draft?.problems.map((problem) => (
          <p key={problem.path + problem.message} className="text-danger">
            ◆ <code className="line">{problem.path}</code> {problem.message}
          </p>
        ))}
      </Section>
      <Discarded />
      <AboutToGo />
      <Section title="Revisions" className="mt-6">
        <ol>
          {data?.revisions.map((revision, index) => (
            <Revision key={revision.number} revision={revision} live={index === 0} currency={data.currency} />
          ))}
        </ol>
      </Section>
    </WithPanel>
  );
}

const glyphs: Readonly<Record<PlanChange['kind'], string>> = { added: '+', removed: '−', changed: '~', moved: '↕' };

function ChangeList({ changes }: { readonly changes: readonly PlanChange[] }) {
  return (
    <ul className="border-b border-hair">
      {changes.map((change) => (
        <li key={change.path + change.text} className="grid grid-cols-[20px_1fr] border-t border-hair py-1.5">
          <span aria-hidden="true" className="text-mark">
            {glyphs[change.kind]}
          </span>
          <span className="min-w-0">
            {change.text}
            {change.before !== undefined && (
              <span className="line mt-0.5 block whitespace-pre-wrap break-all">
                <span className="text-second line-through">{change.before || 'every event'}</span>
                <br />
                <span>{change.after || 'every event'}</span>
              </span>
            )}
          </span>
        </li>
      ))}
    </ul>
  );
}

/** What a revision saved, or cost more, while it was live; nothing where that is not known. */
function Saved({
  saved,
  isLive,
  currency,
}: {
  readonly saved: number | null;
  readonly isLive: boolean;
  readonly currency: Currency | null;
}) {
  if (saved === null || !currency) return null;
  return (
    <p
      className="mt-1 text-right text-[12.5px]"
      title="What the events that arrived while it was live cost until they expire, compared with the plan before as it was rehearsed"
    >
      {saved === 0 ? 'no difference in cost' : saved > 0 ? 'saved ' : 'cost '}
      {saved !== 0 && <b className="font-[650]">{formatCoins(Math.abs(saved), currency, true)}</b>}
      {saved < 0 && ' more'} {isLive ? 'so far' : 'while it was live'}
    </p>
  );
}

function Revision({
  revision,
  live,
  currency,
}: {
  readonly revision: RevisionView;
  readonly live: boolean;
  readonly currency: Currency | null;
}) {
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
          <Saved saved={revision.saved} isLive={live} currency={currency} />
        </div>
      )}
    </li>
  );
}
