import type { OutgoingBatch } from '#core/consumers/outgoing.ts';
import { addToSpool } from '#store/events/spools.ts';
import type { EffectWriter, WriterSetting } from './writer.ts';

/** What leaves for followers: into the spool of each, as far as its bound allows. */
export const outgoing = ({ followers }: WriterSetting): EffectWriter<readonly OutgoingBatch[]> => ({
  write: async (tx, batches, at) => {
    // All engines take the spools in the same order, so that none waits for another in a circle.
    for (const { name, bound } of [...followers].sort((a, b) => a.name.localeCompare(b.name))) {
      const leaving = batches.filter(({ follower }) => follower === name);
      if (leaving.length === 0) continue;
      const spooled = leaving.map(({ source, events, bytes, parts }) => ({
        source,
        events,
        bytes,
        // Laid out whole, a batch is one part.
        data: parts[0]?.data ?? new Uint8Array(0),
      }));
      await addToSpool(tx, spooled, { follower: name, bound, at });
    }
    return undefined;
  },
});
