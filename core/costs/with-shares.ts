import type { DaySeries } from './day-series.ts';

/**
 * Volume told apart by shape and severity that adds up to the whole. What of a source, tier and fate has no shape is a series
 * without one. What is stored is known by source and tier alone: it is shared among the shapes of a day by the bytes that
 * came, in whole bytes.
 */
export function withShares(whole: readonly DaySeries[], shapes: readonly DaySeries[]): readonly DaySeries[] {
  const parts = new Map<string, DaySeries[]>();
  for (const series of shapes) {
    const known = parts.get(placeOf(series));
    if (known) known.push(series);
    else parts.set(placeOf(series), [series]);
  }
  return whole.flatMap((series) => shared(series, parts.get(placeOf(series)) ?? []));
}

function placeOf({ source, tier, outcome }: DaySeries): string {
  return `${source}\n${tier}\n${outcome}`;
}

function shared(whole: DaySeries, parts: readonly DaySeries[]): readonly DaySeries[] {
  if (parts.length === 0) return [whole];
  const { from } = whole;
  const days = whole.events.length;
  const cut = parts.map((part) => {
    const at = (figures: Float64Array) => figuresOn(figures, part.from, from, days);
    return { ...part, from, events: at(part.events), bytes: at(part.bytes), stored: new Float64Array(days) };
  });
  const rest: DaySeries = {
    ...{ ...whole, shape: '', severity: -1 },
    events: whole.events.slice(),
    bytes: whole.bytes.slice(),
    stored: whole.stored.slice(),
  };
  for (const { events, bytes } of cut)
    for (let at = 0; at < days; at++) {
      rest.events[at] = (rest.events[at] as number) - (events[at] as number);
      rest.bytes[at] = (rest.bytes[at] as number) - (bytes[at] as number);
    }
  for (let at = 0; at < days; at++) {
    const stored = whole.stored[at] as number;
    const bytes = whole.bytes[at] as number;
    if (stored === 0 || bytes <= 0) continue;
    let before = 0;
    let given = 0;
    for (const part of cut) {
      before += part.bytes[at] as number;
      const until = Math.round(stored * Math.min(1, before / bytes));
      part.stored[at] = until - given;
      given = until;
    }
    rest.stored[at] = stored - given;
  }
  return [...cut, rest];
}

/** Figures from `first` on, as those of the days from `from` on; days that they do not have are 0. */
function figuresOn(figures: Float64Array, first: number, from: number, days: number): Float64Array {
  const found = new Float64Array(days);
  const start = Math.max(first, from);
  const end = Math.min(first + figures.length, from + days);
  if (end > start) found.set(figures.subarray(start - first, end - first), start - from);
  return found;
}
