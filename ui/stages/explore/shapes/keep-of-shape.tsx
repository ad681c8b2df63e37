'use client';

import { useState } from 'react';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { daysOfMonth } from '#core/costs/retention/lifetime.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { isSampleSize, keptOneIn } from '#core/routing/kept-share.ts';
import type { ShapeAnswer, ShapeFate } from '../../../data/answers.ts';
import { useDraft } from '../../../data/draft.ts';
import { shapeExclusion, withShapeExclusion } from '../../../data/shape-exclusion.ts';
import { Button } from '../../../kit/button.tsx';
import { Section } from '../../../kit/section.tsx';
import { Select } from '../../../kit/select.tsx';
import type { ShareMode } from '../../../kit/share-choice.tsx';
import { modeOf, ShareChoice } from '../../../kit/share-choice.tsx';

/** The decision how much of a shape a tier keeps, with what that saves, which goes into the draft. */
export function KeepOfShape({ answer: { shape, days, currency } }: { readonly answer: ShapeAnswer }) {
  const { plan, change } = useDraft();
  const fates = keptFates(shape.fates, plan);
  const [chosen, setChosen] = useState('');
  const fate = fates.find(({ tier }) => tier === chosen) ?? fates[0];
  const tier = plan?.tiers.find(({ id }) => id === fate?.tier);
  const now = tier && shapeExclusion(plan, tier.id, shape.id);
  const oneIn = now ? (keptOneIn(now.keep) ?? 1) : 1;
  const [mode, setMode] = useState<ShareMode | undefined>();
  const [n, setN] = useState(oneIn > 1 ? oneIn : 10);
  if (!fate || !tier)
    return (
      <Section title="How much to keep">
        <p className="text-[12.5px] text-second">No tier keeps these lines, so there is nothing to save.</p>
      </Section>
    );
  const current: ShareMode = mode ?? modeOf(oneIn);
  const keep = current === 'sample' ? `1 in ${n}` : current;
  const saved = current === 'none' ? 1 : current === 'all' ? 0 : 1 - 1 / n;
  const isWrong = current === 'sample' && !isSampleSize(n);
  const isSame = now ? now.keep === keep : keep === 'all';
  const put = (): Promise<void> => change((before) => withShapeExclusion(before, tier.id, shape, keep));
  const spread = current === 'sample' ? marginOf(fate, n, days) : 0;
  return (
    <Section title={`Keep of these lines, in “${tier.title}”`}>
      {fates.length > 1 && <TierChoice fates={fates} tier={tier.id} plan={plan} onChoose={setChosen} />}
      <div className="flex items-center gap-3">
        <ShareChoice
          label="How much of these lines to keep"
          mode={current}
          oneIn={n}
          n={n}
          isWrong={isWrong}
          onMode={setMode}
          onN={setN}
        />
      </div>
      <SavedSentence fate={fate} share={saved} days={days} spread={spread} currency={currency} />
      <p className="mt-0.5 text-[12.5px] text-second">
        {saved > 0 &&
          (current === 'none'
            ? 'They stay in the passing tier for one hour.'
            : 'Each kept line counts for all that it stands for.')}
      </p>
      <div className="mt-2.5 flex items-center gap-3">
        <Button look="main" disabled={isSame || isWrong} onClick={() => void put()}>
          Add to draft
        </Button>
        {isSame && current !== 'all' && <span className="text-[12.5px] text-second">This is in the plan.</span>}
      </div>
    </Section>
  );
}

/** Which of the tiers that keep the lines is meant. */
function TierChoice(props: {
  readonly fates: readonly ShapeFate[];
  readonly tier: string;
  readonly plan: PlanDocument | undefined;
  readonly onChoose: (tier: string) => void;
}) {
  const { fates, tier, plan, onChoose } = props;
  const titleOf = (id: string): string => plan?.tiers.find((other) => other.id === id)?.title ?? id;
  return (
    <div className="mb-2">
      <Select
        label="Tier"
        value={tier}
        onChange={onChoose}
        options={fates.map(({ tier: id }) => ({ value: id, title: titleOf(id) }))}
      />
    </div>
  );
}

/** What is kept of the lines a day, or what is saved. */
function SavedSentence(props: {
  readonly fate: ShapeFate;
  /** The share that is not kept, 0 to 1. */
  readonly share: number;
  readonly days: number;
  /** The margin of a sample, in bytes. */
  readonly spread: number;
  readonly currency: Currency | null;
}) {
  const { fate, share, days, spread, currency } = props;
  return (
    <p role="status" className="mt-2.5 text-[16px] leading-[22px]">
      {share === 0 ? (
        <>
          keeps <b className="font-[680]">{formatBytes(fate.bytes / days)}</b> a day, {formatCount(fate.events / days)}{' '}
          events
        </>
      ) : (
        <>
          saves{' '}
          <b className="font-[680]">
            {formatBytes((fate.bytes * share) / days)}
            {spread > 0 && ` ± ${formatBytes(spread)}`}
          </b>{' '}
          a day, {formatCount((fate.events * share) / days)} events
          {currency && `; ${formatCoins(Math.round((fate.saves * share * daysOfMonth) / days), currency)} per 30 days`}
        </>
      )}
    </p>
  );
}

/** Where the shape's events are kept, as far as the plan has the tier, the largest first. */
function keptFates(fates: readonly ShapeFate[], plan: PlanDocument | undefined): readonly ShapeFate[] {
  const taken = new Map<string, ShapeFate>();
  for (const fate of fates) {
    if (fate.tier === '' || fate.outcome === 'expired' || !plan?.tiers.some(({ id }) => id === fate.tier)) continue;
    const known = taken.get(fate.tier);
    taken.set(fate.tier, {
      ...fate,
      events: fate.events + (known?.events ?? 0),
      bytes: fate.bytes + (known?.bytes ?? 0),
      saves: fate.saves + (known?.saves ?? 0),
    });
  }
  return [...taken.values()].sort((a, b) => b.bytes - a.bytes);
}

/** The margin of a day's kept bytes where each event is kept by chance: two standard deviations of a binomial count. */
function marginOf({ events, bytes }: ShapeFate, n: number, days: number): number {
  const aDay = events / days;
  return aDay > 0 ? 2 * Math.sqrt(aDay * (1 / n) * (1 - 1 / n)) * (bytes / events) : 0;
}
