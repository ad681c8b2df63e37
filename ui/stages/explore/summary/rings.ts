import type { Palette } from '../../../charts/chart.tsx';
import { percent } from '../../../kit/times/times.ts';

/** A group of a summary with its keys and what it has. */
export interface RingGroup {
  readonly keys: readonly string[];
  readonly value: number;
}

interface Slice {
  readonly name: string;
  readonly value: number;
  readonly itemStyle: { readonly color: string; readonly opacity: number };
}

/** Slices of one colour differ by so much in their opacity, and are never fainter than the least. */
const fainter = 0.16;
const faintest = 0.35;
/** Height of a label's line (pixels). Without one the chart library spaces labels by their glyphs alone, so that lines touch. */
const lineHeight = 18;

/** How slices are labelled: formats a value, and whether values add up, so that a share makes sense. */
export interface RingWords {
  readonly tell: (value: number) => string;
  readonly addUp: boolean;
}

/**
 * What the chart library draws for groups as a ring; with several keys as two, the inner one by the first key. `rest` is what
 * all other groups have together, 0 for nothing. Each slice says what it has, and its share where values add up.
 */
export function rings(groups: readonly RingGroup[], rest: number, palette: Palette, words: RingWords) {
  const firsts = new Map<string, RingGroup[]>();
  for (const group of [...groups].sort((a, b) => b.value - a.value)) {
    const first = group.keys[0] ?? '';
    firsts.set(first, [...(firsts.get(first) ?? []), group]);
  }
  const sum = (some: readonly RingGroup[]): number => some.reduce((total, { value }) => total + value, 0);
  const ordered = [...firsts].sort(([, a], [, b]) => sum(b) - sum(a));
  const others = rest > 0 ? [slice('the rest', rest, palette.sand, 1)] : [];
  const colour = (index: number): string => palette.series[index] ?? palette.ink;
  const outer = ordered.flatMap(([, members], index) =>
    members.map(({ keys, value }, place) =>
      slice(keys.join(' · '), value, colour(index), Math.max(faintest, 1 - place * fainter)),
    ),
  );
  if (!groups.some(({ keys }) => keys.length > 1)) return [ring([...outer, ...others], ['35%', '75%'], palette, words)];
  const inner = ordered.map(([name, members], index) => slice(name, sum(members), colour(index), 1));
  const within = ring([...inner, ...others], ['25%', '48%'], palette, words);
  return [
    { ...within, label: { ...within.label, show: false } },
    ring([...outer, ...others], ['52%', '75%'], palette, words),
  ];
}

function slice(name: string, value: number, color: string, opacity: number): Slice {
  return { name, value, itemStyle: { color, opacity } };
}

function ring(data: readonly Slice[], radius: readonly [string, string], palette: Palette, { tell, addUp }: RingWords) {
  const whole = data.reduce((sum, { value }) => sum + value, 0);
  const formatter = ({ name, value }: Pick<Slice, 'name' | 'value'>): string =>
    addUp && whole > 0 ? `${name}: ${tell(value)}, ${percent(value / whole)}` : `${name}: ${tell(value)}`;
  return { type: 'pie', radius, label: { show: true, color: palette.ink, lineHeight, formatter }, data };
}
