'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useRef } from 'react';
import { severityWord } from '#core/events/severity.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { inOtherZone } from '../../../kit/times/times.ts';
import { SeverityTick } from '../lines/event-line.tsx';
import type { FeedLine } from './feed.ts';
import { MarkedText } from './marks.tsx';
import { outcomeInWords } from './outcome-in-words.ts';

const rowHeight = 23;
/** Pixels from the top within which someone still reads along. */
const atTop = 4;

/** The lines of a view, the newest first. Who scrolls down has it paused; at the top it goes on. */
export function FeedList(props: {
  readonly lines: readonly FeedLine[];
  readonly height: number;
  readonly isNarrow: boolean;
  readonly marks: readonly string[];
  readonly plan: PlanDocument | undefined;
  readonly label: string;
  readonly onScrolled: (isAway: boolean) => void;
  readonly onOpen: (line: FeedLine) => void;
}) {
  const { lines, height, isNarrow, marks, plan, onOpen, onScrolled } = props;
  const holder = useRef<HTMLDivElement>(null);
  const isAway = useRef(false);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => holder.current,
    estimateSize: () => rowHeight,
    overscan: 6,
  });
  return (
    <section
      ref={holder}
      tabIndex={0}
      aria-label={props.label}
      onScroll={({ currentTarget: { scrollTop } }) => {
        const away = scrollTop > atTop;
        if (away !== isAway.current) onScrolled(away);
        isAway.current = away;
      }}
      className="min-w-0 flex-1 overflow-y-auto overflow-x-hidden border-l border-ink"
      style={{ height }}
    >
      <ol className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map((item) => {
          const line = lines[item.index];
          return (
            line && (
              <li
                key={item.key}
                className="absolute inset-x-0 top-0 border-b border-hair/60"
                style={{ transform: `translateY(${item.start}px)`, height: rowHeight }}
              >
                <Line line={line} isNarrow={isNarrow} marks={marks} plan={plan} onOpen={onOpen} />
              </li>
            )
          );
        })}
      </ol>
    </section>
  );
}

const Line = memo(function Line(props: {
  readonly line: FeedLine;
  readonly isNarrow: boolean;
  readonly marks: readonly string[];
  readonly plan: PlanDocument | undefined;
  readonly onOpen: (line: FeedLine) => void;
}) {
  const { line, isNarrow, marks, plan, onOpen } = props;
  const severity = severityWord(line.severity);
  const { words, isKept } = outcomeInWords(line, plan);
  return (
    <button
      type="button"
      onClick={() => onOpen(line)}
      title={isNarrow ? `${line.text} → ${words}` : undefined}
      className="line grid h-full w-full grid-cols-[26px_68px_1fr_auto] items-center gap-x-1 pr-2 text-left hover:bg-land/40"
    >
      <SeverityTick severity={severity} />
      <time className="text-second" title={inOtherZone(line.time)}>
        {timeOfDay(line.received)}
      </time>
      <span className={`truncate ${isKept ? '' : 'text-second'}`}>
        <b className="font-[650]">{line.source}</b> <span className="sr-only">{severity} </span>
        <MarkedText text={line.text} marks={marks} />
      </span>
      <span
        className={`${isNarrow ? 'max-w-[76px] 2xl:max-w-[190px]' : 'max-w-[190px]'} truncate pl-2 font-sans text-[11.5px] ${isKept ? 'text-d6' : 'text-second'}`}
      >
        {isKept ? '→' : '↓'} {words}
      </span>
    </button>
  );
});

function timeOfDay(time: number): string {
  const at = new Date(time);
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${two(at.getHours())}:${two(at.getMinutes())}:${two(at.getSeconds())}`;
}
