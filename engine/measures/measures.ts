import type { OpenMetricsContentType } from 'prom-client';
import type { ProcessResult } from '../workers/process.ts';

/** What this engine measures of itself since it was started. */
export class Measures {
  received = 0;
  receivedBytes = 0;
  rejected = 0;
  refused = 0;
  lost = 0;
  commits = 0;
  /** Segments that were committed. */
  segments = 0;
  failedCommits = 0;
  quarantined = 0;
  processSeconds = 0;
  commitSeconds = 0;
  searches = 0;
  compactions = 0;
  failedCompactions = 0;
  private readonly failedRounds = new Map<string, number>();

  /** Counts a turn of a round that failed. */
  failedRound(name: string): void {
    this.failedRounds.set(name, (this.failedRounds.get(name) ?? 0) + 1);
  }

  /** Counts a group that has been committed; times in milliseconds. */
  committed({ answers, effects }: ProcessResult, processTime: number, commitTime: number): void {
    this.commits++;
    this.segments += effects.segments?.length ?? 0;
    this.processSeconds += processTime / 1000;
    this.commitSeconds += commitTime / 1000;
    for (const { events, bytes } of effects.ledger ?? []) {
      this.received += events;
      this.receivedBytes += bytes;
    }
    for (const answer of answers) if (answer.kind === 'stored') this.rejected += answer.rejected;
  }

  /** Everything as OpenMetrics text. */
  async openMetrics({ queued, free, spools }: StandingFigures): Promise<string> {
    // An engine that starts takes events in first.
    const { Counter, Gauge, Registry } = await import('prom-client');
    const registry = new Registry<OpenMetricsContentType>();
    registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE);
    const registers = [registry];
    for (const [name, help, value] of this.counters())
      new Counter({ name: `otter_${name}`, help, registers }).inc(value);
    new Gauge({ name: 'otter_queued_bytes', help: 'Bytes that wait to be processed.', registers }).set(queued);
    if (this.failedRounds.size > 0) {
      const failed = new Counter({
        ...{
          name: 'otter_failed_rounds',
          help: 'Turns of regular tasks that failed.',
          labelNames: ['round'],
          registers,
        },
      });
      for (const [round, count] of this.failedRounds) failed.inc({ round }, count);
    }
    const memory = new Gauge({ name: 'otter_memory_bytes', help: 'Resident memory of the engine.', registers });
    memory.set(process.memoryUsage().rss);
    if (free !== undefined)
      new Gauge({ name: 'otter_disk_free_bytes', help: 'Bytes free on the disk of the store.', registers }).set(free);
    const labelNames = ['follower'];
    const waiting = new Gauge({
      ...{ name: 'otter_spooled_bytes', help: 'Bytes that wait for a follower.', labelNames, registers },
    });
    const dropped = new Counter({
      ...{ name: 'otter_spool_dropped_events', help: 'Events that a full spool let go.', labelNames, registers },
    });
    for (const { follower, stored, droppedEvents } of spools) {
      waiting.set({ follower }, stored);
      dropped.inc({ follower }, droppedEvents);
    }
    return await registry.metrics();
  }

  private counters(): readonly (readonly [name: string, help: string, value: number])[] {
    return [
      ['received_events', 'Events that were accepted.', this.received],
      ['received_bytes', 'Bytes of accepted events as they arrived.', this.receivedBytes],
      ['rejected_records', 'Records that could not be read.', this.rejected],
      ['refused_requests', 'Requests refused for want of room or right.', this.refused],
      ['lost_datagrams', 'Datagrams lost because the queue was full.', this.lost],
      ['commits', 'Groups committed.', this.commits],
      ['failed_commits', 'Commits that failed.', this.failedCommits],
      ['quarantined_deliveries', 'Deliveries set aside because they cannot be stored.', this.quarantined],
      ['process_seconds', 'Time spent reading, parsing and routing.', this.processSeconds],
      ['commit_seconds', 'Time spent committing.', this.commitSeconds],
      ['searches', 'Searches run.', this.searches],
      ['compactions', 'Segments merged.', this.compactions],
      ['failed_compactions', 'Attempts to merge segments that failed.', this.failedCompactions],
    ];
  }
}

/** What others than the measures know at this moment. */
export interface StandingFigures {
  /** Bytes that wait to be processed. */
  readonly queued: number;
  /** Bytes that are free on the disk of the store; undefined where nothing is known of it. */
  readonly free: number | undefined;
  readonly spools: readonly SpoolFigures[];
}

/** What waits for a follower, in bytes, and how many events its full spool let go. */
export interface SpoolFigures {
  readonly follower: string;
  readonly stored: number;
  readonly droppedEvents: number;
}
