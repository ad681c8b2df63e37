import type { EventBatch } from '../events/batch.ts';
import { observe } from '../health/observe.ts';
import { packHeard, type SourceObservation } from '../health/pack-heard.ts';
import { addToProfile, newProfile, type Profile } from '../health/profile.ts';
import type { Consumer, RoutedDelivery } from './consumer.ts';

/** Who was heard: what deliveries tell about their sources and emitters as it arrived, packed ({@link packHeard}). */
export const heard: Consumer<Uint8Array> = {
  begin: (_plan, { profiled }) => {
    const observed: SourceObservation[] = [];
    return {
      add: ({ delivery: { source, backfill }, read, routed }: RoutedDelivery) => {
        if (read.batch.rows === 0) return;
        const list = observe(backfill ? asHappened(read.batch, routed.batch) : read.batch, profiled);
        const profile = profiled && !backfill ? profileOf(read.batch) : undefined;
        observed.push({ source, backfill, list, ...(profile && { profile }) });
      },
      effect: () => (observed.length > 0 ? packHeard(observed) : undefined),
    };
  },
  bytesOf: (packed) => [packed],
};

/** History arrived when it happened, which for plain lines only their pipeline tells. */
function asHappened(raw: EventBatch, parsed: EventBatch): EventBatch {
  return parsed.rows === raw.rows ? { ...raw, received: parsed.time } : raw;
}

function profileOf(batch: EventBatch): Profile {
  const profile = newProfile();
  addToProfile(profile, batch);
  return profile;
}
