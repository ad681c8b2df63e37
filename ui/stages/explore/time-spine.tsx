'use client';

import { type PointerEvent, useRef, useState } from 'react';
import { formatCount, formatDuration } from '#core/events/units.ts';
import type { SearchHistogram } from '../../data/answers.ts';
import { formatShown } from '../../kit/times/times.ts';

const width = 164;
const labels = 44;

/** The found events down the side of their lines, the newest at the top; dragging narrows the window. */
export function TimeSpine(props: {
  readonly histogram: SearchHistogram;
  readonly from: number;
  readonly to: number;
  readonly height: number;
  readonly onNarrow: (from: number, to: number) => void;
}) {
  const { histogram, from, to, height } = props;
  const [drag, setDrag] = useState<{ readonly start: number; readonly end: number } | undefined>();
  const holder = useRef<SVGSVGElement>(null);
  const most = Math.max(1, ...histogram.counts.map((bucket) => bucket.reduce((sum, count) => sum + count, 0)));
  const place = (event: PointerEvent): number =>
    Math.max(0, Math.min(height, event.clientY - (holder.current?.getBoundingClientRect().top ?? 0)));
  const placeOf = (time: number): number => (height * (to - Math.max(from, Math.min(to, time)))) / (to - from);
  const timeAt = (y: number): number => to - ((to - from) * y) / height;
  const finish = (): void => {
    if (drag && Math.abs(drag.end - drag.start) > 4)
      props.onNarrow(timeAt(Math.max(drag.start, drag.end)), timeAt(Math.min(drag.start, drag.end)));
    setDrag(undefined);
  };
  const pattern = to - from > 2 * 86_400_000 ? 'd MMM' : 'HH:mm';
  const scale = width - labels - 4;
  return (
    <figure className="shrink-0" style={{ width }}>
      <svg
        ref={holder}
        width={width}
        height={height}
        role="img"
        aria-label={`Found events from ${formatShown(from, 'd MMM HH:mm')} to ${formatShown(to, 'd MMM HH:mm')}, newest at the top; drag to narrow`}
        className="shrink-0 cursor-ns-resize touch-none select-none"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setDrag({ start: place(event), end: place(event) });
        }}
        onPointerMove={(event) => drag && setDrag({ ...drag, end: place(event) })}
        onPointerUp={finish}
      >
        <Times height={height} pattern={pattern} timeAt={timeAt} />
        {histogram.counts.map((bucket, index) => {
          const total = bucket.reduce((sum, count) => sum + count, 0);
          if (total === 0) return null;
          const severe = (bucket[5] ?? 0) + (bucket[6] ?? 0);
          const start = histogram.start + index * histogram.width;
          const y = placeOf(start + histogram.width);
          const thick = Math.max(1, placeOf(start) - y - 1);
          // By the square root, a burst leaves the buckets beside it something to be seen.
          const long = Math.max(1, scale * Math.sqrt(total / most));
          const deep = (long * severe) / total;
          return (
            <g key={index}>
              <title>{`${formatCount(total)} events, ${formatCount(severe)} error or worse`}</title>
              <rect x={width - long} y={y + 0.5} width={long - deep} height={thick} fill="var(--d2)" />
              <rect x={width - deep} y={y + 0.5} width={deep} height={thick} fill="var(--d6)" />
            </g>
          );
        })}
        {drag && (
          <rect
            x={labels}
            y={Math.min(drag.start, drag.end)}
            width={width - labels}
            height={Math.abs(drag.end - drag.start)}
            fill="var(--mark)"
            fillOpacity="0.12"
            stroke="var(--mark)"
          />
        )}
      </svg>
      <figcaption className="mt-1 text-right text-[11.5px] leading-[14px] text-second">
        at most {formatCount(most)} in {formatDuration(histogram.width / 1_000)} (√ scale)
      </figcaption>
    </figure>
  );
}

/** Times along the spine, with hairlines. */
function Times(props: { readonly height: number; readonly pattern: string; readonly timeAt: (y: number) => number }) {
  const { height, pattern, timeAt } = props;
  return (
    <>
      {[0, 0.25, 0.5, 0.75, 1].map((share) => (
        <g key={share}>
          <line
            x1={labels}
            x2={width}
            y1={Math.min(height - 0.5, share * height + 0.5)}
            y2={Math.min(height - 0.5, share * height + 0.5)}
            stroke="var(--hair)"
          />
          <text
            x="0"
            y={share === 0 ? 11 : share === 1 ? height - 2 : share * height + 4}
            fontSize="11.5"
            fill="var(--second)"
          >
            {formatShown(timeAt(share * height), pattern)}
          </text>
        </g>
      ))}
    </>
  );
}
