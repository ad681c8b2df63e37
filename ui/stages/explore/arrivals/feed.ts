import type { ArrivedLine } from '#core/arrivals/arrived-line.ts';
import type { ArrivalsFrame } from '../../../data/answers.ts';

/** Most lines that stand in a view, and most that are kept while it is paused. */
export const mostShown = 2_000;
export const mostWaiting = 10_000;
/** Seconds that the rhythm shows, and over which a rate is taken: senders that deliver every few seconds come in bursts. */
export const rhythmSeconds = 60;

/** A line in a view. */
export interface FeedLine extends ArrivedLine {
  readonly key: number;
}

/** What came in one second, by the clock of whoever looks. */
export interface FeedSecond {
  /** Seconds since 1970. */
  readonly second: number;
  readonly matched: number;
  /** Lines that were shown of them, or kept. */
  readonly lines: number;
  /** Events by severity class: 0 unset, 1 trace … 6 fatal. */
  readonly severities: readonly number[];
}

/** One view of what comes in. */
export interface Feed {
  /** The newest first. */
  readonly lines: readonly FeedLine[];
  /** Lines that came while it was paused, the newest first; and how many events there were. */
  readonly waiting: readonly FeedLine[];
  readonly meanwhile: number;
  readonly paused: boolean;
  /** The last minute, the oldest second first; seconds in which nothing came are not in it. */
  readonly seconds: readonly FeedSecond[];
  /** When the first frame came, in milliseconds; 0 before. */
  readonly since: number;
  readonly nextKey: number;
}

/** A view to which nothing came yet. */
export const emptyFeed: Feed = {
  lines: [],
  waiting: [],
  meanwhile: 0,
  paused: false,
  seconds: [],
  since: 0,
  nextKey: 0,
};

/** The view after a frame that came at `now` (milliseconds). */
export function withFrame(feed: Feed, frame: ArrivalsFrame['views'][number], now: number): Feed {
  let { nextKey } = feed;
  const fresh = frame.lines.map((line): FeedLine => ({ ...line, key: nextKey++ })).reverse();
  const lines = feed.paused || fresh.length === 0 ? feed.lines : [...fresh, ...feed.lines].slice(0, mostShown);
  const waiting = feed.paused ? [...fresh, ...feed.waiting].slice(0, mostWaiting) : feed.waiting;
  return {
    ...feed,
    ...{ lines, waiting, nextKey },
    meanwhile: feed.paused ? feed.meanwhile + frame.matched : 0,
    seconds: withSecond(feed.seconds, frame, Math.floor(now / 1000)),
    since: feed.since || now,
  };
}

function withSecond(
  seconds: readonly FeedSecond[],
  { matched, severities, lines }: ArrivalsFrame['views'][number],
  second: number,
): readonly FeedSecond[] {
  // One more than is shown: the latest is not over.
  const kept = seconds.filter((one) => one.second >= second - rhythmSeconds);
  if (matched === 0) return kept.length === seconds.length ? seconds : kept;
  const last = kept.at(-1);
  if (last?.second !== second) return [...kept, { second, matched, lines: lines.length, severities }];
  const sum: FeedSecond = {
    second,
    matched: last.matched + matched,
    lines: last.lines + lines.length,
    severities: last.severities.map((events, i) => events + (severities[i] ?? 0)),
  };
  return [...kept.slice(0, -1), sum];
}

/** The view paused: what is in it stays, and what comes is counted and kept. */
export function pausedFeed(feed: Feed): Feed {
  return feed.paused ? feed : { ...feed, paused: true, waiting: [], meanwhile: 0 };
}

/** The view going on, with what came meanwhile. */
export function resumedFeed(feed: Feed): Feed {
  if (!feed.paused) return feed;
  const lines = [...feed.waiting, ...feed.lines].slice(0, mostShown);
  return { ...feed, paused: false, lines, waiting: [], meanwhile: 0 };
}

/** What came lately: events, over so many whole seconds, so many a second; and of how many events each line that is shown is one. */
export interface FeedRate {
  readonly events: number;
  readonly span: number;
  readonly rate: number;
  readonly oneIn: number;
}

/** The rate over the last minute, or as long as it runs; of a second that is not over, or was cut by the beginning, nothing counts. */
export function rateOf({ seconds, since }: Feed, now: number): FeedRate {
  const end = Math.floor(now / 1000);
  const begin = Math.max(end - rhythmSeconds, Math.ceil(since / 1000));
  const recent = seconds.filter(({ second }) => second >= begin && second < end);
  const events = recent.reduce((sum, one) => sum + one.matched, 0);
  const lines = recent.reduce((sum, one) => sum + one.lines, 0);
  const span = Math.max(0, end - begin);
  return { events, span, rate: span > 0 ? events / span : 0, oneIn: lines > 0 ? events / lines : 1 };
}
