'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { formatBytes } from '#core/events/units.ts';
import { newMasks } from '#core/plan/new-masks.ts';
import { type Rehearsal, useDraft, withPipeline } from '../data/draft.ts';
import { ApiProblem } from '../data/use-api.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';
import { MaskAtSource } from '../kit/mask-at-source.tsx';
import { percent } from '../kit/times.ts';

/** At the bottom of every screen while there is a draft: what it changes, what that is predicted to do, what to do with it. */
export function DraftStrip() {
  const { draft, discard, rehearse } = useDraft();
  const [busy, setBusy] = useState<AbortController | undefined>();
  const [publishing, setPublishing] = useState(false);
  const router = useRouter();
  if (!draft) return null;
  const run = async (): Promise<void> => {
    const controller = new AbortController();
    setBusy(controller);
    try {
      await rehearse(controller.signal);
      router.push('/changes?rehearsal=1');
    } catch (error) {
      if (!controller.signal.aborted) toast.error(error instanceof Error ? error.message : 'The rehearsal failed.');
    } finally {
      setBusy(undefined);
    }
  };
  const count = draft.changes.length;
  const [problem] = draft.problems;
  return (
    <section
      aria-label="Draft"
      className="fixed inset-x-0 bottom-0 z-40 flex h-[52px] items-center gap-5 bg-strip px-6 text-on-strip"
    >
      <b className="font-[650]">Draft</b>
      <Link href="/changes" className="hover:underline">
        {count} {count === 1 ? 'change' : 'changes'}
      </Link>
      {problem ? <span className="truncate">◆ {problem.message}</span> : <Prediction rehearsal={draft.rehearsal} />}
      <span className="flex-1" />
      <Button
        look="strip"
        onClick={() => void discard().then(() => toast('The draft is discarded; the live plan is as it was.'))}
      >
        Discard
      </Button>
      {busy ? (
        <Button look="strip" onClick={() => busy.abort()}>
          Rehearsing … stop
        </Button>
      ) : (
        <Button look="strip" disabled={problem !== undefined} onClick={() => void run()}>
          Rehearse
        </Button>
      )}
      <Button look="main" disabled={problem !== undefined} onClick={() => setPublishing(true)}>
        Publish
      </Button>
      <PublishDialog open={publishing} onClose={() => setPublishing(false)} />
    </section>
  );
}

function Prediction({ rehearsal }: { readonly rehearsal: Rehearsal | null }) {
  if (!rehearsal) return <span className="opacity-75">not rehearsed yet</span>;
  const saved = rehearsal.kept.draft.bytes - rehearsal.kept.live.bytes;
  return (
    <>
      <span>
        parsed {percent(rehearsal.parsed.live)} → <b>{percent(rehearsal.parsed.draft)}</b>
      </span>
      <span>
        kept{' '}
        <b>
          {saved <= 0 ? '−' : '+'} {formatBytes(Math.abs(saved))}/day
        </b>
      </span>
    </>
  );
}

function PublishDialog({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const { draft, live, plan, change, publish } = useDraft();
  const masks = draft && live && plan ? newMasks(live, plan) : [];
  const [note, setNote] = useState('');
  const [failed, setFailed] = useState('');
  const send = async (): Promise<void> => {
    try {
      await publish(note);
      toast.success('Published. The engine runs the new plan from the next group of events on.');
      setNote('');
      onClose();
    } catch (error) {
      const [first] = error instanceof ApiProblem ? (error.details.problems ?? []) : [];
      setFailed(first?.message ?? (error instanceof Error ? error.message : 'Publishing failed.'));
    }
  };
  return (
    <Dialog open={open} title="Publish the draft" onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void send();
        }}
      >
        <ul className="mb-3 max-h-48 overflow-auto border-y border-hair py-2">
          {draft?.changes.map((change) => (
            <li key={change.path + change.text} className="py-0.5">
              {change.text}
            </li>
          ))}
        </ul>
        {masks.length > 0 && (
          <div className="mb-3 flex flex-col gap-2">
            {masks.map(({ source, pipeline, step, options }) => (
              <MaskAtSource
                key={`${pipeline}/${step}`}
                options={options}
                source={source}
                onMoved={() =>
                  void change((own) =>
                    withPipeline(own, pipeline, (old) => ({ ...old, steps: old.steps.filter((_, at) => at !== step) })),
                  )
                }
              />
            ))}
          </div>
        )}
        {!draft?.rehearsal && (
          <p className="mb-3 text-caution">▲ This draft has not been rehearsed: nothing predicts what it will do.</p>
        )}
        <label className="block font-semibold" htmlFor="publish-note">
          What is the change for?
        </label>
        <textarea
          id="publish-note"
          value={note}
          onChange={(event) => setNote(event.target.value)}
          className="mt-1 h-20 w-full rounded-[5px] border border-hair bg-paper p-2"
        />
        {failed !== '' && <p className="text-danger">◆ {failed}</p>}
        <div className="mt-4 flex justify-end gap-3">
          <Button type="button" onClick={onClose}>
            Not yet
          </Button>
          <Button type="submit" look="main" disabled={note.trim() === ''}>
            Publish
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
