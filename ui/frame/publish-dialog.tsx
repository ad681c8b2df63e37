'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { newMasks } from '#core/plan/new-masks.ts';
import { useDraft, withPipeline } from '../data/draft.ts';
import { whatGoes, whyItGoes } from '../data/leaving.ts';
import { ApiProblem } from '../data/use-api.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';
import { MaskAtSource } from '../kit/mask-at-source.tsx';
import { TextField } from '../kit/text-field.tsx';

interface Props {
  readonly open: boolean;
  readonly onClose: () => void;
  readonly onRehearse: () => void;
}

/** Asks what the change is for and, where stored events will go, whether that is meant. */
export function PublishDialog({ open, onClose, onRehearse }: Props) {
  const { draft, live, plan, change, publish } = useDraft();
  const masks = draft && live && plan ? newMasks(live, plan) : [];
  const leaving = draft?.leaving ?? [];
  const [note, setNote] = useState('');
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({});
  const [failed, setFailed] = useState('');
  const isMeant = leaving.every(({ tier, title }) => typed[tier]?.trim() === title.trim());
  const send = async (): Promise<void> => {
    try {
      await publish(
        note,
        leaving.map(({ tier }) => tier),
      );
      toast.success('Published. The engine runs the new plan from the next group of events on.');
      setNote('');
      setTyped({});
      setFailed('');
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
          {draft?.changes.map(({ path, text }) => (
            <li key={path + text} className="py-0.5">
              {text}
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
                  void change((draftPlan) =>
                    withPipeline(draftPlan, pipeline, (old) => ({
                      ...old,
                      steps: old.steps.filter((_, at) => at !== step),
                    })),
                  )
                }
              />
            ))}
          </div>
        )}
        {leaving.map((going) => (
          <div key={going.tier} className="mb-3 border-l-2 border-danger pl-3">
            <p>
              <b className="font-[650] text-danger">◆ {whatGoes(going)} will go</b>, as {whyItGoes(going)}. They stay
              for a day after publishing; until then Changes keeps them with one click, or brings the revision back.
            </p>
            <TextField
              label={`Type ${going.title} to let them go`}
              value={typed[going.tier] ?? ''}
              autoComplete="off"
              onChange={(event) => setTyped({ ...typed, [going.tier]: event.target.value })}
              className="mt-1"
            />
          </div>
        ))}
        {!draft?.rehearsal && (
          <p className="mb-3 text-caution">
            ▲ This draft was not rehearsed as it is now: nothing predicts what it will do.{' '}
            <Button look="quiet" className="px-0!" onClick={onRehearse}>
              Rehearse it first
            </Button>
          </p>
        )}
        <label className="block font-semibold" htmlFor="publish-note">
          What is the change for?
        </label>
        <textarea
          id="publish-note"
          value={note}
          maxLength={1000}
          onChange={(event) => setNote(event.target.value)}
          className="mt-1 h-20 w-full rounded-[5px] border border-hair bg-paper p-2"
        />
        {failed !== '' && <p className="text-danger">◆ {failed}</p>}
        <div className="mt-4 flex justify-end gap-3">
          <Button type="button" onClick={onClose}>
            Not yet
          </Button>
          <Button type="submit" look="main" disabled={note.trim() === '' || !isMeant}>
            Publish
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
