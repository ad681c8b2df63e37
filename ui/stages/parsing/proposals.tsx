'use client';

import { useMemo } from 'react';
import { propose } from '#core/templates/propose.ts';
import { Button } from '../../kit/button.tsx';
import { percent } from '../../kit/times.ts';
import type { SampleLine } from './sample.ts';

/** Lines that proposals are made from. */
const mostLines = 300;

/** Whole templates proposed for the lines that do not fit yet, with the share that each fits. */
export function Proposals({
  lines,
  onUse,
}: {
  readonly lines: readonly SampleLine[];
  readonly onUse: (template: string) => void;
}) {
  const misfits = useMemo(() => lines.filter((line) => !line.fits).slice(0, mostLines), [lines]);
  const proposals = useMemo(
    () => propose(misfits.map((line) => line.text)).filter(({ kind }) => kind === 'template'),
    [misfits],
  );
  if (misfits.length === 0 || proposals.length === 0) return null;
  return (
    <section aria-label="Proposed templates" className="mt-3">
      <h2 className="mb-1">For lines that do not match yet</h2>
      <ul>
        {proposals.slice(0, 3).map((proposal) => (
          <li key={proposal.value} className="flex items-center gap-3 border-t border-hair py-1 last:border-b">
            <span className="w-[70px] shrink-0">
              <b>{percent(proposal.share)}</b> fit
            </span>
            <code className="line min-w-0 flex-1 truncate" title={proposal.value}>
              {proposal.value}
            </code>
            <Button look="quiet" onClick={() => onUse(proposal.value)}>
              Add to draft
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
