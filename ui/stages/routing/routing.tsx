'use client';

import type { TierDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import { useQuestion } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { useMonthCosts } from '../../data/month-costs.ts';
import { useSwitches } from '../../data/switches.ts';
import { Button } from '../../kit/button.tsx';
import { OrderedList } from '../../kit/ordered-list.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Problem } from '../../kit/section.tsx';
import { useCaps } from './cap.tsx';
import { PosturePanel } from './posture-panel.tsx';
import { Postures } from './postures.tsx';
import { RoutingSentence } from './routing-sentence.tsx';
import { NoStream, PassingRow } from './stream-ends.tsx';
import { TierPanel } from './tier-panel.tsx';
import { TierRow } from './tier-row.tsx';
import { shadowsOf } from './tier-shadow.tsx';
import { type RoutingState, useRouting } from './use-routing.ts';

/** Which events are worth keeping, where, how long? The stream falls past the tiers; each takes what it matches. */
export function Routing() {
  const state = useRouting();
  const { plan, data, tier, posture, close } = state;
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
      <RoutingSentence data={data} plan={plan} />
      {state.failed !== undefined && <Problem>{state.failed}</Problem>}
      {data && data.arrived.events === 0 && <NoStream />}
      <div className="mt-4 flex items-center justify-between">
        <h2>The stream, top to bottom: each tier takes what it matches, the rest flows on · last 24 h</h2>
        <Button className="shrink-0" onClick={state.addTier}>
          Add tier
        </Button>
      </div>
      <Stream state={state} />
      <div className="border-b border-hair">{data && <PassingRow data={data} />}</div>
      {plan && <Postures documents={plan.postures ?? []} onOpen={state.openPosture} />}
    </WithPanel>
  );
}

/** The tiers, in the order in which the stream passes them. */
function Stream({ state }: { readonly state: RoutingState }) {
  const { plan, data, move } = state;
  const { live, draft } = useDraft();
  const costs = useMonthCosts('tier');
  const { exclusions: switched } = useSwitches();
  const { data: shadows } = useQuestion('shadows', { version: draft?.version ?? 0 }, 60_000);
  const caps = useCaps();
  const tiers = plan?.tiers ?? [];
  const titleOf = (id: string): string => tiers.find((other) => other.id === id)?.title ?? id;
  const row = (tier: TierDocument, index: number) => (
    <TierRow
      key={tier.id}
      tier={tier}
      volume={state.volumeOf(tier.id)}
      before={state.leftBefore(tier)}
      total={data?.arrived.bytes ?? 0}
      taken={state.takenBy(tier)}
      first={index === 0}
      last={index === tiers.length - 1}
      live={live?.tiers.find((old) => old.id === tier.id)}
      rehearsal={draft?.rehearsal ?? undefined}
      currency={data?.currency ?? undefined}
      capCurrency={caps?.currency ?? undefined}
      switched={switched.filter(({ tier: id }) => id === tier.id)}
      shadow={shadowsOf(shadows, tier.id)}
      titleOf={titleOf}
      costs={costs}
      cap={caps?.caps.find((view) => view.tier === tier.id)}
      chosen={tier.id === state.tier?.id}
      onOpen={() => state.openTier(tier.id)}
      onEditExclusion={(id) => state.openTier(tier.id, id)}
      onMove={(by) => void move(index, index + by)}
      onChange={(edit) => state.changeTier(tier.id, edit)}
    />
  );
  return (
    <OrderedList items={tiers} onMove={move} className="mt-2">
      {row}
    </OrderedList>
  );
}
