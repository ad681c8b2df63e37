import { formatCount } from '#core/events/units.ts';
import { Figure, FigurePending, Mark } from '../../../kit/figure.tsx';
import { Sentence } from '../../../kit/sentence.tsx';
import { emptyFeed, rateOf, rhythmSeconds } from './feed.ts';
import type { FeedStore } from './feed-store.ts';
import { usePresent } from './use-present.ts';

/** What comes in each second, and how much of it is shown. */
export function ArrivalsSentence({ store, condition }: { readonly store: FeedStore; readonly condition: string }) {
  // Twice a second is often enough: it need not be drawn with every frame.
  const now = usePresent();
  const first = store.feed(0) ?? emptyFeed;
  if (first.since === 0) {
    return (
      <Sentence>
        <FigurePending /> events/s.
      </Sentence>
    );
  }
  const { events, span, rate, oneIn } = rateOf(first, now);
  const over = span >= rhythmSeconds ? 'last minute' : `last ${span} s`;
  const what = condition === '' ? 'events' : 'matching events';
  if (span === 0)
    return (
      <Sentence>
        <FigurePending /> {what}/s.
      </Sentence>
    );
  if (events === 0)
    return (
      <Sentence>
        No {what} in the {over}.
      </Sentence>
    );
  return (
    <Sentence>
      {rate < 1 ? (
        <Figure name="events" of={condition} over={over} unit="events" value={events}>
          {formatCount(events)} {events === 1 ? what.replace('events', 'event') : what}
        </Figure>
      ) : (
        <Figure name="rate" of={condition} over={over} unit="events/s" value={rate}>
          {formatCount(rate)} {what}/s
        </Figure>
      )}{' '}
      in the {over};{' '}
      {oneIn > 1.5 ? (
        <>
          showing <Mark>one in {formatCount(Math.round(oneIn))}</Mark>.
        </>
      ) : (
        'showing all of them.'
      )}
    </Sentence>
  );
}
