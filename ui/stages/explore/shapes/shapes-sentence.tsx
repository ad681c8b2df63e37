import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { Figure, FigurePending, Sentence } from '../../../kit/sentence.tsx';
import { percent } from '../../../kit/times.ts';
import type { Shapes } from './use-shapes.ts';

const small = [
  'none',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
];

function inWords(count: number): string {
  return small[count] ?? formatCount(count);
}

/** How many kinds of lines there are, how few make most of the volume, and what came and went. */
export function ShapesSentence({ data, error, shapes, measure }: Shapes) {
  if (error) return <Sentence>The shapes cannot be told.</Sentence>;
  if (!data) {
    return (
      <Sentence>
        <FigurePending /> lines are of <FigurePending /> shapes.
      </Sentence>
    );
  }
  const { total, rest } = data;
  const count = shapes.length + rest.shapes;
  if (count === 0) return <Sentence>No line came in this window.</Sentence>;
  const few = shapes.slice(0, 3);
  const share = few.reduce((sum, shape) => sum + shape[measure], 0) / Math.max(1, total[measure]);
  const fresh = shapes.filter(({ change }) => change === 'new').length;
  const gone = shapes.filter(({ change }) => change === 'gone').length;
  return (
    <Sentence>
      <Figure>{measure === 'events' ? formatCount(total.events) : formatBytes(total.bytes)}</Figure>{' '}
      {measure === 'events' ? 'lines are' : 'of lines are'} <Figure>{formatCount(count)}</Figure>{' '}
      {count === 1 ? 'shape' : 'shapes'}
      {count > 3 && (
        <>
          ; three of them are <Figure>{percent(share)}</Figure>
          {measure === 'coins' && data.currency && (
            <>
              {' '}
              of the <Figure>{formatCoins(total.coins, data.currency)}</Figure> they cost
            </>
          )}
        </>
      )}
      .
      {fresh > 0 && (
        <>
          {' '}
          <Figure needs>{capital(inWords(fresh))}</Figure> {fresh === 1 ? 'is' : 'are'} new since yesterday
          {gone > 0 ? ', ' : '.'}
        </>
      )}
      {gone > 0 && (
        <>
          {fresh === 0 && ' '}
          <Figure>{fresh === 0 ? capital(inWords(gone)) : inWords(gone)}</Figure> {gone === 1 ? 'is' : 'are'} gone.
        </>
      )}
    </Sentence>
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
