import { expect, test } from 'vitest';
import type { CostsAnswer } from '../answers/costs.ts';
import { costsCsv } from './costs-csv.ts';

const row = {
  ...{ received: 100_000_000_005, kept: 20, stored: 3, series: 4, whole: 100_000_000_032 },
  steps: [7, 100_000_000_025],
};
const costs: CostsAnswer = {
  ...{ currency: { sign: 'cr', digits: 2 }, from: 0, to: 0, steps: [Date.UTC(2026, 9, 1), Date.UTC(2026, 10, 1)] },
  by: 'team,shape',
  all: { received: 0, kept: 0, stored: 0, series: 0, whole: 0 },
  rows: [{ ...row, keys: ['sea', 'k3jd'], line: 'tide, "high"' }],
};

test('costs are written with all their coins, keys by their names, steps by their days, and lines where there are shapes', () => {
  expect(costsCsv(costs, ['team', 'shape']).split('\r\n')).toEqual([
    'team,shape,line,received,kept,stored,series,whole,2026-10-01,2026-11-01',
    'sea,k3jd,"tide, ""high""",1000000000.05,0.20,0.03,0.04,1000000000.32,0.07,1000000000.25',
  ]);
  const rest = { ...costs, steps: [], rows: [{ ...row, keys: [], line: '', steps: [] }] };
  expect(costsCsv(rest, ['team', 'tier']).split('\r\n')[1]).toBe(
    'the rest,,1000000000.05,0.20,0.03,0.04,1000000000.32',
  );
  expect(costsCsv({ ...costs, steps: [], rows: [] }, ['tier'])).toBe('tier,received,kept,stored,series,whole');
});
