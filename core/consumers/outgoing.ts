import { type Condition, conditionOf } from '../conditions/condition.ts';
import { markedRows } from '../conditions/marked.ts';
import type { EventBatch } from '../events/batch.ts';
import { allRows, gather, type Selection } from '../events/select.ts';
import { encodeSegment, type SegmentPart } from '../segments/segment.ts';
import type { Consumer, GroupContext } from './consumer.ts';

/** Events of one source on their way to a follower: Apache Arrow IPC, packed (raw deflate). */
export interface OutgoingBatch {
  readonly follower: string;
  readonly source: string;
  readonly events: number;
  /** Bytes of the events as they arrived. */
  readonly bytes: number;
  readonly parts: readonly SegmentPart[];
}

interface Leaving {
  readonly follower: string;
  readonly source: string;
  readonly selections: Selection[];
}

/** What leaves for followers: everything that arrived and is for them, as its pipelines made it, before any exclusion. */
export const outgoing: Consumer<readonly OutgoingBatch[]> = {
  begin: (_plan, group) => {
    const followers = group.followers.map(({ name, when }) => ({ name, when: conditionOf(when) }));
    const leaving = new Map<string, Leaving>();
    return {
      add: ({ delivery, routed: { arrived } }) => {
        for (const { name, when } of followers) {
          const rows = rowsFor(when, arrived, group, delivery.fleets);
          if (rows.length === 0) continue;
          const key = `${name}|${arrived.source}`;
          const known = leaving.get(key);
          if (known) known.selections.push({ batch: arrived, rows });
          else leaving.set(key, { follower: name, source: arrived.source, selections: [{ batch: arrived, rows }] });
        }
      },
      effect: () => (leaving.size > 0 ? [...leaving.values()].map((batch) => encode(batch, group)) : undefined),
    };
  },
  bytesOf: (batches) => batches.flatMap(({ parts }) => parts.map(({ data }) => data)),
};

function rowsFor(
  when: Condition,
  batch: EventBatch,
  { now }: GroupContext,
  fleets: readonly string[] | undefined,
): Int32Array {
  if (when.text === '') return allRows(batch);
  return markedRows(when.test(batch, { now, ...(fleets && { fleets }) }));
}

function encode({ follower, source, selections }: Leaving, { deflate }: GroupContext): OutgoingBatch {
  const { facts, parts } = encodeSegment(gather(source, selections), 'whole');
  return {
    follower,
    source,
    events: facts.events,
    bytes: facts.bytes,
    parts: parts.map(({ name, data }) => ({ name, data: deflate(data) })),
  };
}
