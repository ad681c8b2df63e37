// @vitest-environment happy-dom
import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { SummaryTable } from '#core/summaries/summary-table.ts';
import { wrapperAt } from '../../../testing/standing-in.tsx';
import { useSummaryPicture } from './use-summary-picture.ts';

const minute = 60_000;
const asked = {
  ...{ condition: '', from: 0, to: 10 * minute, show: '', with: '' },
  ...{ limit: 0, buckets: 0, fields: false },
};
const column = (name: string, key = false) => ({ name, key, unit: 'none' as const });

function pictured(table: Pick<SummaryTable, 'columns' | 'rows'>, every = 0, address = '') {
  const whole = { ...table, groups: table.rows.length, leftOut: 0 };
  return renderHook(() => useSummaryPicture(whole, asked, every), { wrapper: wrapperAt(address) }).result;
}

const bySource = { columns: [column('source', true), column('count()'), column('sum(took)')], rows: [['tides', 3, 7]] };

test('figures alone are a number, groups are bars, and what is over time is a line', () => {
  expect(pictured({ columns: [column('count()')], rows: [[3]] }).current.kind).toBe('number');
  expect(pictured(bySource).current.kind).toBe('bar');
  const overTime = { columns: [column('time', true), column('count()')], rows: [[0, 3]] };
  const line = pictured(overTime, minute).current;
  expect([line.kind, line.isBeside]).toEqual(['line', true]);
});

test('a line is offered over time only, and a map where there are places', () => {
  expect(pictured(bySource).current.offered).not.toContain('line');
  expect(pictured(bySource).current.offered).not.toContain('map');
});

test('a picture that the summary cannot have gives way to the usual one', () => {
  expect(pictured(bySource, 0, '?picture=line').current.kind).toBe('bar');
});

test('the measure of the address is shown, else the first', async () => {
  const result = pictured(bySource, 0, '?measure=sum(took)');
  expect([result.current.chosen?.name, result.current.measure]).toEqual(['sum(took)', 2]);
  act(() => result.current.chooseMeasure('count()'));
  await waitFor(() => expect(result.current.chosen?.name).toBe('count()'));
  expect(pictured(bySource, 0, '?measure=none').current.chosen?.name).toBe('count()');
});
