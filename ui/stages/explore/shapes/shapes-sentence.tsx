import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { Figure, FigurePending } from '../../../kit/figure.tsx';
import { Sentence } from '../../../kit/sentence.tsx';
import { percent } from '../../../kit/times/times.ts';
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
export function ShapesSentence({ data, error, shapes, measure, asked }: Shapes) {
  if (error) return <Sentence>The shapes could not be loaded.</Sentence>;
  if (!data) {
    return (
      <Sentence>
        <FigurePending /> lines are of <FigurePending /> shapes.
      </Sentence>
    );
  }
  const { total, rest, currency } = data;
  const count = shapes.length + rest.shapes;
  if (count === 0) return <Sentence>No lines in this window. Try a longer one.</Sentence>;
  const few = shapes.slice(0, 3);
  const share = few.reduce((sum, shape) => sum + shape[measure], 0) / Math.max(1, total[measure]);
  const fresh = shapes.filter(({ change }) => change === 'new').length;
  const gone = shapes.filter(({ change }) => change === 'gone').length;
  const of = { of: asked.condition, over: windowInWords(asked.from, asked.to) };
  const isOfEvents = measure === 'events';
  return (
    <Sentence>
      <Figure
        {...of}
        name={isOfEvents ? 'events' : 'received'}
        unit={isOfEvents ? 'events' : 'bytes'}
        value={isOfEvents ? total.events : total.bytes}
      >
        {isOfEvents ? formatCount(total.events) : formatBytes(total.bytes)}
      </Figure>{' '}
      {isOfEvents ? 'lines are' : 'of lines are'}{' '}
      <Figure {...of} name="shapes" unit="shapes" value={count}>
        {formatCount(count)}
      </Figure>{' '}
      {count === 1 ? 'shape' : 'shapes'}
      {count > 3 && (
        <>
          ; three of them are{' '}
          <Figure {...of} name="share of the three largest shapes" unit={`share of ${measure}`} value={share}>
            {percent(share)}
          </Figure>
          {measure === 'coins' && currency && (
            <>
              {' '}
              of the{' '}
              <Figure {...of} name="cost of what was received" unit={currency.sign} value={total.coins}>
                {formatCoins(total.coins, currency)}
              </Figure>{' '}
              they cost
            </>
          )}
        </>
      )}
      .
      {fresh > 0 && (
        <>
          {' '}
          <Figure {...of} name="new shapes" unit="shapes" value={fresh} needs>
            {capital(inWords(fresh))}
          </Figure>{' '}
          {fresh === 1 ? 'is' : 'are'} new since yesterday
          {gone > 0 ? ', ' : '.'}
        </>
      )}
      {gone > 0 && (
        <>
          {fresh === 0 && ' '}
          <Figure {...of} name="shapes that are gone" unit="shapes" value={gone}>
            {fresh === 0 ? capital(inWords(gone)) : inWords(gone)}
          </Figure>{' '}
          {gone === 1 ? 'is' : 'are'} gone.
        </>
      )}
    </Sentence>
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** The name of a window, the same as on other screens. */
function windowInWords(from: string | null, to: string | null): string {
  return (from === '-24h' || from === '-1d') && to === 'now' ? 'last 24 h' : `${from}..${to}`;
}
