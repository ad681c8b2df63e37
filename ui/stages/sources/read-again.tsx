'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { parseTime } from '#core/conditions/times.ts';
import { formatCount } from '#core/events/units.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import { useDraft } from '../../data/draft.ts';
import { callApi } from '../../data/use-api.ts';
import { Button } from '../../kit/button.tsx';
import { Dialog } from '../../kit/dialog.tsx';
import { Problem } from '../../kit/section.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { RehearsalResult } from '../changes/rehearsal-result.tsx';

/** Reading a source of files or objects again: into a rehearsal, of which nothing is kept, or into the live plan. */
export function ReadAgain({ name }: { readonly name: string }) {
  const { plan, draft } = useDraft();
  const [asking, setAsking] = useState(false);
  const [from, setFrom] = useState('');
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const [found, setFound] = useState<RehearsalAnswer | undefined>();
  const isTime = from.trim() === '' || parseTime(from.trim(), Date.now()) !== undefined;
  const call = async <Answer,>(path: string, take: (answer: Answer) => void): Promise<void> => {
    setBusy(true);
    setProblem('');
    try {
      take(await callApi<Answer>(`/api/sources/${name}/${path}`, { method: 'POST', body: JSON.stringify({ from }) }));
    } catch (error) {
      setProblem(error instanceof Error ? error.message : 'The source could not be read again.');
    } finally {
      setBusy(false);
    }
  };
  const leave = (): void => {
    setAsking(false);
    setFound(undefined);
    setProblem('');
  };
  const rehearse = (): Promise<void> => call<RehearsalAnswer>('rehearsal', setFound);
  const again = (): Promise<void> =>
    call<{ readonly removed: number }>('rewind', ({ removed }) => {
      leave();
      toast(`${formatCount(removed)} stored events made room; everything is read again.`);
    });
  return (
    <>
      <Button className="mt-2" onClick={() => setAsking(true)}>
        Read again …
      </Button>
      <Dialog open={asking} title={`Read ${name} again`} onClose={leave}>
        <TextField
          mono
          label="From a time, such as -2h or 2026-11-24T08:15; empty: from the start"
          value={from}
          fault={isTime ? '' : 'Not a time. Examples: -2h, 2026-11-24T08:15; empty for the start.'}
          onChange={(event) => {
            setFrom(event.target.value);
            setFound(undefined);
          }}
        />
        <p className="my-3 text-second">
          A rehearsal runs {draft ? 'the draft beside the live plan' : 'the live plan'} over what is read, and keeps
          nothing. Read again in earnest, it pauses, what is stored of this source from that time on is taken out, and
          reading resumes from there through the live plan; nothing is stored twice.
        </p>
        {problem !== '' && <Problem>{problem}</Problem>}
        {found && plan && (
          <div className="max-h-[340px] overflow-auto border-t border-hair py-3">
            <RehearsalResult rehearsal={found} plan={plan} of={`read again from ${name}`} />
          </div>
        )}
        <div className="mt-4 flex justify-end gap-3">
          <Button onClick={leave}>Cancel</Button>
          <Button disabled={busy || !isTime} onClick={() => void rehearse()}>
            Rehearse only
          </Button>
          <Button look="main" disabled={busy || !isTime} onClick={() => void again()}>
            Read again
          </Button>
        </div>
      </Dialog>
    </>
  );
}
