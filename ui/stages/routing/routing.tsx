'use client';

import { arrayMove } from '@dnd-kit/sortable';
import { ArrowDown, ArrowUp } from 'lucide-react';
import Link from 'next/link';
import { useQueryState } from 'nuqs';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount, formatDuration, parseDuration } from '#core/events/units.ts';
import type { TierDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import type { Amount, PricedAmount } from '#core/routing/volume-sums.ts';
import type { CapView, ShadowsAnswer, SwitchedExclusionView, TierShadow, TierVolume } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { freeId, useDraft, withTier } from '../../data/draft.ts';
import { type MonthCosts, useMonthCosts } from '../../data/month-costs.ts';
import { useSwitches } from '../../data/switches.ts';
import { Button } from '../../kit/button.tsx';
import { Figure, FigurePending } from '../../kit/figure.tsx';
import { OrderedItem, OrderedList } from '../../kit/ordered-list.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Nothing, Problem } from '../../kit/section.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { RoutingStill } from '../../kit/still-pictures.tsx';
import { dayOf, percent } from '../../kit/times/times.ts';
import { CapLine, useCaps } from './cap.tsx';
import { ExclusionRow } from './exclusion-row.tsx';
import { PosturePanel } from './posture-panel.tsx';
import { Postures } from './postures.tsx';
import { StreamPiece } from './stream-piece.tsx';
import { TierPanel } from './tier-panel.tsx';

const noAmount: Amount = { events: 0, bytes: 0 };
const lastDay = { over: 'last 24 h', unit: 'bytes' };

/** Which events are worth keeping, where, how long? The stream falls past the tiers; each takes what it matches. */
export function Routing() {
  const { plan, live, draft, change } = useDraft();
  const { data, error } = useQuestion('routing', {}, 15_000);
  const costs = useMonthCosts('tier');
  const [open, setOpen] = useQueryState('tier');
  const [, setExclusion] = useQueryState('exclusion');
  const [openPosture, setPosture] = useQueryState('posture');
  const { exclusions: switched } = useSwitches();
  const { data: shadows } = useQuestion('shadows', { version: draft?.version ?? 0 }, 60_000);
  const caps = useCaps();
  const tier = plan?.tiers.find((candidate) => candidate.id === open);
  const posture = tier ? undefined : plan?.postures?.find(({ id }) => id === openPosture);
  const close = (): void => {
    void setOpen(null);
    void setExclusion(null);
    void setPosture(null);
  };
  const volumes = new Map(data?.tiers.map((volume) => [volume.id, volume]));
  const kept = data?.tiers.reduce((sum, volume) => sum + volume.kept.bytes, 0) ?? 0;
  const removed = data?.tiers.reduce((sum, volume) => sum + volume.removed.bytes, 0) ?? 0;
  const addTier = (): void => {
    let id = '';
    void change((before) => {
      id = freeId(
        'new-tier',
        before.tiers.map((other) => other.id),
      );
      return {
        ...before,
        tiers: [{ id, title: 'New tier', when: 'severity >= fatal', keep: '30d' }, ...before.tiers],
      };
    }).then(() => setOpen(id));
  };
  const move = (from: number, to: number): Promise<void> =>
    change((before) => ({ ...before, tiers: arrayMove([...before.tiers], from, to) }));
  /** What a tier took of the stream; what went past its cap to a tier further down counts there. */
  const takenBytes = (tier: TierDocument): number => {
    const volume = volumes.get(tier.id);
    const passesOn = typeof tier.cap?.over === 'object';
    return (volume?.kept.bytes ?? 0) + (volume?.removed.bytes ?? 0) + (passesOn ? 0 : (volume?.over.bytes ?? 0));
  };
  /** What is left of the stream when it comes to a tier, in bytes. */
  const left = (tier: TierDocument): number => {
    const above = plan?.tiers.slice(0, plan.tiers.indexOf(tier)) ?? [];
    return above.reduce((rest, other) => rest - takenBytes(other), data?.arrived.bytes ?? 0);
  };
  return (
    <WithPanel
      open={tier !== undefined || posture !== undefined}
      title={tier?.title ?? posture?.title ?? ''}
      onClose={close}
      panel={
        tier ? (
          <TierPanel key={tier.id} tier={tier} onClose={close} />
        ) : (
          posture && <PosturePanel key={posture.id} posture={posture} onClose={close} />
        )
      }
    >
      <Sentence>
        {data && plan && data.arrived.events === 0 ? (
          `No events in the last 24 h; ${plan.tiers.length === 1 ? 'one tier is' : `${plan.tiers.length} tiers are`} ready.`
        ) : data && plan ? (
          <>
            Of{' '}
            <Figure name="received" {...lastDay} value={data.arrived.bytes}>
              {formatBytes(data.arrived.bytes)}
            </Figure>{' '}
            in the last 24 h,{' '}
            <Figure name="kept bytes" {...lastDay} value={kept}>
              {formatBytes(kept)}
            </Figure>{' '}
            are kept in{' '}
            <Figure name="tiers" over="now" unit="tiers" value={plan.tiers.length}>
              {plan.tiers.length === 1 ? 'one tier' : `${plan.tiers.length} tiers`}
            </Figure>
            ,{' '}
            <Figure name="excluded bytes" {...lastDay} value={removed}>
              {formatBytes(removed)}
            </Figure>{' '}
            excluded, and{' '}
            <Figure name="passing bytes" {...lastDay} value={data.passing.bytes}>
              {formatBytes(data.passing.bytes)}
            </Figure>{' '}
            pass.
          </>
        ) : (
          <>
            Of <FigurePending /> in the last 24 h, <FigurePending /> are kept.
          </>
        )}
      </Sentence>
      {error && <Problem>{error.message}</Problem>}
      {data && data.arrived.events === 0 && (
        <Nothing title="Nothing to route yet." picture={<RoutingStill />}>
          <p className="mt-1 max-w-[560px]">
            What arrives falls past the tiers below, from top to bottom. Each takes what it matches and keeps it for its
            time, less what its exclusions leave out; beside each stands what that costs.
          </p>
          <p className="mt-3">
            <Link href="/sources?connect=1" className="text-mark underline">
              Connect a source
            </Link>
          </p>
        </Nothing>
      )}
      <div className="mt-4 flex items-center justify-between">
        <h2>The stream, top to bottom: each tier takes what it matches, the rest flows on · last 24 h</h2>
        <Button className="shrink-0" onClick={addTier}>
          Add tier
        </Button>
      </div>
      <OrderedList items={plan?.tiers ?? []} onMove={move} className="mt-2">
        {(candidate, index) => (
          <TierRow
            key={candidate.id}
            tier={candidate}
            volume={volumes.get(candidate.id)}
            before={left(candidate)}
            total={data?.arrived.bytes ?? 0}
            taken={takenBytes(candidate)}
            first={index === 0}
            last={index === (plan?.tiers.length ?? 0) - 1}
            live={live?.tiers.find((old) => old.id === candidate.id)}
            rehearsal={draft?.rehearsal ?? undefined}
            currency={data?.currency ?? undefined}
            capCurrency={caps?.currency ?? undefined}
            switched={switched.filter(({ tier: id }) => id === candidate.id)}
            shadow={shadowsOf(shadows, candidate.id)}
            titleOf={(id) => plan?.tiers.find((other) => other.id === id)?.title ?? id}
            costs={costs}
            cap={caps?.caps.find((view) => view.tier === candidate.id)}
            chosen={candidate.id === open}
            onOpen={() => void setOpen(candidate.id)}
            onEditExclusion={(id) => {
              void setOpen(candidate.id);
              void setExclusion(id);
            }}
            onMove={(by) => void move(index, index + by)}
            onChange={(edit) => void change((old) => withTier(old, candidate.id, edit))}
          />
        )}
      </OrderedList>
      <div className="border-b border-hair">
        {data && (
          <div className="grid grid-cols-[150px_1fr] border-t border-hair">
            <StreamPiece before={data.passing.bytes} taken={0} total={data.arrived.bytes} quiet />
            <div className="py-2.5 pl-3">
              <b className="text-[15px] font-[650]">Passing</b> <Keep text="1 h" />
              <p className="mt-1 text-[12.5px] text-second">
                {formatBytes(data.passing.bytes)} that no tier takes goes by, searchable for the hour, with what is
                excluded
                {data.rejected.events > 0 &&
                  `; ${formatCount(data.rejected.events)} events were rejected by steps and are held for a week`}
                .
              </p>
            </div>
          </div>
        )}
      </div>
      {plan && (
        <Postures
          documents={plan.postures ?? []}
          onOpen={(id) => {
            void setOpen(null);
            void setPosture(id);
          }}
        />
      )}
    </WithPanel>
  );
}

/** What a tier holds, since when, and what of it goes within a day. */
function Holdings({ volume: { holds, due } }: { readonly volume: TierVolume }) {
  if (!holds || holds.events === 0) return null;
  return (
    <p className="text-[12.5px] text-second">
      {formatCount(holds.events)} events · {formatBytes(holds.stored)} stored ({Math.round(holds.stored / holds.events)}{' '}
      B per event) · since {dayOf(holds.from)}
      {due.events > 0 && ` · ${formatCount(due.events)} expire in the next 24 h`}
    </p>
  );
}

/** The shadow of a tier in the plan that is shown, and beside it as it is live. */
function shadowsOf(answer: ShadowsAnswer | undefined, tier: string) {
  const of = (list: readonly TierShadow[] | null | undefined) => list?.find((shadow) => shadow.tier === tier);
  return { now: of(answer?.draft ?? answer?.live), live: answer?.draft ? of(answer.live) : undefined };
}

/** Least share of what a tier would match that is told when a tier above takes it. */
const leastShare = 0.005;

/** Which tiers above take how much of what this one would match; and how that was before the draft. */
function Shadow({
  now,
  live,
  titleOf,
}: {
  readonly now: TierShadow | undefined;
  readonly live: TierShadow | undefined;
  readonly titleOf: (tier: string) => string;
}) {
  if (!now) return null;
  const share = ({ matched }: TierShadow, bytes: number): number => (matched.bytes > 0 ? bytes / matched.bytes : 0);
  const before = new Map(live?.above.map(({ tier, bytes }) => [tier, share(live, bytes)]));
  const taken = now.above.map(({ tier, bytes }) => ({ tier, share: share(now, bytes) }));
  const left = 1 - taken.reduce((sum, one) => sum + one.share, 0);
  const gone = [...before.keys()].filter((tier) => !taken.some((one) => one.tier === tier));
  const all = [...taken, ...gone.map((tier) => ({ tier, share: 0 }))];
  const told = all.filter((one) => Math.max(one.share, before.get(one.tier) ?? 0) >= leastShare);
  if (now.matched.events === 0)
    return <p className="text-[12.5px] text-caution">▲ Its condition matches no event on the tape of the last 24 h.</p>;
  return (
    <>
      {told.length > 0 && (
        <p className="text-[12.5px] text-second">
          {told
            .map((one) => {
              const old = before.get(one.tier) ?? 0;
              const taker = `${titleOf(one.tier)}, above`;
              return live && Math.abs(old - one.share) >= leastShare
                ? `${percent(one.share)} of matching events would be taken by ${taker} (${percent(old)} now)`
                : `${percent(one.share)} of matching events are taken by ${taker}`;
            })
            .join('; ')}
        </p>
      )}
      {left < 0.0005 && taken.length > 0 && (
        <p className="text-[12.5px] font-semibold text-caution">
          ▲ No events reach this tier: those above take all of them.
        </p>
      )}
    </>
  );
}

function Keep({ text }: { readonly text: string }) {
  const duration = parseDuration(text);
  return (
    <span className="ml-2 rounded bg-land px-2 py-0.5 text-[12.5px]">
      {duration === undefined ? text : formatDuration(duration / 1000).replace(/ d$/, ' days')}
    </span>
  );
}

/** What a tier did in the last 24 hours, in words. */
function dayOfTier(volume: TierVolume | undefined): string {
  if (!volume) return 'loading …';
  const { kept, removed, over } = volume;
  if (kept.events + removed.events + over.events === 0) return 'no events in the last 24 h';
  const parts = [
    `${formatBytes(kept.bytes)} kept`,
    ...(removed.bytes > 0 ? [`${formatBytes(removed.bytes)} excluded`] : []),
    ...(over.bytes > 0 ? [`${formatBytes(over.bytes)} past its cap`] : []),
  ];
  return `${parts.join(', ')} in the last 24 h`;
}

/** What a tier cost this month so far; nothing without prices. */
function TierCost({ tier, costs }: { readonly tier: string; readonly costs: MonthCosts | undefined }) {
  const coins = costs?.coinsOf(tier);
  if (!costs || coins === undefined) return null;
  return (
    <p className="text-[12.5px] text-second">costs {formatCoins(coins, costs.currency, true)} this month so far</p>
  );
}

/** What a rule takes away in a rehearsal of the draft, with the coins that this saves in a month. */
function rehearsedRule(rehearsal: RehearsalAnswer | undefined, rule: string): PricedAmount | undefined {
  const found = rehearsal?.rules.find(({ id }) => id === rule)?.draft;
  return found && { ...found, coins: rehearsal?.money?.rules.find(({ id }) => id === rule)?.draft ?? 0 };
}

function TierRow(props: {
  readonly tier: TierDocument;
  readonly volume: TierVolume | undefined;
  readonly before: number;
  readonly taken: number;
  readonly total: number;
  readonly first: boolean;
  readonly last: boolean;
  /** The tier as it is live. */
  readonly live: TierDocument | undefined;
  /** The rehearsal of the draft. */
  readonly rehearsal: RehearsalAnswer | undefined;
  /** Of the money of exclusions; undefined where nothing has a price. */
  readonly currency: Currency | undefined;
  readonly capCurrency: Currency | undefined;
  readonly shadow: { readonly now: TierShadow | undefined; readonly live: TierShadow | undefined };
  readonly titleOf: (tier: string) => string;
  /** Exclusions of it that keep something else for a while. */
  readonly switched: readonly SwitchedExclusionView[];
  /** How its cap stands, where it has one. */
  readonly cap: CapView | undefined;
  readonly costs: MonthCosts | undefined;
  readonly chosen: boolean;
  readonly onOpen: () => void;
  readonly onEditExclusion: (id: string) => void;
  readonly onMove: (by: number) => void;
  readonly onChange: (edit: (tier: TierDocument) => TierDocument) => void;
}) {
  const { tier, volume, total } = props;
  const kept = volume?.kept ?? noAmount;
  const removed = volume?.removed ?? noAmount;
  const scale = (bytes: number): string => `${total > 0 ? (100 * bytes) / total : 0}%`;
  return (
    <OrderedItem
      id={tier.id}
      title={tier.title}
      className={`grid grid-cols-[150px_1fr] border-t border-hair ${props.chosen ? 'bg-land/50' : ''}`}
    >
      {(grip) => (
        <>
          <StreamPiece before={props.before} taken={props.taken} total={total} />
          <div id={tier.id} className="@container min-w-0 py-2.5 pl-3">
            <div className="flex flex-wrap items-start gap-x-4 @max-[620px]:gap-y-1.5">
              <div className="w-[250px] shrink-0 @max-[620px]:flex-1">
                <button
                  type="button"
                  onClick={props.onOpen}
                  className="text-left text-[15px] font-[650] hover:text-mark"
                >
                  {tier.title}
                </button>{' '}
                <Keep text={tier.keep} />
                <p className="line mt-0.5 break-words text-second">{tier.when || 'all remaining events'}</p>
              </div>
              <div className="min-w-0 flex-1 @max-[620px]:order-last @max-[620px]:basis-full">
                <div className="flex h-[17px]" aria-hidden="true">
                  <span className="bg-d5" style={{ width: scale(kept.bytes) }} />
                  {removed.bytes > 0 && (
                    <span
                      className="bg-[repeating-linear-gradient(45deg,var(--sand)_0_1px,transparent_1px_6px)] outline outline-hair"
                      style={{ width: scale(removed.bytes) }}
                    />
                  )}
                </div>
                <p className="mt-0.5 text-[12.5px] text-second">
                  {!props.live ? (
                    'not live yet: rehearse to see its volume'
                  ) : (
                    <>
                      {dayOfTier(volume)}
                      {volume && total > 0 && ` · ${percent((kept.bytes + removed.bytes) / total)} of the stream`}
                    </>
                  )}
                </p>
                {volume && <Holdings volume={volume} />}
                {props.live && <TierCost tier={tier.id} costs={props.costs} />}
                {props.cap && <CapLine view={props.cap} currency={props.capCurrency} />}
                {tier.cap && !props.live?.cap && (
                  <p className="text-[12.5px] text-second">its cap of {tier.cap.day} a day is not live yet</p>
                )}
                <Shadow {...props.shadow} titleOf={props.titleOf} />
              </div>
              <div className="flex shrink-0 items-center gap-0.5">
                {grip}
                <Button
                  look="quiet"
                  aria-label={`Move ${tier.title} up`}
                  disabled={props.first}
                  onClick={() => props.onMove(-1)}
                >
                  <ArrowUp size={15} aria-hidden="true" />
                </Button>
                <Button
                  look="quiet"
                  aria-label={`Move ${tier.title} down`}
                  disabled={props.last}
                  onClick={() => props.onMove(1)}
                >
                  <ArrowDown size={15} aria-hidden="true" />
                </Button>
                <Button look="quiet" onClick={props.onOpen}>
                  Edit
                </Button>
              </div>
            </div>
            {(tier.exclusions ?? []).map((exclusion) => (
              <ExclusionRow
                key={exclusion.id}
                exclusion={exclusion}
                measured={
                  props.live?.exclusions?.some((old) => old.id === exclusion.id && old.when === exclusion.when)
                    ? volume?.exclusions.find(({ id }) => id === exclusion.id)
                    : undefined
                }
                isLive={
                  props.live?.exclusions?.some((old) => JSON.stringify(old) === JSON.stringify(exclusion)) ?? false
                }
                switched={props.switched.find((one) => one.exclusion === exclusion.id)}
                tier={tier.id}
                rehearsed={rehearsedRule(props.rehearsal, `${tier.id}/${exclusion.id}`)}
                currency={props.currency}
                onEdit={() => props.onEditExclusion(exclusion.id)}
                onChange={(next) =>
                  props.onChange((old) => ({
                    ...old,
                    exclusions: (old.exclusions ?? []).flatMap((other) =>
                      other.id !== exclusion.id ? [other] : next ? [next] : [],
                    ),
                  }))
                }
              />
            ))}
          </div>
        </>
      )}
    </OrderedItem>
  );
}
