import Link from 'next/link';
import { formatCount } from '#core/events/units.ts';
import type { EmptyReason } from '#core/search/why-empty.ts';
import { useQuestion } from '../../../data/client.ts';
import { Nothing } from '../../../kit/section.tsx';
import { ExploreStill } from '../../../kit/still-pictures.tsx';
import { dayAndMinute } from '../../../kit/times/times.ts';
import { placeLink } from '../../../parts/place-link.ts';
import type { SearchRequest, SearchState } from '../use-search.ts';

/** An empty result says why it is empty: what is stored of that time, and what became of the rest that arrived. */
export function WhyEmpty({ search: { result, answered } }: { readonly search: SearchState }) {
  if (!result || !answered) return null;
  const { stored } = result;
  return (
    <Nothing title="No events found." {...(stored.segments === 0 && { picture: <ExploreStill /> })}>
      <ul className="list-disc pl-5">
        <li>
          {stored.segments === 0
            ? 'No events are stored for that time.'
            : `About ${formatCount(stored.events)} events are stored for that time; none match the condition.`}
        </li>
        <Reasons asked={answered} />
      </ul>
      {stored.segments === 0 && (
        <p className="mt-2">
          <Link href="/sources" className="text-mark underline">
            What sources sent lately
          </Link>
        </p>
      )}
    </Nothing>
  );
}

function Reasons({ asked: { condition, from, to, with: template } }: { readonly asked: SearchRequest }) {
  const { data, error } = useQuestion('whyEmpty', { condition, from, to, with: template });
  if (error) return <li>The reason could not be determined: {error.message}</li>;
  if (!data) return <li>Looking for the last matching event …</li>;
  const { arrived, reasons, lastFound, isLookedThrough } = data;
  return (
    <>
      <li>
        {lastFound !== undefined
          ? `The last matching event was earlier, at ${dayAndMinute(lastFound)}.`
          : isLookedThrough
            ? 'No earlier matching events are stored either.'
            : 'Looking for earlier matching events took too long.'}
      </li>
      {arrived === 0 && <li>Nothing arrived at that time from the sources that the condition can match.</li>}
      {reasons.map((reason) => (
        <li key={`${reason.kind} ${reason.title}`}>
          <Reason reason={reason} />
        </li>
      ))}
    </>
  );
}

function Reason({ reason: { kind, events, title, item, since } }: { readonly reason: EmptyReason }) {
  const place = item ? (
    <Link href={placeLink(item)} className="underline hover:text-mark">
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
          {count} that arrived then have expired from {place}
          {since !== undefined && `, the last of them at ${dayAndMinute(since)}`}.
        </>
      );
    case 'excluded':
      return (
        <>
          {count} were sampled out by {place}.
        </>
      );
    case 'sampled-out':
      return (
        <>
          {count} were sampled out by {place}, which keeps a sample.
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
          {count} arrived when {place} had met its cap for the day.
        </>
      );
    case 'expired':
      return (
        <>
          {count} arrived when {place} no longer kept their time.
        </>
      );
    case 'lost':
      return <>{count} could not be stored.</>;
  }
}
