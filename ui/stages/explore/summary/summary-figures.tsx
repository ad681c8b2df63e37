import { formatCount } from '#core/events/units.ts';
import type { SummaryTable } from '#core/summaries/summary-table.ts';
import { show } from './summary-picture.ts';

/** A measure of a summary as one figure. */
export interface Figure {
  readonly name: string;
  readonly text: string;
  readonly isCount: boolean;
  /** What it is a figure of. */
  readonly note: string;
}

/**
 * The measures of a summary as figures: what there is of each in all where parts add up to a whole, else the least and the most
 * that a group has.
 */
export function figuresOf({ columns, rows }: SummaryTable): readonly Figure[] {
  return columns.flatMap(({ name, key, unit, additive }, place) => {
    if (key) return [];
    const figure = { name, isCount: unit === 'count', note: '' };
    if (rows.length === 1) return [{ ...figure, text: show(rows[0]?.[place], unit) }];
    const numbers = rows.flatMap((row) => (typeof row[place] === 'number' ? [row[place] as number] : []));
    if (numbers.length === 0) return [{ ...figure, text: '–' }];
    const of = `${formatCount(numbers.length)} values`;
    if (additive) {
      const total = numbers.reduce((sum, number) => sum + number, 0);
      return [{ ...figure, text: show(total, unit), note: `all ${of} together` }];
    }
    const least = numbers.reduce((a, b) => Math.min(a, b));
    const most = numbers.reduce((a, b) => Math.max(a, b));
    return [{ ...figure, text: `${show(least, unit)} – ${show(most, unit)}`, note: `least and most of ${of}` }];
  });
}

/** A summary as figures that can be read from afar. */
export function SummaryFigures(props: { readonly table: SummaryTable; readonly estimated: boolean }) {
  return (
    <dl className="flex flex-wrap gap-x-12 gap-y-4 py-4">
      {figuresOf(props.table).map(({ name, text, isCount, note }) => (
        <div key={name} className="flex flex-col">
          <dt className="line order-2 text-[12.5px] text-second">{name}</dt>
          <dd className="order-1 text-[44px] leading-tight font-semibold tabular-nums">
            {props.estimated && isCount && '≈ '}
            {text}
          </dd>
          {note !== '' && <dd className="order-3 text-[12.5px] text-second">{note}</dd>}
        </div>
      ))}
    </dl>
  );
}
