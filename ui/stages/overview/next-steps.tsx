'use client';

import Link from 'next/link';
import { useQuestion } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { Section } from '../../kit/section.tsx';
import { percent } from '../../kit/times/times.ts';

interface Step {
  readonly title: string;
  readonly isDone: boolean;
  /** What it would do, by what has arrived so far. */
  readonly hint: string;
  readonly to: string;
}

/** The three steps after the first events, each ticked once it is live; nothing once all are. */
export function NextSteps() {
  const { live } = useDraft();
  const { data } = useQuestion('overview', {});
  if (!live || !data) return null;
  const { parsedShare } = data;
  const steps: readonly Step[] = [
    {
      title: 'Extract fields',
      isDone: live.pipelines.length > 0 || parsedShare > 0.99,
      hint: `${percent(1 - parsedShare)} of the events of the last 24 h are plain lines.`,
      to: '/parsing',
    },
    {
      title: 'Add a tier by worth',
      isDone: live.tiers.length > 1,
      hint: `All events are kept for ${live.tiers[0]?.keep ?? 'a while'}. Keep errors longer, and noise shorter.`,
      to: '/routing',
    },
    {
      title: 'Exclude noise or create a metric',
      isDone: live.tiers.some(({ exclusions = [] }) => exclusions.length > 0) || (live.metrics ?? []).length > 0,
      hint: 'See which kinds of lines are most of the volume.',
      to: '/explore?w=-24h&view=shapes',
    },
  ];
  if (steps.every(({ isDone }) => isDone)) return null;
  return (
    <Section title="Next steps" className="mb-5">
      <ol>
        {steps.map(({ title, isDone, hint, to }) => (
          <li key={title} className="grid grid-cols-[20px_1fr] border-t border-hair py-1.5 last:border-b">
            <span aria-hidden="true" className={isDone ? 'text-well' : 'text-second'}>
              {isDone ? '✓' : '○'}
            </span>
            <span>
              {isDone ? (
                <span className="text-second">
                  {title}
                  <span className="sr-only"> (done)</span>
                </span>
              ) : (
                <>
                  <Link href={to} className="text-mark underline">
                    {title}
                  </Link>
                  <small className="block text-[12px] text-second">{hint}</small>
                </>
              )}
            </span>
          </li>
        ))}
      </ol>
    </Section>
  );
}
