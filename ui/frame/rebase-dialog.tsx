'use client';

import { toast } from 'sonner';
import type { PlanChange } from '#core/plan/diff.ts';
import { useDraft } from '../data/draft.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';

interface Props {
  readonly open: boolean;
  readonly behind: readonly PlanChange[];
  readonly basedOn: number;
  readonly onClose: () => void;
}

/** Shows what others published since a draft began, which publishing it would undo, and puts the draft on top of that. */
export function RebaseDialog({ open, behind, basedOn, onClose }: Props) {
  const { rebase } = useDraft();
  const run = async (): Promise<void> => {
    onClose();
    try {
      if (await rebase()) toast.success('The draft stands on the live revision now. Rehearse it once more.');
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The draft could not be put on the live revision.');
    }
  };
  return (
    <Dialog open={open} title="Others have published since" onClose={onClose}>
      <p className="mb-2">
        This draft began from revision {basedOn}. Published as it is, it would undo what others changed since:
      </p>
      <ul className="mb-3 max-h-60 overflow-auto border-y border-hair py-2">
        {behind.map(({ path, text }) => (
          <li key={path + text} className="py-0.5">
            {text}
          </li>
        ))}
      </ul>
      <div className="mt-4 flex justify-end gap-3">
        <Button onClick={onClose}>Not yet</Button>
        <Button look="main" onClick={() => void run()}>
          Bring their changes into the draft
        </Button>
      </div>
    </Dialog>
  );
}
