import { addStepMeasure, type StepMeasure, type StepMeasures } from '#core/plan/step-measures.ts';
import { RecentRates } from './health/recent-rates.ts';
import type { ProcessResult } from './workers/process.ts';

/** What a revision has done since it came into force, exactly. */
export interface RevisionEffect {
  readonly revision: number;
  /** When its first group was committed, in milliseconds. */
  readonly since: number;
  readonly arrived: { events: number; bytes: number };
  readonly kept: { events: number; bytes: number };
  readonly parsed: { events: number; bytes: number };
}

/** What the engine measures of itself and of what arrives. */
export class Measures {
  received = 0;
  receivedBytes = 0;
  rejected = 0;
  refused = 0;
  lost = 0;
  commits = 0;
  failedCommits = 0;
  quarantined = 0;
  processSeconds = 0;
  commitSeconds = 0;
  searches = 0;
  compactions = 0;
  failedCompactions = 0;
  private readonly recent = new RecentRates();
  /** By source: its place among the rates, and when it last sent something. */
  private readonly sources = new Map<string, { readonly place: number; last: number }>();
  private stepsOf: { revision: number; since: number; readonly steps: StepMeasures } | undefined;

  /** What the live revision has done so far; undefined until it has committed something. */
  effect: RevisionEffect | undefined;

  /** Counts a group that has been committed under a revision; times in milliseconds. */
  committed(revision: number, result: ProcessResult, processTime: number, commitTime: number): void {
    this.commits++;
    this.processSeconds += processTime / 1000;
    this.commitSeconds += commitTime / 1000;
    const now = Date.now();
    this.countSteps(revision, result.steps, now);
    for (const entry of result.ledger) {
      this.received += entry.events;
      this.receivedBytes += entry.bytes;
      // History that is being brought in is no sign of life.
      if (entry.start <= now - 120_000) continue;
      this.count(entry.source, entry.events, entry.bytes, now);
      this.countEffect(revision, entry, now);
    }
    for (const answer of result.answers) if (answer.kind === 'stored') this.rejected += answer.rejected;
  }

  /** Events and bytes a second of each source over the last minute, and when it last sent something. */
  rates(
    now: number,
  ): readonly { readonly source: string; readonly events: number; readonly bytes: number; readonly last: number }[] {
    return [...this.sources].map(([source, { place, last }]) => ({ source, ...this.recent.rate(place, now), last }));
  }

  /** What each step of the live revision has done since it came into force, and since when (milliseconds). */
  get steps():
    | { readonly revision: number; readonly since: number; readonly steps: Readonly<Record<string, StepMeasure>> }
    | undefined {
    if (!this.stepsOf) return undefined;
    const { revision, since, steps } = this.stepsOf;
    return { revision, since, steps: Object.fromEntries(steps) };
  }

  private countSteps(revision: number, steps: StepMeasures, now: number): void {
    if (!this.stepsOf || this.stepsOf.revision < revision) this.stepsOf = { revision, since: now, steps: new Map() };
    if (this.stepsOf.revision !== revision) return;
    for (const [rule, measure] of steps) addStepMeasure(this.stepsOf.steps, rule, measure);
  }

  private countEffect(revision: number, entry: ProcessResult['ledger'][number], now: number): void {
    const none = () => ({ events: 0, bytes: 0 });
    if (!this.effect || this.effect.revision < revision) {
      this.effect = { revision, since: now, arrived: none(), kept: none(), parsed: none() };
    }
    if (this.effect.revision !== revision) return;
    const { arrived, kept, parsed } = this.effect;
    for (const sum of [arrived, entry.outcome === 'kept' ? kept : undefined, entry.parsed ? parsed : undefined]) {
      if (!sum) continue;
      sum.events += entry.events;
      sum.bytes += entry.bytes;
    }
  }

  private count(source: string, events: number, bytes: number, now: number): void {
    let counted = this.sources.get(source);
    if (!counted) this.sources.set(source, (counted = { place: this.sources.size, last: now }));
    counted.last = now;
    this.recent.add(counted.place, now, events, bytes);
  }

  /** Everything as OpenMetrics text; `queued` is the bytes that wait. */
  openMetrics(queued: number): string {
    const counters: readonly (readonly [string, string, number])[] = [
      ['otter_received_events', 'Events that were accepted.', this.received],
      ['otter_received_bytes', 'Bytes of accepted events as they arrived.', this.receivedBytes],
      ['otter_rejected_records', 'Records that could not be read.', this.rejected],
      ['otter_refused_requests', 'Requests refused for want of room or right.', this.refused],
      ['otter_lost_datagrams', 'Datagrams lost because the queue was full.', this.lost],
      ['otter_commits', 'Groups committed.', this.commits],
      ['otter_failed_commits', 'Commits that failed.', this.failedCommits],
      ['otter_quarantined_deliveries', 'Deliveries set aside because they cannot be stored.', this.quarantined],
      ['otter_process_seconds', 'Time spent reading, parsing and routing.', this.processSeconds],
      ['otter_commit_seconds', 'Time spent committing.', this.commitSeconds],
      ['otter_searches', 'Searches run.', this.searches],
      ['otter_compactions', 'Segments merged.', this.compactions],
      ['otter_failed_compactions', 'Attempts to merge segments that failed.', this.failedCompactions],
    ];
    const gauges: readonly (readonly [string, string, number])[] = [
      ['otter_queued_bytes', 'Bytes that wait to be processed.', queued],
      ['otter_memory_bytes', 'Resident memory of the engine.', process.memoryUsage().rss],
    ];
    return [
      ...counters.map(
        ([name, help, value]) => `# TYPE ${name} counter\n# HELP ${name} ${help}\n${name}_total ${value}`,
      ),
      ...gauges.map(([name, help, value]) => `# TYPE ${name} gauge\n# HELP ${name} ${help}\n${name} ${value}`),
      '# EOF\n',
    ].join('\n');
  }
}
