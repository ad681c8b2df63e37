import type { News } from '#store/cluster/news.ts';
import type { Leases } from '../cluster/leases.ts';
import type { DemoTraffic } from '../demo/demo-traffic.ts';
import type { LostMessages } from '../intake/lost-messages.ts';
import type { Learning } from '../learning/learning.ts';
import type { OperationServices } from '../operations/services.ts';
import type { ClockGuard } from '../watches/clock-guard.ts';
import type { DiskWatch } from '../watches/disk-watch.ts';

/** The services of an engine that rounds use. */
export interface RoundServices extends OperationServices {
  readonly leases: Leases;
  readonly learning: Learning;
  readonly lost: LostMessages;
  readonly demo: DemoTraffic;
  readonly clock: ClockGuard;
  readonly disk: DiskWatch;
}

/** What the store may say is new. */
export type NewsKind = 'hasNewShapes' | 'hasRewinds' | 'hasFills' | 'hasDeltasOfOthers';

/** Whether there was something of a kind at the last look; before the first look there may be. */
export function isNews({ changes }: RoundServices, kind: NewsKind & keyof News): boolean {
  return changes.news?.[kind] ?? true;
}
