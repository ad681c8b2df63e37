'use client';

import { useState } from 'react';
import { formatCoins } from '#core/costs/format-coins.ts';
import { daysOfMonth } from '#core/costs/retention/lifetime.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { isSampleSize, keptOneIn } from '#core/routing/kept-share.ts';
import type { ShapeAnswer, ShapeFate } from '../../../data/answers.ts';
import { useDraft } from '../../../data/draft.ts';
import { shapeExclusion, withShapeExclusion } from '../../../data/shape-exclusion.ts';
import { Button } from '../../../kit/button.tsx';
import { Choice } from '../../../kit/choice.tsx';
import { Section } from '../../../kit/section.tsx';
import { Select } from '../../../kit/select.tsx';

type Mode = 'none' | 'sample' | 'all';

/** The decision how much of a shape a tier keeps, with what that saves, which goes into the draft. */
export function KeepOfShape({ answer: { shape, days, currency } }: { readonly answer: ShapeAnswer }) {
  const { plan, change } = useDraft();
  const fates = keptFates(shape.fates, plan);
  const [chosen, setChosen] = useState('');
  const fate = fates.find(({ tier }) => tier === chosen) ?? fates[0];
  const tier = plan?.tiers.find(({ id }) => id === fate?.tier);
  const now = tier && shapeExclusion(plan, tier.id, shape.id);
  const oneIn = now ? (keptOneIn(now.keep) ?? 1) : 1;
  const [mode, setMode] = useState<Mode | undefined>();
  const [n, setN] = useState(oneIn > 1 ? oneIn : 10);
  if (!fate || !tier)
    return (
      <Section title="How much to keep">
        <p className="text-[12.5px] text-second">No tier keeps these lines, so there is nothing to save.</p>
      </Section>
    );
  const current: Mode = mode ?? (oneIn === 0 ? 'none' : oneIn === 1 ? 'all' : 'sample');
  const keep = current === 'sample' ? `1 in ${n}` : current;
  const saved = current === 'none' ? 1 : current === 'all' ? 0 : 1 - 1 / n;
  const isWrong = current === 'sample' && !isSampleSize(n);
  const isSame = now ? now.keep === keep : keep === 'all';
  const put = (): Promise<void> => change((before) => withShapeExclusion(before, tier.id, shape, keep));
  const spread = current === 'sample' ? marginOf(fate, n, days) : 0;
  return (
    <Section title={`Keep of these lines, in “${tier.title}”`}>
      {fates.length > 1 && (
        <div className="mb-2">
          <Select
            label="Tier"
            value={tier.id}
            onChange={setChosen}
            options={fates.map(({ tier: id }) => ({
              value: id,
              title: plan?.tiers.find((other) => other.id === id)?.title ?? id,
            }))}
          />
        </div>
      )}
      <div className="flex items-center gap-3">
        <Choice
          marked
          label="How much of these lines to keep"
          value={current}
          onChange={setMode}
          options={[
            { value: 'none', title: 'none' },
            { value: 'sample', title: current === 'sample' ? `1 in ${n}` : '1 in n' },
            { value: 'all', title: 'all' },
          ]}
        />
        {current === 'sample' && (
          <label className="text-[12.5px]">
            n{' '}
            <input
              type="number"
              min={2}
              aria-invalid={isWrong}
              value={n}
              onChange={(event) => setN(Number(event.target.value))}
              className="w-20 rounded border border-hair bg-sheet px-1"
            />
          </label>
        )}
      </div>
      <p role="status" className="mt-2.5 text-[16px] leading-[22px]">
        {saved === 0 ? (
          <>
            keeps <b className="font-[680]">{formatBytes(fate.bytes / days)}</b> a day,{' '}
            {formatCount(fate.events / days)} events
          </>
        ) : (
          <>
            saves{' '}
            <b className="font-[680]">
              {formatBytes((fate.bytes * saved) / days)}
              {spread > 0 && ` ± ${formatBytes(spread)}`}
            </b>{' '}
            a day, {formatCount((fate.events * saved) / days)} events
            {currency &&
              `; ${formatCoins(Math.round((fate.saves * saved * daysOfMonth) / days), currency)} per 30 days`}
          </>
        )}
      </p>
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
