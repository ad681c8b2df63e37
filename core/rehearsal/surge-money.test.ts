import { expect, test } from 'vitest';
import type { BudgetView } from '../costs/month/cost-month.ts';
import type { Move } from './moves.ts';
import { surgeMoney } from './surge-money.ts';
import type { Place } from './transitions.ts';

const kept: Place = ['kept', 'rest', '', true];
const audited: Place = ['kept', 'audit', '', true];
const excluded: Place = ['excluded', 'rest', 'x', true];

/** A hundred bytes of a source, of which a surge adds a number in the second slot. */
function moveOf(source: string, live: Place, draft: Place, extra: number): Move {
  return {
    ...{ source, shape: '', live, draft, events: 10, bytes: 100 },
    ...{ slots: [40, 60], extra: [0, extra], residuals: [0, 0], days: [] },
  };
}

const moves = [
  moveOf('gates', kept, excluded, 300),
  moveOf('tides', audited, audited, 50),
  moveOf('ferries', kept, kept, 0),
];

/** What is kept costs a coin a byte, what is not a tenth of it. */
function costOf(move: Move, of: 'live' | 'draft'): number {
  return move[of][0] === 'kept' ? move.bytes : move.bytes / 10;
}

function budget(of: Partial<BudgetView>): BudgetView {
  const whose = { team: null, fleet: null, tier: null, ...of };
  return { amount: 2_000, spent: 500, heading: 1_000, crossedOn: null, halfOn: null, ...whose };
}

const budgets = {
  ownerOf: (source: string) => (source === 'gates' ? 'harbour' : 'sea'),
  fleetsOf: (source: string) => (source === 'tides' ? ['gauges'] : []),
};

test('a surge costs as much as it adds to each move, by either plan', () => {
  expect(surgeMoney(moves, costOf, { ...budgets, views: [] })).toEqual({ live: 350, draft: 80, budgets: [] });
});

test('it counts against the budgets of all, and of the team, the fleet and the tier of what it adds', () => {
  const views = [
    budget({}),
    budget({ team: 'harbour' }),
    budget({ fleet: 'gauges' }),
    budget({ tier: 'rest' }),
    // Nothing of them surges, or too little is known of the month.
    budget({ team: 'office' }),
    budget({ heading: null }),
  ];
  const found = surgeMoney(moves, costOf, { ...budgets, views }).budgets;
  expect(found.map(({ live, draft }) => [live, draft])).toEqual([
    [1_350, 1_080],
    [1_300, 1_030],
    [1_050, 1_050],
    // What the draft excludes passes: it is in no budget of a tier.
    [1_300, 1_000],
  ]);
  expect(found[1]).toMatchObject({ team: 'harbour', fleet: null, tier: null, amount: 2_000, heading: 1_000 });
});

test('silence saves', () => {
  expect(surgeMoney([moveOf('gates', kept, kept, -100)], costOf, { ...budgets, views: [] })).toMatchObject({
    ...{ live: -100, draft: -100 },
  });
});
