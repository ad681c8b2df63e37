'use client';

import { useCallback, useState } from 'react';
import { equals } from '#core/conditions/write.ts';
import { day } from '#core/events/time-units.ts';
import { formatBytes } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { Chart, type Palette } from '../../charts/chart.tsx';
import { timeAxes } from '../../charts/time-axes.ts';
import type { TimelineRow } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { Select } from '../../kit/select.tsx';
import { dayAndMinute } from '../../kit/times/times.ts';
import { WhySpan } from '../../parts/why-span.tsx';

/** Characters of an example line in a list of choices. */
const mostOfLine = 60;

/** Predicted and measured volume of a revision over time. */
export function RevisionTimeline({
  number,
  plan,
}: {
  readonly number: number;
  readonly plan: PlanDocument | undefined;
}) {
  const { data } = useQuestion('revisionTimeline', { number }, 60_000);
  const [chosen, setChosen] = useState('all ');
  if (!data) return null;
  if (data.every === null)
    return (
      <p className="mt-1 text-[12px] text-second">
        Appears after the first full hour, for revisions that were rehearsed over at least a day.
      </p>
    );
  const row = data.rows.find((one) => keyOf(one) === chosen) ?? data.rows[0];
  const name = (one: TimelineRow): string => {
    if (one.kind === 'all') return 'all that is kept';
    if (one.kind === 'shape') return `lines like ${one.line === '' ? one.id : one.line.slice(0, mostOfLine)}`;
    return one.kind === 'tier' ? (plan?.tiers.find(({ id }) => id === one.id)?.title ?? one.id) : `from ${one.id}`;
  };
  return (
    <div className="mt-2">
      <Select
        label="Kept"
        value={row ? keyOf(row) : ''}
        options={data.rows.map((one) => ({ value: keyOf(one), title: name(one) }))}
        onChange={setChosen}
      />
      {row && <TimelineChart row={row} every={data.every} />}
      <p className="text-[12px] text-second">
        Bytes kept, by {data.every === day ? 'the day (UTC)' : 'the hour'}; with the 95 % band of the prediction.
        {data.newSources.length > 0 && ` Excludes ${data.newSources.join(', ')}: new since the rehearsal.`}
        {data.switched.length > 0 &&
          ` Excludes ${data.switched
            .map((start) => dayAndMinute(start))
            .slice(0, 3)
            .join(', ')}${
            data.switched.length > 3 ? ` and ${data.switched.length - 3} more` : ''
          }: a posture or exclusion was switched.`}
      </p>
    </div>
  );
}

function keyOf({ kind, id }: TimelineRow): string {
  return `${kind} ${id}`;
}

function TimelineChart({ row, every }: { readonly row: TimelineRow; readonly every: number }) {
  const option = useCallback(
    (palette: Palette) => {
      const { points } = row;
      const line = (
        name: string,
        colour: string,
        value: (point: TimelineRow['points'][number]) => number,
        more = {},
      ) => ({
        ...{ name, type: 'line', symbolSize: 5, color: colour, lineStyle: { color: colour, width: 2 } },
        data: points.map((point) => [point.start, value(point)]),
        ...more,
      });
      const band = { symbol: 'none', lineStyle: { opacity: 0 }, stack: 'band', tooltip: { show: false }, silent: true };
      return {
        ...timeAxes(palette, formatBytes),
        series: [
          line('from', palette.second, ({ predicted, band: half }) => Math.max(0, predicted - half), band),
          line('to', palette.second, ({ predicted, band: half }) => half + Math.min(half, predicted), {
            ...band,
            areaStyle: { color: palette.second, opacity: 0.18 },
          }),
          line('predicted', palette.second, ({ predicted }) => predicted, {
            lineStyle: { color: palette.second, width: 1.5, type: 'dashed' },
          }),
          line('measured', palette.mark, ({ measured }) => measured),
        ],
      };
    },
    [row],
  );
  const condition = row.kind === 'all' ? '' : equals(row.kind, row.id);
  return (
    <Chart
      label="Kept, predicted and measured"
      height={150}
      option={option}
      spanActions={(span) => (
        <WhySpan condition={condition} measure="bytes" from={span.from} to={Math.max(span.to, span.from + every)} />
      )}
    />
  );
}
