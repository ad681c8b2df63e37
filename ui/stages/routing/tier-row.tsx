import { ArrowDown, ArrowUp } from 'lucide-react';
import type { ReactNode } from 'react';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { ExclusionDocument, TierDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import type { Amount, PricedAmount } from '#core/routing/volume-sums.ts';
import type { CapView, SwitchedExclusionView, TierVolume } from '../../data/answers.ts';
import type { MonthCosts } from '../../data/month-costs.ts';
import { Button } from '../../kit/button.tsx';
import { OrderedItem } from '../../kit/ordered-list.tsx';
import { dayOf, percent } from '../../kit/times/times.ts';
import { CapLine } from './cap.tsx';
import { ExclusionRow } from './exclusion-row.tsx';
import { KeepInWords } from './keep-in-words.tsx';
import { StreamPiece } from './stream-piece.tsx';
import { Shadow, type ShadowOfTier } from './tier-shadow.tsx';

const noAmount: Amount = { events: 0, bytes: 0 };

interface TierRowProps {
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
  readonly shadow: ShadowOfTier;
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
}

/** A tier in the stream: what it matches, what it took of the last 24 hours, and its exclusions. */
export function TierRow(props: TierRowProps) {
  const { tier, before, taken, total } = props;
  return (
    <OrderedItem
      id={tier.id}
      title={tier.title}
      className={`grid grid-cols-[150px_1fr] border-t border-hair ${props.chosen ? 'bg-land/50' : ''}`}
    >
      {(grip) => (
        <>
          <StreamPiece before={before} taken={taken} total={total} />
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
                <KeepInWords text={tier.keep} />
                <p className="line mt-0.5 break-words text-second">{tier.when || 'all remaining events'}</p>
              </div>
              <DayOfTier {...props} />
              <TierActions {...props} grip={grip} />
            </div>
            {(tier.exclusions ?? []).map((exclusion) => (
              <ExclusionOfTier key={exclusion.id} {...props} exclusion={exclusion} />
            ))}
          </div>
        </>
      )}
    </OrderedItem>
  );
}

/** What a tier did in the last 24 hours, as a bar and in words, and what it holds and costs. */
function DayOfTier(props: TierRowProps) {
  const { tier, volume, total } = props;
  const kept = volume?.kept ?? noAmount;
  const removed = volume?.removed ?? noAmount;
  const scale = (bytes: number): string => `${total > 0 ? (100 * bytes) / total : 0}%`;
  return (
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
            {dayInWords(volume)}
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
  );
}

/** Moves a tier up and down, and opens its form. */
function TierActions(props: TierRowProps & { readonly grip: ReactNode }) {
  const { tier, grip, onMove } = props;
  return (
    <div className="flex shrink-0 items-center gap-0.5">
      {grip}
      <Button look="quiet" aria-label={`Move ${tier.title} up`} disabled={props.first} onClick={() => onMove(-1)}>
        <ArrowUp size={15} aria-hidden="true" />
      </Button>
      <Button look="quiet" aria-label={`Move ${tier.title} down`} disabled={props.last} onClick={() => onMove(1)}>
        <ArrowDown size={15} aria-hidden="true" />
      </Button>
      <Button look="quiet" onClick={props.onOpen}>
        Edit
      </Button>
    </div>
  );
}

/** An exclusion with what it removed, as far as it is live as it is shown. */
function ExclusionOfTier(props: TierRowProps & { readonly exclusion: ExclusionDocument }) {
  const { tier, exclusion, live, volume } = props;
  const isMeasured = live?.exclusions?.some((old) => old.id === exclusion.id && old.when === exclusion.when);
  return (
    <ExclusionRow
      exclusion={exclusion}
      measured={isMeasured ? volume?.exclusions.find(({ id }) => id === exclusion.id) : undefined}
      isLive={live?.exclusions?.some((old) => JSON.stringify(old) === JSON.stringify(exclusion)) ?? false}
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

/** What a tier did in the last 24 hours, in words. */
function dayInWords(volume: TierVolume | undefined): string {
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
