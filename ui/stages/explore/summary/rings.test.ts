import { init } from 'echarts';
import { expect, test } from 'vitest';
import { palette } from '../../../charts/testing/palette.ts';
import { rings } from './rings.ts';

const words = { tell: (value: number) => `${value} events`, addUp: true };
const drawn = (groups: Parameters<typeof rings>[0], rest = 0) =>
  rings(groups, rest, palette, words).map(({ data }) => data.map(({ name, value }) => [name, value]));

test('one key is one ring, the largest first, the rest last', () => {
  const groups = [
    { keys: ['tides'], value: 3 },
    { keys: ['gates'], value: 7 },
  ];
  expect(drawn(groups, 2)).toEqual([
    [
      ['gates', 7],
      ['tides', 3],
      ['the rest', 2],
    ],
  ]);
});

test('two keys are two rings that lie on each other', () => {
  const groups = [
    { keys: ['tides', 'warn'], value: 5 },
    { keys: ['gates', 'warn'], value: 4 },
    { keys: ['gates', 'info'], value: 6 },
  ];
  const [inner, outer] = drawn(groups, 1);
  expect(inner).toEqual([
    ['gates', 10],
    ['tides', 5],
    ['the rest', 1],
  ]);
  expect(outer).toEqual([
    ['gates · info', 6],
    ['gates · warn', 4],
    ['tides · warn', 5],
    ['the rest', 1],
  ]);
  const [, series] = rings(groups, 0, palette, words);
  expect(series?.data.map(({ itemStyle }) => itemStyle.color)).toEqual(['s0', 's0', 's1']);
  expect(new Set(series?.data.map(({ itemStyle }) => itemStyle.opacity)).size).toBe(2);
});

test('a label has the value, and its share if values add up', () => {
  const groups = [
    { keys: ['tides'], value: 1 },
    { keys: ['gates'], value: 3 },
  ];
  const [slice] = rings(groups, 0, palette, words);
  expect(slice?.label.formatter?.({ name: 'gates', value: 3 })).toBe('gates: 3 events, 75 %');
  const [other] = rings(groups, 0, palette, { ...words, addUp: false });
  expect(other?.label.formatter?.({ name: 'gates', value: 3 })).toBe('gates: 3 events');
});

test('labels of small slices beside each other are a line apart', () => {
  const groups = [25_352, 17_049, 14_783, 2_305, 275].map((value, i) => ({ keys: [`severity ${i}`], value }));
  const chart = init(null, null, { renderer: 'svg', ssr: true, width: 1_232, height: 300 });
  chart.setOption({ animation: false, series: rings(groups, 0, palette, words) });
  const heights = [...chart.renderToSVGString().matchAll(/<text[^>]*translate\([\d.]+ ([\d.]+)\)/g)]
    .map(([, y]) => Number(y))
    .sort((a, b) => a - b);
  chart.dispose();
  expect(heights).toHaveLength(5);
  const [first = 0, second = 0] = heights;
  expect(second - first).toBeGreaterThan(16);
});
