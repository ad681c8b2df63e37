import fc from 'fast-check';
import { expect, test } from 'vitest';
import { answerOf } from '../../../rehearsal/answer-of.ts';
import { mergeRehearsal, newRehearsal, rehearseBatch } from '../../../rehearsal/rehearse.ts';
import { keptMoreWith } from '../../../routing/kept-more-with.ts';
import { type RoutedBatch, seededRandom } from '../../../routing/route.ts';
import { arrival, batchOf } from '../../../testing/batch-of.ts';
import { compilePlan } from '../../compile.ts';
import type { PlanDocument } from '../../document.ts';
import { withPosture } from '../../postures.ts';
import type { PostureDocument } from './postures-shape.ts';
import { addsAlike } from './rehearse-postures.ts';

const storm: PostureDocument = { id: 'storm', title: 'Storm watch', overrides: [{ exclusion: '*', keep: 'all' }] };
const longer: PostureDocument = { id: 'longer', title: 'Longer', overrides: [{ tier: 'rest', keep: '90d' }] };

const events = Array.from({ length: 40 }, (_, n) => ({ n, kind: n % 4 === 0 ? 'probe' : 'sale' }));

type Exclusions = NonNullable<PlanDocument['tiers'][number]['exclusions']>;

function planOf(postures: readonly PostureDocument[], exclusions: Exclusions): PlanDocument {
  return { plan: 1, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '7d', exclusions }], postures };
}

function rehearsed(live: PlanDocument, draft: PlanDocument) {
  const whole = newRehearsal();
  for (const part of [events.slice(0, 15), events.slice(15)]) {
    const rehearsal = newRehearsal();
    const batch = batchOf(part, 'wharf');
    const plans = { live: compilePlan(live), draft: compilePlan(draft), now: arrival };
    rehearseBatch(rehearsal, plans, { ...batch, weight: batch.weight.map(() => 6) });
    mergeRehearsal(whole, rehearsal);
  }
  return answerOf(whole, { from: arrival - 2 * 3_600_000, to: arrival }, 0).postures ?? [];
}

test('a rehearsal says what postures would keep more in an hour with both plans', () => {
  const probes: Exclusions = [{ id: 'probes', title: 'Probes', when: 'kind = probe', keep: 'none' }];
  const found = rehearsed(
    planOf([storm, longer], probes),
    planOf([storm, { ...storm, id: 'other', title: 'Other' }], []),
  );
  // Ten of the events, each six times, in two hours.
  const bytes = events.filter(({ kind }) => kind === 'probe').reduce((sum, one) => sum + JSON.stringify(one).length, 0);
  expect(found).toEqual([
    { id: 'storm', title: 'Storm watch', live: { events: 30, bytes: bytes * 3 }, draft: { events: 0, bytes: 0 } },
    { id: 'other', title: 'Other', live: null, draft: { events: 0, bytes: 0 } },
    { id: 'longer', title: 'Longer', live: { events: 0, bytes: 0 }, draft: null },
  ]);
  expect(found.filter((posture) => !addsAlike(posture)).map(({ id }) => id)).toEqual(['storm']);
});

test('what a posture keeps more is what the plan keeps more while it is on, whatever is excluded', () => {
  const exclusions = fc.array(
    fc.record({
      when: fc.constantFrom('kind = probe', 'n < 9', 'n in (1, 4, 30)', 'source = wharf'),
      keep: fc.constantFrom('none', 'all', '1 in 3'),
    }),
    { maxLength: 4 },
  );
  const override = fc.record({
    exclusion: fc.constantFrom('*', 'rest/*'),
    keep: fc.constantFrom('none', 'all', '1 in 2', '1 in 6'),
  });
  const fleet = fc.constantFrom('', 'quays', 'nobody');
  const batch = batchOf(events, 'wharf');
  const context = () => ({ now: arrival, random: seededRandom(3), fleets: ['quays'] });
  const kept = ({ arrived, fates, fateOf }: RoutedBatch): number =>
    fateOf.reduce((sum, fate, row) => sum + (fates[fate]?.outcome === 'kept' ? (arrived.size[row] as number) : 0), 0);
  fc.assert(
    fc.property(exclusions, override, fleet, (list, one, of) => {
      const posture = { ...storm, fleet: of, overrides: [one] };
      // By the number, so that chance has no part in it.
      const named = list.map((exclusion, i) => ({ id: `x${i}`, title: `X${i}`, by: 'n', ...exclusion }));
      const plan = planOf([posture], named);
      const off = compilePlan(plan);
      const routed = off.run(batch, context());
      const on = compilePlan(withPosture(plan, posture)).run(batch, context());
      const more = off
        .postures()
        .flatMap(({ tiers }) => tiers.map((tier) => keptMoreWith(tier, routed, context()).bytes));
      expect(more.reduce((sum, bytes) => sum + bytes, 0)).toBe(kept(on) - kept(routed));
    }),
  );
});
