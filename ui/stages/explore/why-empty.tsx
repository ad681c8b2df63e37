import { formatCount } from '#core/events/units.ts';
import { Nothing } from '../../kit/section.tsx';
import { dayAndMinute } from '../../kit/times.ts';
import type { SearchState } from './use-search.ts';

/** An empty result says why it is empty. */
export function WhyEmpty({ search }: { readonly search: SearchState }) {
  const { result, answered } = search;
  if (!result || !answered) return null;
  return (
    <Nothing title="No event was found.">
      <ul className="list-disc pl-5">
        {result.stored.segments === 0 ? (
          <li>
            Nothing is stored of that time: nothing arrived, or its tier has let it expire.
            {result.stored.lastBefore !== undefined &&
              ` The last event before it happened at ${dayAndMinute(result.stored.lastBefore)}.`}
          </li>
        ) : (
          <li>About {formatCount(result.stored.events)} events are stored of that time; none fits the condition.</li>
        )}
      </ul>
    </Nothing>
  );
}
