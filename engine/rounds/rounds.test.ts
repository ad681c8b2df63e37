import { expect, test } from 'vitest';
import { rounds } from './index.ts';

test('every round has a name of its own, and what deletes needs a lease', () => {
  const names = rounds.map(({ name }) => name);
  expect(new Set(names).size).toBe(names.length);
  for (const round of rounds) if ('deletes' in round) expect(round.lease).toBeDefined();
});
