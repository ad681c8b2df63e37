import {
  type Attention,
  attentionFromBudgets,
  attentionFromCaps,
  attentionFromClock,
  attentionFromDisk,
  attentionFromHealth,
  attentionFromLedger,
  attentionFromMetrics,
  attentionFromQuarantine,
} from '#core/health/attention.ts';
import { limitOf } from '#core/metrics/metric.ts';
import { sumLedger } from '#store/ledger.ts';
import { countQuarantine } from '#store/quarantine.ts';
import { tierContents } from '#store/segments.ts';
import { metricSeries } from '../metrics/metric-series.ts';
import { recent } from '../recent.ts';
import { capsOf } from './caps.ts';
import { monthOfCosts } from './costs.ts';
import { healthAnswer } from './health-answer.ts';
import type { OperationSetting } from './setting.ts';

const hour = 3_600_000;
const day = 24 * hour;
const freshFor = 15_000;

/** What takes the store some work and is asked for by every screen. */
export interface Standing {
  /** What needs someone, from the health of sources and the ledger of the last two weeks. */
  readonly attention: (now: number) => Promise<readonly Attention[]>;
  /** What each tier holds. */
  readonly contents: (now: number) => ReturnType<typeof tierContents>;
}

const standings = new WeakMap<OperationSetting, Standing>();

/** What stands for all who ask; at most some seconds old. */
export function standingOf(setting: OperationSetting): Standing {
  let standing = standings.get(setting);
  if (!standing) {
    const gathered = recent(freshFor, (now) => gather(setting, now));
    standing = {
      // Money is turned off at once.
      attention: async (now) => [
        ...(setting.disk.isFull ? [attentionFromDisk(setting.disk.free ?? 0, setting.disk.fullSince)] : []),
        ...clockAhead(setting, now),
        ...(await gathered(now)),
        ...attentionFromBudgets(await monthOfCosts(setting, now), now),
      ],
      contents: recent(freshFor, () => tierContents(setting.database)),
    };
    standings.set(setting, standing);
  }
  return standing;
}

function clockAhead({ clock }: OperationSetting, now: number): readonly Attention[] {
  const leap = clock.leapAt(now);
  return leap ? [attentionFromClock(leap.leapt, leap.heldUntil, now)] : [];
}

async function gather(setting: OperationSetting, now: number): Promise<readonly Attention[]> {
  const { database } = setting;
  const { plan } = setting.plan.current();
  const titleOf = (tier: string): string => plan.tiers.find(({ id }) => id === tier)?.title ?? tier;
  const [hours, aside, { views: caps }, series] = await Promise.all([
    sumLedger(database, { from: now - 14 * day, to: now + hour }, ['source', 'parsed'], hour),
    countQuarantine(database),
    capsOf(setting),
    metricSeries(database, plan, now),
  ]);
  const { followed, groups } = healthAnswer(setting.health, setting.senders, now);
  const silent = followed.flatMap(({ source, emitter, health: { state, reason, since } }) =>
    emitter === '' && state === 'silent' ? [{ source, reason, since: since ?? now }] : [],
  );
  return [
    ...attentionFromHealth(silent, groups),
    ...attentionFromQuarantine(aside),
    ...attentionFromCaps(caps, titleOf, now),
    ...attentionFromMetrics(
      (plan.metrics ?? []).flatMap((metric) => {
        const grown = series.get(metric.id)?.grown;
        return grown ? [{ id: metric.id, name: metric.name, limit: limitOf(metric), grown }] : [];
      }),
    ),
    ...attentionFromLedger(hours, now),
  ];
}
