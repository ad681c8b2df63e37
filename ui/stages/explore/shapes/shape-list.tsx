'use client';

import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { shapeWords } from '#core/shapes/pieces.ts';
import { Spark } from '../../../charts/spark.tsx';
import type { ShapeView } from '../../../data/answers.ts';
import { type Measure, measured, measureOptions } from '../../../data/measures.ts';
import { Choice } from '../../../kit/choice.tsx';
import { Nothing, Problem } from '../../../kit/section.tsx';
import { ago, dayAndMinute, inOtherZone, percent } from '../../../kit/times/times.ts';
import { SeverityTick } from '../lines/event-line.tsx';
import { ShapeComparison } from './shape-comparison.tsx';
import { ShapeText } from './shape-text.tsx';
import { mostCompared, type Shapes } from './use-shapes.ts';

const columns = 'grid-cols-[minmax(0,1fr)_104px_100px_118px] xl:grid-cols-[minmax(0,1fr)_132px_104px_128px]';

/** The kinds of lines as they are, the largest first. */
export function ShapeList({
  shapes: list,
  open,
  onOpen,
}: {
  readonly shapes: Shapes;
  readonly open: string | null;
  readonly onOpen: (id: string) => void;
}) {
  const { data, error, shapes, measure, compared } = list;
  if (error) return <Problem>{error.message}</Problem>;
  if (!data) return null;
  if (shapes.length === 0)
    return (
      <Nothing title="No lines in this window">
        <p>Try a longer window, or remove a part of the condition.</p>
      </Nothing>
    );
  return (
    <>
      {compared.length > 0 && <ShapeComparison answer={data} compared={compared} />}
      <div className={`grid ${columns} gap-x-3 border-b border-hair pb-1 text-[12.5px] font-semibold text-second`}>
        <span>shape</span>
        <span>share</span>
        <span>over the window</span>
        <span className="text-right">{measure === 'coins' ? 'costs' : measure}</span>
      </div>
      <ul aria-label="Shapes">
        {shapes.map((shape) => (
          <ShapeRow
            key={shape.id}
            shape={shape}
            total={data.total[measure]}
            measure={measure}
            currency={data.currency}
            isOpen={shape.id === open}
            isCompared={compared.includes(shape)}
            isFull={compared.length >= mostCompared}
            onOpen={() => onOpen(shape.id)}
            onCompare={(isIn) => list.setCompared(shape, isIn)}
          />
        ))}
      </ul>
      <p className="mt-2 text-[12.5px] text-second">
        {data.rest.shapes > 0 &&
          `${formatCount(data.rest.shapes)} more, together ${percent(data.rest[measure] / Math.max(1, data.total[measure]))} · `}
        {data.isCounted
          ? 'counted as lines arrived, kept or not'
          : 'stored events only, as the condition uses more than source, tier, severity and shape'}
        {data.leftOut > 0 &&
          ` · ${formatCount(data.leftOut)} parts are too many and not in it: narrow the window or the condition`}
        {data.currency && ' · what they cost is until they are gone, by today’s prices'}
        {compared.length === 0 && ' · point at shapes to compare them over time'}
      </p>
    </>
  );
}

/** By what the list is ranked. */
export function MeasureChoice({ shapes: { by, data, setMeasure } }: { readonly shapes: Shapes }) {
  return <Choice label="Ranked by" value={by} onChange={setMeasure} options={measureOptions(data?.currency)} />;
}

function ShapeRow(props: {
  readonly shape: ShapeView;
  readonly total: number;
  readonly measure: Measure;
  readonly currency: Currency | null;
  readonly isOpen: boolean;
  readonly isCompared: boolean;
  readonly isFull: boolean;
  readonly onOpen: () => void;
  readonly onCompare: (isIn: boolean) => void;
}) {
  const { shape, total, measure, currency } = props;
  const share = total > 0 ? shape[measure] / total : 0;
  const words = shapeWords(shape.pieces);
  return (
    <li
      className={`group relative grid ${columns} items-center gap-x-3 border-b border-hair py-1.5 ${props.isOpen ? 'bg-land' : 'hover:bg-land/40'}`}
    >
      <div className="min-w-0">
        <p className="flex items-center gap-1.5 text-[12.5px] text-second">
          <span className="flex w-6 shrink-0">
            <SeverityTick severity={shape.severity} />
          </span>
          <span className="truncate">
            {shape.sources.slice(0, 2).join(', ')}
            {shape.sources.length > 2 && ` and ${shape.sources.length - 2} more`}
            {shape.severity !== 'unset' && ` · ${shape.severity}`}
          </span>
          <ChangeMark shape={shape} />
          {shape.wanted && <span>· wanted</span>}
          <label
            className={`relative z-10 ml-auto flex items-center gap-1 pr-1 group-hover:opacity-100 focus-within:opacity-100 ${props.isCompared ? '' : 'opacity-0'}`}
          >
            <input
              type="checkbox"
              className="size-4 accent-mark"
              checked={props.isCompared}
              disabled={props.isFull && !props.isCompared}
              aria-label={`Compare ${words}`}
              onChange={(event) => props.onCompare(event.target.checked)}
            />
            compare
          </label>
        </p>
        <button
          type="button"
          aria-expanded={props.isOpen}
          onClick={props.onOpen}
          title={words}
          // The whole row can be clicked.
          className="line block w-full truncate text-left before:absolute before:inset-0"
        >
          <ShapeText pieces={shape.pieces} />
        </button>
      </div>
      <div className="flex items-center gap-2">
        <span aria-hidden="true" className={`h-3 ${depth(share)}`} style={{ width: `${Math.max(1, share * 58)}px` }} />
        <span className="text-[12.5px] whitespace-nowrap text-second">{percent(share)}</span>
      </div>
      <Spark values={shape.trend} label={`Bytes over the window, at most ${formatBytes(Math.max(...shape.trend))}`} />
      <div className="text-right">
        <b className="font-[650]">{measured(shape[measure], measure, currency)}</b>
        <p className="text-[12.5px] whitespace-nowrap text-second">
          {measure === 'bytes' ? formatCount(shape.events) : formatBytes(shape.bytes)}
          {measure !== 'coins' && currency && ` · ${formatCoins(shape.coins, currency)}`}
        </p>
      </div>
    </li>
  );
}

function depth(share: number): string {
  if (share > 0.3) return 'bg-d6';
  return share > 0.1 ? 'bg-d5' : 'bg-d4';
}

/** What is different about a shape: that it is new, has stopped, or comes more often. */
function ChangeMark({ shape: { change, firstSeen, lastSeen, growth } }: { readonly shape: ShapeView }) {
  if (change === 'new')
    return (
      <b className="shrink-0 truncate text-mark" title={inOtherZone(firstSeen)}>
        new since {dayAndMinute(firstSeen)}
      </b>
    );
  if (change === 'gone')
    return (
      <b className="shrink-0 truncate text-caution" title={inOtherZone(lastSeen)}>
        ▽ gone, last {ago(lastSeen)}
      </b>
    );
  if (change === 'grown' && growth)
    return (
      <b className="shrink-0 truncate text-mark" title={inOtherZone(growth.since)}>
        {growth.times.toFixed(growth.times < 10 ? 1 : 0)} × since {dayAndMinute(growth.since)}
      </b>
    );
  return null;
}
