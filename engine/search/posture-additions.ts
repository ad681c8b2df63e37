import type { PlanDocument } from '#core/plan/document.ts';
import { withPosture } from '#core/plan/postures.ts';
import { flowsOf, type RehearsedFlow } from '#core/rehearsal/flows.ts';
import { mergeRehearsal, newRehearsal } from '#core/rehearsal/rehearse.ts';
import type { Amount } from '#core/routing/volume-sums.ts';
import type { Database } from '#store/database.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { Pools } from '../workers/pools.ts';
import { overTape } from './over-tape.ts';

/** Most taped records by which it is reckoned what a posture adds. */
const mostRecords = 12_000;
/** For how long that is not reckoned again, in milliseconds. */
const freshFor = 300_000;

/** What a posture adds in an hour, and what flows with and without it in a day. */
export interface PostureAddition extends Amount {
  readonly flows: readonly RehearsedFlow[];
}

/** By posture, what it adds; undefined while it is being found out. */
type Additions = ReadonlyMap<string, PostureAddition> | undefined;

interface KnownAdditions {
  readonly revision: number;
  readonly at: number;
  additions: Additions;
}

interface Services {
  readonly database: Database;
  readonly pools: Pools;
  readonly directory: Pick<SourceDirectory, 'tables' | 'fleets'>;
}

/** What postures add to what is kept, by the tape of the last day. */
export class PostureAdditions {
  private known: KnownAdditions | undefined;

  constructor(private readonly services: Services) {}

  /** What each posture of the live plan adds in an hour; it is found out beside the answer, which does not wait for it. */
  of(plan: PlanDocument, revision: number): Additions {
    const { known } = this;
    const isFresh = known && known.revision === revision && Date.now() - known.at < freshFor;
    if (isFresh || (plan.postures ?? []).length === 0) return known?.additions;
    const before = known?.revision === revision ? known.additions : undefined;
    const next: KnownAdditions = { revision, at: Date.now(), additions: before };
    this.known = next;
    this.find(plan).then(
      (additions) => {
        next.additions = additions;
      },
      () => {
        this.known = undefined;
      },
    );
    return before;
  }

  private async find(live: PlanDocument): Promise<ReadonlyMap<string, PostureAddition>> {
    const { database, pools, directory } = this.services;
    const additions = new Map<string, PostureAddition>();
    const now = Date.now();
    const { tables, fleets } = directory;
    for (const posture of live.postures ?? []) {
      const merged = newRehearsal();
      const draft = withPosture(live, posture);
      await overTape(
        { database, pools, now, mostRecords },
        (lane, part) =>
          pools.read(lane, { kind: 'rehearse', live, draft, tables, fleets, of: { kind: 'tape', ...part }, now }),
        (part) => mergeRehearsal(merged, part),
      );
      const flows = flowsOf(merged);
      const kept = flows.filter(({ place: [, outcome] }) => outcome === 'kept');
      const sum = (part: 'events' | 'bytes'): number =>
        kept.reduce((all, { live: off, draft: on }) => all + on[part] - off[part], 0);
      additions.set(posture.id, { events: sum('events') / 24, bytes: sum('bytes') / 24, flows });
    }
    return additions;
  }
}
