'use client';

import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import { formatCoinsChange } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { placeInWords } from '#core/plan/place-in-words.ts';
import type { PlanProblem } from '#core/plan/plan-problem.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import type { RehearsalSoFar } from '#core/rehearsal/so-far.ts';
import { useDraft } from '../data/draft.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';
import { percent } from '../kit/times/times.ts';
import { placeLink } from '../parts/place-link.ts';
import { useRehearsal } from '../parts/use-rehearsal.ts';
import { PublishDialog } from './publish-dialog.tsx';
import { RebaseDialog } from './rebase-dialog.tsx';

/** At the bottom of every screen while there is a draft: what it changes, what that is predicted to do, what to do with it. */
export function DraftStrip() {
  const { draft, discard } = useDraft();
  const { busy, soFar, run } = useRehearsal();
  const [publishing, setPublishing] = useState(false);
  const [discarding, setDiscarding] = useState(false);
  const [rebasing, setRebasing] = useState(false);
  if (!draft) return null;
  const throwAway = async (): Promise<void> => {
    setDiscarding(false);
    await discard();
    toast('Draft discarded. You can restore it for 24 hours under Changes.');
  };
  const count = draft.changes.length;
  const goes = draft.leaving.reduce((sum, { events }) => sum + events, 0);
  const [problem] = draft.problems;
  const { behind } = draft;
  return (
    <section
      aria-label="Draft"
      className="fixed inset-x-0 bottom-0 z-40 flex h-[52px] items-center gap-5 bg-strip px-6 text-on-strip"
    >
      <b className="font-[650]">Draft</b>
      <Link href="/changes" className="hover:underline">
        {count} {count === 1 ? 'change' : 'changes'}
      </Link>
      {problem ? (
        <ProblemOfDraft plan={draft.plan} problem={problem} />
      ) : soFar ? (
        <FirstFigures soFar={soFar} />
      ) : (
        <Prediction rehearsal={draft.rehearsal} />
      )}
      {behind.length > 0 && (
        <Button look="strip" onClick={() => setRebasing(true)}>
          ▲ The live plan has changed
        </Button>
      )}
      {goes > 0 && <b className="font-[650] whitespace-nowrap">▲ deletes {formatCount(goes)} stored events</b>}
      <span className="flex-1" />
      <Button look="strip" onClick={() => (count > 1 ? setDiscarding(true) : void throwAway())}>
        Discard
      </Button>
      {busy ? (
        <Button look="strip" onClick={() => busy.abort()}>
          Rehearsing … Stop
        </Button>
      ) : (
        <Button look="strip" disabled={problem !== undefined} onClick={() => void run()}>
          Rehearse
        </Button>
      )}
      <Button
        look="main"
        disabled={problem !== undefined}
        onClick={() => (behind.length > 0 ? setRebasing(true) : setPublishing(true))}
      >
        Publish
      </Button>
      <RebaseDialog open={rebasing} behind={behind} basedOn={draft.basedOn} onClose={() => setRebasing(false)} />
      <PublishDialog
        open={publishing}
        onClose={() => setPublishing(false)}
        onRehearse={() => {
          setPublishing(false);
          void run();
        }}
      />
      <DiscardDialog
        open={discarding}
        changes={count}
        onClose={() => setDiscarding(false)}
        onDiscard={() => void throwAway()}
      />
    </section>
  );
}

/** The first thing that is wrong with the draft, and where. */
function ProblemOfDraft({ plan, problem }: { readonly plan: PlanDocument; readonly problem: PlanProblem }) {
  const { item, words } = placeInWords(plan, problem.path);
  return (
    <span className="truncate">
      ◆{' '}
      {item ? (
        <Link href={placeLink(item)} className="underline">
          {words}
        </Link>
      ) : (
        words
      )}
      : {problem.message}
    </span>
  );
}

/** Asks before more than one change is discarded. */
function DiscardDialog(props: {
  readonly open: boolean;
  readonly changes: number;
  readonly onClose: () => void;
  readonly onDiscard: () => void;
}) {
  return (
    <Dialog open={props.open} title={`Discard ${props.changes} changes?`} onClose={props.onClose}>
      <p>You can restore it for 24 hours under Changes.</p>
      <div className="mt-4 flex justify-end gap-3">
        <Button onClick={props.onClose}>Keep draft</Button>
        <Button look="danger" onClick={props.onDiscard}>
          Discard draft
        </Button>
      </div>
    </Dialog>
  );
}

/** First figures of a running rehearsal, extrapolated to the whole tape. */
function FirstFigures({ soFar: { done, all, parsed, kept } }: { readonly soFar: RehearsalSoFar }) {
  return (
    <>
      <span role="status" className="whitespace-nowrap opacity-75">
        {percent(all > 0 ? done / all : 0)} of the tape read
      </span>
      <span className="whitespace-nowrap">
        parsed ≈ {percent(parsed.live)} → <b>{percent(parsed.draft)}</b>
      </span>
      <span className="whitespace-nowrap">
        kept ≈ <b>{keptChange(kept.draft - kept.live, '')}</b>
      </span>
    </>
  );
}

/** The change in bytes kept, in words; `over` is that of which they are. */
function keptChange(bytes: number, over = '/day'): string {
  return Math.abs(bytes) < 1 ? 'no change' : `${bytes < 0 ? '−' : '+'} ${formatBytes(Math.abs(bytes))}${over}`;
}

function Prediction({ rehearsal }: { readonly rehearsal: RehearsalAnswer | null }) {
  if (!rehearsal) return <span className="opacity-75">not rehearsed yet</span>;
  const saved = rehearsal.kept.draft.bytes - rehearsal.kept.live.bytes;
  const { money, span } = rehearsal;
  const change = money ? money.draft - money.live : 0;
  return (
    <>
      <span className="whitespace-nowrap">
        parsed {percent(rehearsal.parsed.live)} → <b>{percent(rehearsal.parsed.draft)}</b>
      </span>
      <span className="whitespace-nowrap">
        kept <b>{keptChange(saved, span > 0 ? '/day' : '')}</b>
      </span>
      {money && (
        <span className="whitespace-nowrap">
          costs{' '}
          <b>
            {change === 0 ? 'no change' : `${formatCoinsChange(change, money.currency)}${span > 0 ? '/30 days' : ''}`}
          </b>
        </span>
      )}
    </>
  );
}
