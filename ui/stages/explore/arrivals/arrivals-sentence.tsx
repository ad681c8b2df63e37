import { formatCount } from '#core/events/units.ts';
import { Figure, FigurePending, Sentence } from '../../../kit/sentence.tsx';
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
        <FigurePending /> events come in each second.
      </Sentence>
    );
  }
  const { events, span, rate, oneIn } = rateOf(first, now);
  const over = span >= rhythmSeconds ? 'the last minute' : `the last ${span} s`;
  const what = condition === '' ? 'events' : 'events that fit';
  if (span === 0)
    return (
      <Sentence>
        <FigurePending /> {what} come in each second.
      </Sentence>
    );
  if (events === 0)
    return (
      <Sentence>
        No {what} came in over {over}.
      </Sentence>
    );
  return (
    <Sentence>
      {rate < 1 ? (
        <>
          <Figure>{formatCount(events)}</Figure> {events === 1 ? what.replace('events', 'event') : what} came in over{' '}
          {over};{' '}
        </>
      ) : (
        <>
          <Figure>{formatCount(rate)}</Figure> {what} come in each second, over {over};{' '}
        </>
      )}
      {oneIn > 1.5 ? (
        <>
          <Figure>one in {formatCount(Math.round(oneIn))}</Figure> is shown.
        </>
      ) : (
        'all are shown.'
      )}
    </Sentence>
  );
}
