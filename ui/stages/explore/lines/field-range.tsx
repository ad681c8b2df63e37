'use client';

import { type KeyboardEvent, type PointerEvent, useState } from 'react';
import { writeField } from '#core/conditions/write.ts';
import type { Unit } from '#core/events/units.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { show } from '../summary/summary-picture.ts';

type FieldNumbers = NonNullable<FieldSummary['range']>;

/** The selected bars, by index; `from` may be larger than `to`. */
interface Chosen {
  readonly from: number;
  readonly to: number;
}

/**
 * The numbers of a field as bars. Dragging over some narrows to what they hold; so do the arrow keys, with Shift to take in more,
 * and Enter.
 */
export function FieldRange(props: {
  readonly name: string;
  readonly range: FieldNumbers;
  readonly onAdd: (part: string) => void;
}) {
  const { name, range } = props;
  const [chosen, setChosen] = useState<Chosen | undefined>();
  const most = Math.max(1, ...range.bars);
  const last = range.bars.length - 1;
  const first = Math.min(chosen?.from ?? 0, chosen?.to ?? 0);
  const end = Math.max(chosen?.from ?? last, chosen?.to ?? last);
  const barAt = (event: PointerEvent<HTMLElement>): number => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    return Math.max(0, Math.min(last, Math.floor(((event.clientX - left) / width) * range.bars.length)));
  };
  const narrow = (): void => {
    if (!chosen) return;
    setChosen(undefined);
    props.onAdd(rangeCondition(name, range, first, end));
  };
  const press = (event: KeyboardEvent): void => {
    const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (event.key === 'Escape' && chosen) {
      event.stopPropagation();
      setChosen(undefined);
    }
    if (step === 0) return;
    event.preventDefault();
    const to = Math.max(0, Math.min(last, (chosen?.to ?? (step > 0 ? -1 : last + 1)) + step));
    setChosen({ from: event.shiftKey && chosen ? chosen.from : to, to });
  };
  return (
    <div className="mt-1 text-[12px] text-second">
      <button
        type="button"
        aria-label={`Narrow by ${name}: ${show(edge(range, first), range.unit)} to ${show(edge(range, end + 1), range.unit)}`}
        title="Drag over the bars to narrow"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setChosen({ from: barAt(event), to: barAt(event) });
        }}
        onPointerMove={(event) => {
          if (chosen && event.buttons === 1) setChosen({ from: chosen.from, to: barAt(event) });
        }}
        onKeyDown={press}
        onClick={narrow}
        className="flex h-7 w-full cursor-crosshair touch-none items-end gap-px border-b border-hair"
      >
        {range.bars.map((count, index) => (
          <span
            key={index}
            className={`flex-1 ${chosen && index >= first && index <= end ? 'bg-mark' : 'bg-d3'}`}
            style={{ height: `${Math.max(count > 0 ? 6 : 0, (100 * count) / most)}%` }}
          />
        ))}
      </button>
      <div className="flex justify-between">
        <span>
          {show(edge(range, first), range.unit)} to {show(edge(range, end + 1), range.unit)}
        </span>
        {!chosen && <span>p95 {show(range.p95, range.unit)}</span>}
      </div>
    </div>
  );
}

/** The number at which a bar begins; for the index after the last bar, the end of the range. */
function edge({ low, high, bars }: FieldNumbers, place: number): number {
  return place >= bars.length ? high : low + ((high - low) * place) / bars.length;
}

/** A condition for the numbers within some bars, with bounds rounded outwards to three digits. */
export function rangeCondition(name: string, range: FieldNumbers, first: number, last: number): string {
  const low = written(edge(range, first), range.unit, Math.floor);
  const high = written(edge(range, last + 1), range.unit, Math.ceil);
  return `${writeField(name)} in ${low}..${high}`;
}

/** Writes a number with its unit for a condition, with at least three significant digits. */
function written(value: number, unit: Unit, round: (value: number) => number): string {
  const [scale, suffix] =
    unit === 'duration'
      ? value < 1e-3
        ? [1e-6, 'us']
        : value < 1
          ? [1e-3, 'ms']
          : [1, 's']
      : [1, unit === 'size' ? 'B' : ''];
  // Division leaves an error in the last digits, which floor and ceil would carry into the third.
  const number = Number((value / (scale as number)).toPrecision(12));
  const digits = Math.max(0, 2 - Math.floor(Math.log10(Math.max(1e-9, Math.abs(number)))));
  const factor = 10 ** Math.min(digits, 9);
  return `${Number((round(number * factor) / factor).toFixed(Math.min(digits, 9)))}${suffix}`;
}
