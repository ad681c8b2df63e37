import { describe, expect, test } from 'vitest';
import type { SummaryValue } from '#core/summaries/aggregate-states.ts';
import type { SummaryTable } from '#core/summaries/summary-table.ts';
import { palette } from '../../../charts/testing/palette.ts';
import { placesOf } from './places-of.ts';
import { boxAround, placesOption } from './places-picture.ts';

/** A summary by some keys with one count. */
function tableOf(keys: readonly string[], rows: readonly (readonly SummaryValue[])[]): SummaryTable {
  const counts = { name: 'count()', unit: 'count', key: false, additive: true } as const;
  const columns = keys.map((name) => ({ name, unit: name === 'time' ? 'time' : 'text', key: true }) as const);
  return { columns: [...columns, counts], rows, groups: rows.length, leftOut: 0 };
}

describe('groups as places', () => {
  test('a latitude and a longitude among the keys', () => {
    const table = tableOf(
      ['position.longitude', 'position.latitude', 'vessel'],
      [
        ['-3.2', '58.9', 'Auk', 4],
        ['-3.1', '59', 'Tern', 6],
        [null, null, 'Gannet', 1],
      ],
    );
    expect(placesOf(table, 3)).toEqual({
      points: [
        { name: '59,-3.1', label: 'Tern', latitude: 59, longitude: -3.1, value: 6 },
        { name: '58.9,-3.2', label: 'Auk', latitude: 58.9, longitude: -3.2, value: 4 },
      ],
      countries: [],
      elsewhere: 1,
    });
  });

  test('a key that is both, added up over time', () => {
    const table = tableOf(
      ['time', 'at'],
      [
        [0, '58.96,-3.29', 1],
        [1, '58.96,-3.29', 2],
      ],
    );
    expect(placesOf(table, 2)?.points).toEqual([
      { name: '58.96,-3.29', label: '', latitude: 58.96, longitude: -3.29, value: 3 },
    ]);
    const [time, at, counts] = table.columns;
    if (!time || !at || !counts) throw new Error('columns are missing');
    const { additive: _, ...most } = counts;
    expect(placesOf({ ...table, columns: [time, at, most] }, 2)?.points[0]?.value).toBe(2);
  });

  test('countries by name or code', () => {
    const table = tableOf(
      ['country'],
      [
        ['Norway', 5],
        ['NO', 1],
        ['iceland', 2],
        ['United Kingdom', 4],
        ['UK', 1],
        ['Skerryvoe', 3],
      ],
    );
    expect(placesOf(table, 1)).toEqual({
      points: [],
      countries: [
        { code: 'NO', value: 6 },
        { code: 'GB', value: 5 },
        { code: 'IS', value: 2 },
      ],
      elsewhere: 1,
    });
  });

  test.each([
    ['ports', ['Tarnholm', 'Skerryvoe']],
    ['severities', ['info', 'no', 'is']],
    ['numbers', ['404', '500']],
    ['off the globe', ['91,0', '0,181']],
  ])('%s are none', (_, values) => {
    const rows = values.map((value) => [value, 1]);
    expect(placesOf(tableOf(['key'], rows), 1)).toBeUndefined();
  });

  test('nothing is nowhere', () => expect(placesOf(tableOf(['country'], []), 1)).toBeUndefined());
});

describe('a map', () => {
  test('shows its points with room around them, and stays on the globe', () => {
    const [[west, north], [east, south]] = boxAround([{ latitude: 59, longitude: -3 }]);
    expect([west, north, east, south]).toEqual([-3.1, 59.1, -2.9, 58.9]);
    const all = boxAround([
      { latitude: 85, longitude: -180 },
      { latitude: -85, longitude: 180 },
    ]);
    expect(all).toEqual([
      [-180, 85],
      [180, -85],
    ]);
  });

  test('points are as large as what they have, countries as deep; those without a shape are left out', () => {
    const countries = [
      { code: 'NO', value: 10 },
      { code: 'IS', value: 1 },
      { code: 'AQ', value: 1 },
    ];
    const shapeOf = (code: string): string | undefined => (code === 'AQ' ? undefined : `shape ${code}`);
    const { geo } = placesOption({ points: [], countries, elsewhere: 0 }, 'count', shapeOf, palette);
    expect(geo.regions).toMatchObject([
      { name: 'shape NO', itemStyle: { areaColor: palette.depth[5] }, tooltip: { formatter: 'Norway: 10' } },
      { name: 'shape IS', itemStyle: { areaColor: palette.depth[1] } },
    ]);
    const points = [4, 1].map((value) => ({
      ...{ name: String(value), label: `port ${value}`, latitude: value, longitude: 0, value },
    }));
    const { series } = placesOption({ points, countries: [], elsewhere: 0 }, 'count', shapeOf, palette);
    expect(series[0]?.data[0]?.name).toBe('port 4 (4)');
    expect(series[0]?.label.formatter({ data: series[0]?.data[0] })).toBe('port 4');
    const size = series[0]?.symbolSize ?? (() => 0);
    expect(size([0, 4, 4])).toBe(2 * size([0, 1, 1]));
    expect(size([0, 4, -3])).toBeGreaterThan(0);
  });
});
