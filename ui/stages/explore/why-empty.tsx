import Link from 'next/link';
import type { WhyEmptyAnswer } from '#core/answers/search.ts';
import { formatCount } from '#core/events/units.ts';
import type { EmptyReason } from '#core/search/why-empty.ts';
import { useAnswer } from '../../data/use-api.ts';
import { Nothing } from '../../kit/section.tsx';
import { dayAndMinute } from '../../kit/times.ts';
import type { SearchRequest, SearchState } from './use-search.ts';

/** An empty result says why it is empty: what is stored of that time, and what became of the rest that arrived. */
export function WhyEmpty({ search: { result, answered } }: { readonly search: SearchState }) {
  if (!result || !answered) return null;
  const { stored } = result;
  return (
    <Nothing title="No event was found.">
      <ul className="list-disc pl-5">
        <li>
          {stored.segments === 0
            ? 'Nothing is stored of that time.'
            : `About ${formatCount(stored.events)} events are stored of that time; none fits the condition.`}
        </li>
        <Reasons asked={answered} />
      </ul>
    </Nothing>
  );
}

function Reasons({ asked: { condition, from, to, with: template } }: { readonly asked: SearchRequest }) {
  const { data, error } = useAnswer<WhyEmptyAnswer>('/api/search/why', { condition, from, to, with: template });
  if (error) return <li>Why could not be found out: {error.message}</li>;
  if (!data) return <li>Looking for the last event that fits …</li>;
  const { arrived, reasons, lastFound, isLookedThrough } = data;
  return (
    <>
      <li>
        {lastFound !== undefined
          ? `The last event that fits happened before it, at ${dayAndMinute(lastFound)}.`
          : isLookedThrough
            ? 'Nothing that fits is stored from before it either.'
            : 'Whether anything that fits is stored from before it takes too long to find out.'}
      </li>
      {arrived === 0 && <li>Nothing arrived then from the sources that the condition can be about.</li>}
      {reasons.map((reason) => (
        <li key={`${reason.kind} ${reason.title}`}>
          <Reason reason={reason} />
        </li>
      ))}
    </>
  );
}

function Reason({ reason: { kind, events, title, link, since } }: { readonly reason: EmptyReason }) {
  const place = link ? (
    <Link href={link} className="underline hover:text-mark">
      {title}
    </Link>
  ) : (
    title
  );
  const count = `${formatCount(events)} ${events === 1 ? 'event' : 'events'} of its sources`;
  switch (kind) {
    case 'gone':
      return (
        <>
          {count} that arrived then have gone from {place}
          {since !== undefined && `, the last of them at ${dayAndMinute(since)}`}.
        </>
      );
    case 'excluded':
      return (
        <>
          {count} were left out by {place}.
        </>
      );
    case 'sampled-out':
      return (
        <>
          {count} were left out by {place}, which keeps a sample.
        </>
      );
    case 'rejected':
      return (
        <>
          {count} were held back: {place}. They are among the{' '}
          <Link href="/parsing?view=rejects" className="underline hover:text-mark">
            rejects
          </Link>
          , as they were read.
        </>
      );
    case 'discarded':
      return (
        <>
          {count} were discarded by {place}.
        </>
      );
    case 'overflowed':
      return (
        <>
          {count} came when {place} had met its cap for the day.
        </>
      );
    case 'expired':
      return (
        <>
          {count} came when {place} had let their time go.
        </>
      );
    case 'lost':
      return <>{count} could not be stored.</>;
  }
}
