'use client';

import type { Proposal } from '#core/templates/propose.ts';
import { Button } from '../../kit/button.tsx';
import { percent } from '../../kit/times/times.ts';

/** Most proposals shown. */
const mostShown = 3;

/** Proposed templates for the lines that do not match yet, best first, with the share of lines that each matches. */
export function Proposals({
  proposals,
  isFirst,
  onUse,
  onReplace,
}: {
  readonly proposals: readonly Proposal[];
  /** Whether the step has no template yet. */
  readonly isFirst: boolean;
  readonly onUse: (template: string) => void;
  /** Replaces the step by one of another kind. */
  readonly onReplace: (kind: string) => void;
}) {
  if (proposals.length === 0) return null;
  return (
    <section aria-label="Proposed templates" className="mt-3">
      <h2 className="mb-1">{isFirst ? 'Proposed for these lines' : 'For lines that do not match yet'}</h2>
      <ul>
        {proposals.slice(0, mostShown).map((proposal) => (
          <li key={proposal.value} className="flex items-center gap-3 border-t border-hair py-1 last:border-b">
            <span className="w-[70px] shrink-0">
              <b>{percent(proposal.share)}</b> fit
            </span>
            <span className="min-w-0 flex-1">
              <span className="block text-[12.5px] text-second">{titleOf(proposal)}</span>
              {proposal.kind === 'template' && <code className="line block break-words">{proposal.value}</code>}
            </span>
            <Button
              look="quiet"
              className="shrink-0"
              onClick={() => (proposal.kind === 'step' ? onReplace(proposal.value) : onUse(proposal.value))}
            >
              Add to draft
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function titleOf({ title }: Proposal): string {
  return title.charAt(0).toUpperCase() + title.slice(1);
}
