'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { parseTime } from '#core/conditions/times.ts';
import { formatCount } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import { call } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { Dialog } from '../../kit/dialog.tsx';
import { Problem } from '../../kit/section.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { RehearsalResult } from '../changes/rehearsal-result.tsx';

/**
 * Running a source again: into a rehearsal, of which nothing is kept, as often as wanted. Files and objects can be read again into
 * the live plan too; of other sources what arrived in the last day is on the tape.
 */
export function ReadAgain({ name, kind }: { readonly name: string; readonly kind: string }) {
  const { plan, draft } = useDraft();
  const isReader = kind === 'files' || kind === 'objects';
  const [asking, setAsking] = useState(false);
  const [from, setFrom] = useState('');
  const { busy, problem, setProblem, run } = useRun();
  const [found, setFound] = useState<RehearsalAnswer | undefined>();
  const isTime = from.trim() === '' || parseTime(from.trim(), Date.now()) !== undefined;
  const plans = draft ? 'the draft beside the live plan' : 'the live plan';
  const leave = (): void => {
    setAsking(false);
    setFound(undefined);
    setProblem('');
  };
  const rehearse = (): Promise<void> => run(async () => setFound(await call('rehearseAgain', { name, from })));
  const again = (): Promise<void> =>
    run(async () => {
      const { removed } = await call('rewind', { name, from });
      leave();
      toast(`${formatCount(removed)} stored events made room; everything is read again.`);
    });
  return (
    <>
      <Button className="mt-2" onClick={() => setAsking(true)}>
        {isReader ? 'Read again …' : 'Run again …'}
      </Button>
      <Dialog open={asking} title={isReader ? `Read ${name} again` : `Run ${name} again`} onClose={leave}>
        <TextField
          mono
          label={`From a time, such as -2h or 2026-11-24T08:15; empty: ${isReader ? 'from the start' : 'the last 24 hours'}`}
          value={from}
          fault={
            isTime
              ? ''
              : `Not a time. Examples: -2h, 2026-11-24T08:15; empty for ${isReader ? 'the start' : '24 hours'}.`
          }
          onChange={(event) => {
            setFrom(event.target.value);
            setFound(undefined);
          }}
        />
        <p className="my-3 text-second">
          {isReader
            ? `A rehearsal runs ${plans} over what is read, and keeps nothing. Read again in earnest, it pauses, what is stored of this source from that time on is taken out, and reading resumes from there through the live plan; nothing is stored twice.`
            : `Runs ${plans} on the lines of this source on the tape. Nothing is stored; run it as often as you like.`}
        </p>
        {problem !== '' && <Problem>{problem}</Problem>}
        {found && plan && (
          <Found rehearsal={found} plan={plan} of={isReader ? `read again from ${name}` : `on the tape of ${name}`} />
        )}
        <div className="mt-4 flex justify-end gap-3">
          <Button onClick={leave}>Cancel</Button>
          <Button look={isReader ? 'plain' : 'main'} disabled={busy || !isTime} onClick={() => void rehearse()}>
            {isReader ? 'Rehearse only' : 'Run again'}
          </Button>
          {isReader && (
            <Button look="main" disabled={busy || !isTime} onClick={() => void again()}>
              Read again
            </Button>
          )}
        </div>
      </Dialog>
    </>
  );
}

/** Work that a button starts: whether it runs, and why it failed. */
function useRun() {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const run = async (work: () => Promise<void>): Promise<void> => {
    setBusy(true);
    setProblem('');
    try {
      await work();
    } catch (error) {
      setProblem(error instanceof Error ? error.message : 'The source could not be read again.');
    } finally {
      setBusy(false);
    }
  };
  return { busy, problem, setProblem, run };
}

/** What a rehearsal of the source found. */
function Found(props: { readonly rehearsal: RehearsalAnswer; readonly plan: PlanDocument; readonly of: string }) {
  const { rehearsal, plan, of } = props;
  if (rehearsal.taped === 0) return <p role="status">The tape has no lines of this source since that time.</p>;
  return (
    <div className="max-h-[340px] overflow-auto border-t border-hair py-3">
      <RehearsalResult rehearsal={rehearsal} plan={plan} of={of} />
    </div>
  );
}
