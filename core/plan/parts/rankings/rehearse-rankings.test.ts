import { expect, test } from 'vitest';
import { answerOf } from '../../../rehearsal/answer-of.ts';
import { mergeRehearsal, newRehearsal, rehearseBatch } from '../../../rehearsal/rehearse.ts';
import { arrival, batchOf } from '../../../testing/batch-of.ts';
import { compilePlan } from '../../compile.ts';
import type { PlanDocument } from '../../document.ts';
import type { RankingDocument } from './rankings-shape.ts';
import { isRankedAlike } from './rehearse-rankings.ts';

const fares: RankingDocument = { id: 'fares', title: 'Fares', when: '', by: ['port'], measure: 'sum', of: 'fare' };
const piers: RankingDocument = { id: 'piers', title: 'Piers', when: '', by: ['pier'], measure: 'events' };

function planOf(rankings: readonly RankingDocument[], steps: PlanDocument['pipelines'][number]['steps'] = []) {
  return compilePlan({
    plan: 1,
    pipelines: [{ id: 'p', title: 'P', when: '', steps }],
    tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }],
    rankings,
  });
}

const events = Array.from({ length: 40 }, (_, i) => ({ fare: i % 4, port: `port ${i % 4}`, pier: `pier ${i % 3}` }));

function rehearsed(plans: { readonly live: ReturnType<typeof planOf>; readonly draft: ReturnType<typeof planOf> }) {
  const whole = newRehearsal();
  for (const part of [events.slice(0, 15), events.slice(15)]) {
    const rehearsal = newRehearsal();
    const batch = batchOf(part, 'fares');
    rehearseBatch(rehearsal, { ...plans, now: arrival }, { ...batch, weight: batch.weight.map(() => 3) });
    mergeRehearsal(whole, rehearsal);
  }
  return answerOf(whole, { from: arrival - 86_400_000, to: arrival }, 0).rankings ?? [];
}

test('a rehearsal tells which rankings a draft changes, and by how much', () => {
  const rankings = rehearsed({
    live: planOf([fares]),
    draft: planOf([{ ...fares, when: 'port != "port 3"' }, piers]),
  });
  const changed = rankings.filter((ranking) => !isRankedAlike(ranking));
  expect(changed).toEqual([
    {
      ...{ id: 'fares', title: 'Fares' },
      live: {
        ...{ by: ['port'], measure: 'sum', of: 'fare', total: 3 * 60, distinct: 3 },
        first: { labels: ['port 3'], amount: 3 * 30 },
      },
      draft: {
        ...{ by: ['port'], measure: 'sum', of: 'fare', total: 3 * 30, distinct: 2 },
        first: { labels: ['port 2'], amount: 3 * 20 },
      },
    },
    {
      ...{ id: 'piers', title: 'Piers', live: null },
      draft: {
        ...{ by: ['pier'], measure: 'events', of: '', total: 120, distinct: 3 },
        first: { labels: ['pier 0'], amount: 3 * 14 },
      },
    },
  ]);
  // Those that are kept anyway are rehearsed too.
  expect(rankings.map(({ id }) => id)).toContain('sources');
});

test('a draft that renames the key of a ranking leaves it without anyone to tell apart', () => {
  const [ranking] = rehearsed({
    live: planOf([fares]),
    draft: planOf([fares], [{ rename: { from: 'port', to: 'harbour' } }]),
  }).filter(({ id }) => id === 'fares');
  expect(ranking?.draft).toMatchObject({ total: 180, distinct: 1, first: { labels: [null], amount: 180 } });
  expect(ranking && isRankedAlike(ranking)).toBe(false);
});

test('a ranking that ranks something else counts as another one', () => {
  const [ranking] = rehearsed({ live: planOf([fares]), draft: planOf([{ ...fares, by: ['port', 'pier'] }]) }).filter(
    ({ id }) => id === 'fares',
  );
  expect(ranking?.live?.total).toBe(ranking?.draft?.total);
  expect(ranking && isRankedAlike(ranking)).toBe(false);
});
