import { formatCount } from '#core/events/units.ts';
import { Figure, FigurePending, Sentence } from '../../../kit/sentence.tsx';
import { emptyFeed, rateOf } from './feed.ts';
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
  const { rate, oneIn } = rateOf(first, now);
  return (
    <Sentence>
      <Figure>{formatCount(rate)}</Figure> {condition === '' ? 'events come in' : 'events that fit come in'} each
      second;{' '}
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
