import Link from 'next/link';
import type { CostMonthAnswer } from '../../data/answers.ts';
import { Section } from '../../kit/section.tsx';
import { dayAndMinute, inOtherZone } from '../../kit/times/times.ts';

/** The revisions of the plan and the prices that came into force in a month. */
export function MonthChanges({ month: { changes } }: { readonly month: CostMonthAnswer }) {
  if (changes.length === 0) return null;
  return (
    <Section title="Changes this month" className="mt-6">
      <ul className="border-b border-hair">
        {changes.map(({ at, revision, text }) => (
          <li key={`${at} ${revision}`} className="grid grid-cols-[140px_110px_1fr] gap-3 border-t border-hair py-1.5">
            <time className="text-second" title={inOtherZone(at)}>
              {dayAndMinute(at)}
            </time>
            {revision === null ? (
              <span>prices</span>
            ) : (
              <Link href="/changes" className="text-mark hover:underline">
                revision {revision}
              </Link>
            )}
            <span className="min-w-0 break-words">{text}</span>
          </li>
        ))}
      </ul>
    </Section>
  );
}
