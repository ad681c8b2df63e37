import { Costs } from '../costs/costs.ts';
import { statusCache } from '../operations/attention.ts';
import { knownSuggestions } from '../operations/explore/known-suggestions.ts';
import { lastDayOf } from '../operations/last-day.ts';
import { Rewinds } from '../reprocessing/rewind.ts';
import { HeaderCache } from '../search/header-cache.ts';
import { JumpMinutes } from '../search/jump-minutes.ts';
import { KnownFields } from '../search/known-fields.ts';
import { PostureAdditions } from '../search/posture-additions.ts';
import { TapedFields } from '../search/taped-fields.ts';
import { standingCaps } from '../shapes/standing-caps.ts';
import { sourceBounds } from '../sources/source-bounds.ts';
import { UsageRecorder } from '../usage/usage-recorder.ts';
import type { OpenChangeable } from './open-changeable.ts';
import type { OpenStore } from './open-store.ts';
import type { OpenStream } from './open-stream.ts';

/** What is remembered so that not everybody who asks makes the store work. */
export function openAnswers(services: OpenStore & OpenChangeable & OpenStream) {
  const { config, database } = services;
  const headers = new HeaderCache(database);
  const costs = new Costs(database);
  const caps = standingCaps(services);
  return {
    ...{ headers, costs, caps },
    knownFields: new KnownFields(database, headers),
    bounds: sourceBounds(config.sourceFolders, config.sourceHosts),
    rewinds: new Rewinds(services),
    tapedFields: new TapedFields(services),
    additions: new PostureAdditions(services),
    lastDay: lastDayOf(database),
    status: statusCache({ ...services, costs, caps, jumpMinutes: new JumpMinutes(database, headers) }),
    suggestions: knownSuggestions(),
    usage: new UsageRecorder(database),
  };
}
