import type { ShadowsAnswer, TierShadow } from '../../data/answers.ts';
import { percent } from '../../kit/times/times.ts';

/** What tiers above a tier take of what it would match: now, and as it is live where the draft changes it. */
export interface ShadowOfTier {
  readonly now: TierShadow | undefined;
  readonly live: TierShadow | undefined;
}

/** The shadow of a tier in the plan that is shown, and beside it as it is live. */
export function shadowsOf(answer: ShadowsAnswer | undefined, tier: string): ShadowOfTier {
  const of = (list: readonly TierShadow[] | null | undefined) => list?.find((shadow) => shadow.tier === tier);
  return { now: of(answer?.draft ?? answer?.live), live: answer?.draft ? of(answer.live) : undefined };
}

/** Least share of what a tier would match that is mentioned when a tier above takes it. */
const leastShare = 0.005;

/** Which tiers above take how much of what this one would match; and how that was before the draft. */
export function Shadow({ now, live, titleOf }: ShadowOfTier & { readonly titleOf: (tier: string) => string }) {
  if (!now) return null;
  const share = ({ matched }: TierShadow, bytes: number): number => (matched.bytes > 0 ? bytes / matched.bytes : 0);
  const before = new Map(live?.above.map(({ tier, bytes }) => [tier, share(live, bytes)]));
  const taken = now.above.map(({ tier, bytes }) => ({ tier, share: share(now, bytes) }));
  const left = 1 - taken.reduce((sum, one) => sum + one.share, 0);
  const gone = [...before.keys()].filter((tier) => !taken.some((one) => one.tier === tier));
  const all = [...taken, ...gone.map((tier) => ({ tier, share: 0 }))];
  const shown = all.filter((one) => Math.max(one.share, before.get(one.tier) ?? 0) >= leastShare);
  if (now.matched.events === 0)
    return <p className="text-[12.5px] text-caution">▲ Its condition matches no event on the tape of the last 24 h.</p>;
  return (
    <>
      {shown.length > 0 && (
        <p className="text-[12.5px] text-second">
          {shown
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
