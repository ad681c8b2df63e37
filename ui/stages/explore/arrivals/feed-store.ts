import type { ArrivalsFrame } from '../../../data/answers.ts';
import { ApiProblem, addressOf } from '../../../data/client.ts';
import { emptyFeed, type Feed, pausedFeed, resumedFeed, withFrame } from './feed.ts';

/** After which time the stream is asked for again when it ended, in milliseconds. */
const againAfter = 2_000;
/** What is before the data of a server-sent event. */
const dataMark = 'data: ';

/**
 * Views of what comes in, side by side, outside of what is drawn: four times a second there is more, and only what shows it
 * is to be drawn anew.
 */
export class FeedStore {
  /** Whether the stream failed and why, and one of how many events an engine looks at. */
  state: { readonly failed: string | undefined; readonly lookedAtOneIn: number } = {
    failed: undefined,
    lookedAtOneIn: 1,
  };
  private feeds: readonly Feed[];
  private readonly listeners = new Set<() => void>();

  /** Views whose conditions stood in the store `before` go on with what they had. */
  constructor(
    private readonly conditions: readonly string[],
    before: FeedStore | undefined,
  ) {
    this.feeds = conditions.map((condition) => before?.feed(before.conditions.indexOf(condition)) ?? emptyFeed);
  }

  /** A view, by its place; undefined where there is none. */
  feed(view: number): Feed | undefined {
    return this.feeds[view];
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  pause(view: number): void {
    this.change(view, pausedFeed);
  }

  resume(view: number): void {
    this.change(view, resumedFeed);
  }

  /** Reads the stream, again and again where it ends, until what is returned is called. */
  follow(): () => void {
    const abort = new AbortController();
    if (this.conditions.length > 0) void this.run(abort.signal);
    return () => abort.abort();
  }

  private async run(signal: AbortSignal): Promise<void> {
    const names = ['condition', 'condition2', 'condition3'];
    const given = Object.fromEntries(this.conditions.map((condition, i) => [names[i] as string, condition]));
    while (!signal.aborted) {
      try {
        await this.read(addressOf('arrivals', given), signal);
      } catch (error) {
        if (signal.aborted) return;
        const isRefused = error instanceof ApiProblem;
        this.set({ failed: isRefused ? error.message : 'The engine does not answer. Retrying.' });
        // A condition that is wrong stays wrong.
        if (isRefused && error.details.problems) return;
      }
      await new Promise((resolve) => setTimeout(resolve, againAfter));
    }
  }

  private async read(address: string, signal: AbortSignal): Promise<void> {
    const answer = await fetch(address, { signal, headers: { accept: 'text/event-stream' } });
    if (!answer.ok || !answer.body) {
      const value = await answer.json();
      throw new ApiProblem(value.detail ?? 'Arrivals could not be loaded.', value);
    }
    const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
    let rest = '';
    for (let read = await reader.read(); !read.done && !signal.aborted; read = await reader.read()) {
      const events = (rest + read.value).split('\n\n');
      rest = events.pop() ?? '';
      this.take(events.map((event): ArrivalsFrame => JSON.parse(event.slice(dataMark.length))));
    }
  }

  private take(frames: readonly ArrivalsFrame[]): void {
    if (frames.length === 0) return;
    const now = Date.now();
    for (const { views } of frames)
      this.feeds = this.feeds.map((feed, i) => (views[i] ? withFrame(feed, views[i], now) : feed));
    const lookedAt = Math.min(...frames.map((frame) => frame.lookedAt));
    this.set({ failed: undefined, lookedAtOneIn: lookedAt < 0.7 ? Math.round(1 / lookedAt) : 1 });
  }

  private set(next: Partial<FeedStore['state']>): void {
    const state = { ...this.state, ...next };
    const isSame = state.failed === this.state.failed && state.lookedAtOneIn === this.state.lookedAtOneIn;
    if (!isSame) this.state = state;
    this.tell();
  }

  private change(view: number, to: (feed: Feed) => Feed): void {
    this.feeds = this.feeds.map((feed, i) => (i === view ? to(feed) : feed));
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}
