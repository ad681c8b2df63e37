import type { PlanDocument } from '#core/plan/document.ts';
import { answerOf, type RehearsalBasis } from '#core/rehearsal/answer-of.ts';
import type { RehearsalFindings } from '#core/rehearsal/rehearsal-answer.ts';
import { mergeRehearsal, newRehearsal } from '#core/rehearsal/rehearse.ts';
import { type RehearsalSoFar, rehearsedSoFar } from '#core/rehearsal/so-far.ts';
import { rejectsTier } from '#core/routing/built-in-tiers.ts';
import type { Database } from '#store/database.ts';
import { listSegments } from '#store/events/segments.ts';
import type { Delivery } from '../deliveries/delivery.ts';
import type { Pools } from '../workers/pools.ts';
import { overTape, rehearsedRecords, tapeStretch } from './over-tape.ts';

/** Both plans, and what is needed to run them. */
export interface RehearsalSetting {
  readonly database: Database;
  readonly pools: Pools;
  readonly live: PlanDocument;
  readonly draft: PlanDocument;
  /** When each table was last changed. */
  readonly tables: Readonly<Record<string, number>>;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly signal: AbortSignal;
}

/** The interval between progress reports (milliseconds). */
const reportEvery = 250;

/** The part of the tape to use, and what to compute the answer from. */
export interface TapeChoice {
  /** All of one source; absent: of all. */
  readonly source?: string;
  /** Since when (milliseconds); the tape reaches back a day. */
  readonly from?: number;
  readonly basis?: RehearsalBasis;
  /** The conditions of the basis' readers. */
  readonly readers?: readonly string[];
}

/** Runs live and draft over the tape of the last day, or over a part of it. */
export async function rehearseTape(
  setting: RehearsalSetting,
  progress: (soFar: RehearsalSoFar) => void,
  { basis, readers, ...part }: TapeChoice = {},
): Promise<RehearsalFindings> {
  const started = performance.now();
  const now = Date.now();
  const { database, pools, signal, ...plans } = setting;
  const window = { from: Math.max(now - tapeStretch, part.from ?? 0), to: now };
  const merged = newRehearsal();
  let reportedAt = Number.NEGATIVE_INFINITY;
  await overTape(
    { database, pools, now, mostRecords: rehearsedRecords, signal, ...part },
    (lane, some) =>
      pools.read(lane, {
        kind: 'rehearse',
        ...plans,
        ...(readers && { readers }),
        ...(basis?.surge && { surge: basis.surge }),
        of: { kind: 'tape', ...some, window },
        now,
      }),
    (found, { shareRead, ...read }) => {
      mergeRehearsal(merged, found);
      if (performance.now() - reportedAt < reportEvery) return;
      reportedAt = performance.now();
      progress(rehearsedSoFar(merged, shareRead, read));
    },
  );
  return answerOf(merged, window, started, basis);
}

/** Runs both over the rejects of the last week alone, of one reason (empty: of all). */
export async function rehearseRejects(setting: RehearsalSetting, reason: string): Promise<RehearsalFindings> {
  const started = performance.now();
  const now = Date.now();
  const { database, pools, signal, ...plans } = setting;
  const window = { from: now - rejectsTier.keep, to: now + tapeStretch };
  const merged = newRehearsal();
  for (const { id, tier, source, events } of await listSegments(database, window, [rejectsTier.id])) {
    signal.throwIfAborted();
    const of = { kind: 'rejects', segments: [{ id, tier, source, events }], reason } as const;
    mergeRehearsal(merged, await pools.read(id, { kind: 'rehearse', ...plans, of, now }));
  }
  return answerOf(merged, window, started);
}

/**
 * Runs both over what a source of files or objects holds, from a time on (milliseconds; 0: all), as if it were read again:
 * nothing is stored, and how far it has been read stays as it is. The first 400,000 records are used.
 */
export async function rehearseAgain(
  setting: RehearsalSetting,
  deliveries: AsyncIterable<Delivery>,
  since: number,
): Promise<RehearsalFindings> {
  const started = performance.now();
  const now = Date.now();
  const { database: _, pools, signal, ...plans } = setting;
  const merged = newRehearsal();
  let lane = 0;
  for await (const delivery of deliveries) {
    signal.throwIfAborted();
    const of = { kind: 'deliveries', deliveries: [delivery], since } as const;
    mergeRehearsal(merged, await pools.read(lane++, { kind: 'rehearse', ...plans, of, now }));
    if (merged.taped >= rehearsedRecords) break;
  }
  return answerOf(merged, { from: since, to: now }, started);
}
