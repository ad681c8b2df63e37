'use client';

import { toast } from 'sonner';
import type { PlanChange } from '#core/plan/plan-change.ts';
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
      if (await rebase()) toast.success('The draft is based on the live revision now. Rehearse it again.');
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The draft could not be updated to the live revision.');
    }
  };
  return (
    <Dialog open={open} title="The live plan has changed" onClose={onClose}>
      <p className="mb-2">
        This draft is based on revision {basedOn}. Publishing it now would undo these later changes:
      </p>
      <ul className="mb-3 max-h-60 overflow-auto border-y border-hair py-2">
        {behind.map(({ path, text }) => (
          <li key={path + text} className="py-0.5">
            {text}
          </li>
        ))}
      </ul>
      <div className="mt-4 flex justify-end gap-3">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" onClick={() => void run()}>
          Update draft
        </Button>
      </div>
    </Dialog>
  );
}
