import { formatCount } from '#core/events/units.ts';
import { Figure, FigurePending, Sentence } from '../../../kit/sentence.tsx';
import { rateOf } from './feed.ts';
import type { Arrivals } from './use-arrivals.ts';

/** What comes in each second, and how much of it is shown. */
export function ArrivalsSentence({ arrivals, condition }: { readonly arrivals: Arrivals; readonly condition: string }) {
  const [first] = arrivals.feeds;
  if (!first || first.since === 0) {
    return (
      <Sentence>
        <FigurePending /> events come in each second.
      </Sentence>
    );
  }
  const { rate, oneIn } = rateOf(first, Date.now());
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
