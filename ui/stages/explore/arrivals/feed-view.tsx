'use client';

import { useState } from 'react';
import { formatCount } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { Button } from '../../../kit/button.tsx';
import { type FeedLine, mostWaiting, rateOf, rhythmSeconds } from './feed.ts';
import { FeedList } from './feed-list.tsx';
import type { FeedStore } from './feed-store.ts';
import { Rhythm } from './rhythm.tsx';
import { useFeed } from './use-arrivals.ts';
import { usePresent } from './use-present.ts';

/** One view of what comes in: its rate and rhythm, whether it is paused, and its lines. */
export function FeedView(props: {
  readonly store: FeedStore;
  /** Its place among the views. */
  readonly view: number;
  readonly name: string;
  readonly height: number;
  /** Whether its rate is elsewhere, and its lines have all the room. */
  readonly isAlone: boolean;
  readonly marks: readonly string[];
  readonly plan: PlanDocument | undefined;
  readonly onOpen: (line: FeedLine) => void;
}) {
  const { store, view, name, height, isAlone, marks, plan, onOpen } = props;
  const feed = useFeed(store, view);
  const [byButton, setByButton] = useState(false);
  const now = usePresent();
  const { span, rate, oneIn } = rateOf(feed, now);
  const toggle = (): void => {
    setByButton(!feed.paused);
    if (feed.paused) store.resume(view);
    else store.pause(view);
  };
  return (
    <div className="min-w-0 flex-1">
      <div className="mb-1 flex min-h-[30px] items-center justify-between gap-3 text-[12.5px] text-second">
        <p>
          {isAlone ? (
            'The last minute, and the lines; newest first'
          ) : (
            <>
              <b className="font-semibold text-ink">{formatCount(rate)} events/s</b>
              {span > 0 && ` over the last ${span >= rhythmSeconds ? 'minute' : `${span} s`}`}
              {oneIn > 1.5 && ` · 1 in ${formatCount(Math.round(oneIn))} shown`}
            </>
          )}
        </p>
        <span className="flex items-center gap-1">
          {feed.paused && (
            <span role="status">
              {formatCount(Math.round(feed.meanwhile))} new meanwhile
              {feed.waiting.length >= mostWaiting && `; the last ${formatCount(mostWaiting)} lines are kept`}
            </span>
          )}
          <Button className="py-0.5! text-[12.5px]" onClick={toggle}>
            {feed.paused ? 'Resume' : 'Pause'}
          </Button>
        </span>
      </div>
      <div className="flex">
        <Rhythm seconds={feed.seconds} now={now} height={height} />
        {feed.lines.length === 0 ? (
          <p className="flex-1 border-l border-ink px-4 py-3 text-second" style={{ height }}>
            {feed.since === 0 ? 'Loading …' : 'No matching events yet. They appear here as they arrive.'}
          </p>
        ) : (
          <FeedList
            lines={feed.lines}
            height={height}
            isNarrow={!isAlone}
            marks={marks}
            plan={plan}
            label={`Arrivals: ${name}`}
            onScrolled={(isAway) => {
              if (isAway) store.pause(view);
              else if (!byButton) store.resume(view);
            }}
            onOpen={onOpen}
          />
        )}
      </div>
    </div>
  );
}
