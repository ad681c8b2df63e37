import { grouped } from '../tables/grouped.ts';
import type { DailyVolume, RecentDays, SourceDays } from './recent-days.ts';
import { addSlots, isNowhere, type Place, slotCount, type Transition, type Transitions } from './transitions.ts';

/**
 * Volume of a source that the live plan sends to one place and the draft to another, scaled to the span of the answer. Every figure
 * of an answer is a weighted sum of moves, and its band follows from their slots and days. Plain data, in whole bytes.
 */
export interface Move {
  readonly source: string;
  /** Empty if shapes are merged. */
  readonly shape: string;
  readonly live: Place;
  readonly draft: Place;
  readonly events: number;
  readonly bytes: number;
  /** Bytes by slot of the window, not scaled. */
  readonly slots: readonly number[];
  /** Bytes that a surge adds by slot, not scaled. */
  readonly extra: readonly number[];
  /** Scaled bytes by slot minus those expected from the move's share of its source and shape. */
  readonly residuals: readonly number[];
  /** Bytes on each recent day if the shares had been the same. */
  readonly days: readonly number[];
}

interface MoveSums {
  readonly kind: Pick<Move, 'source' | 'shape' | 'live' | 'draft'>;
  events: number;
  bytes: number;
  readonly slots: Float64Array;
  readonly extra: Float64Array;
  readonly residuals: Float64Array;
  readonly days: Float64Array;
}

/** All events of a source and shape, in the window and on recent days. */
interface Stratum {
  readonly transitions: readonly Transition[];
  readonly events: number;
  readonly bytes: number;
  readonly slots: Float64Array;
  /** Absent if the ledger has none. */
  readonly days: DailyVolume | undefined;
}

/**
 * The moves of a rehearsal. The window's transitions give the shares of each source and shape. Their volumes are the means of the last
 * `span` days of the ledger (a post-stratified ratio estimate: W. G. Cochran, Sampling Techniques, 3rd edition 1977, sections
 * 5A.9 and 6.10), or those of the window if `span` is 0. A source younger than the span is averaged from its first day.
 */
export function movesOf(transitions: Transitions, recent: RecentDays, span = 0): readonly Move[] {
  const moves = new Map<string, MoveSums>();
  for (const [source, list] of grouped([...transitions.values()], (transition) => transition.source)) {
    const days = recent.sources.get(source);
    for (const { stratum, scales } of scaledStrata(strataOf(list, days), days, { span, count: recent.count }))
      addStratum(moves, stratum, scales);
  }
  return [...moves.values()].map(({ kind, events, bytes, slots, extra, residuals, days }) => ({
    ...kind,
    ...{ events, bytes },
    slots: Array.from(slots, Math.round),
    extra: Array.from(extra, Math.round),
    residuals: Array.from(residuals, Math.round),
    days: Array.from(days, Math.round),
  }));
}

/** Merges moves that differ in their shapes alone. */
export function withoutShapes(moves: readonly Move[]): readonly Move[] {
  const alike = grouped(moves, ({ source, live, draft }) => JSON.stringify([source, live, draft]));
  return [...alike.values()].map((list) => {
    const [first] = list as readonly [Move, ...Move[]];
    if (list.length === 1) return { ...first, shape: '' };
    const sum = (of: 'events' | 'bytes'): number => list.reduce((all, move) => all + move[of], 0);
    const sums = (of: 'slots' | 'extra' | 'residuals' | 'days'): readonly number[] =>
      first[of].map((_, place) => list.reduce((all, move) => all + (move[of][place] as number), 0));
    return {
      ...{ source: first.source, shape: '', live: first.live, draft: first.draft },
      ...{ events: sum('events'), bytes: sum('bytes') },
      ...{ slots: sums('slots'), extra: sums('extra'), residuals: sums('residuals'), days: sums('days') },
    };
  });
}

function strataOf(list: readonly Transition[], days: SourceDays | undefined): readonly Stratum[] {
  return [...grouped(list, ({ shape }) => shape)].map(([shape, transitions]) => {
    // Events that only the draft produces did not arrive.
    const arrived = transitions.filter(({ live }) => !isNowhere(live));
    const base = arrived.length > 0 ? arrived : transitions;
    const slots = new Float64Array(slotCount);
    for (const transition of base) addSlots(slots, transition.slots);
    return {
      transitions,
      events: base.reduce((sum, { events }) => sum + events, 0),
      bytes: base.reduce((sum, { bytes }) => sum + bytes, 0),
      slots,
      days: shape === '' ? undefined : days?.shapes.get(shape),
    };
  });
}

/** Factors from the window's volume of a stratum to the answer's, and to each day's. */
interface Scales {
  readonly events: number;
  readonly bytes: number;
  readonly days: Float64Array;
}

/** Ledger volume of shapes that the window lacks is assigned to the strata without ledger volume, or else to all of the source. */
function scaledStrata(
  strata: readonly Stratum[],
  days: SourceDays | undefined,
  { span, count }: { readonly span: number; readonly count: number },
): readonly { readonly stratum: Stratum; readonly scales: Scales }[] {
  if (!days)
    return strata.map((stratum) => ({
      stratum,
      scales: { events: 1, bytes: 1, days: new Float64Array(count).fill(1) },
    }));
  const known = strata.filter((stratum) => stratum.days);
  const unknown = strata.filter((stratum) => !stratum.days);
  const pool = unknown.length > 0 ? unknown : strata;
  const inPool = totals(pool);
  const rest = remainder(
    days.all,
    known.map((stratum) => stratum.days as DailyVolume),
  );
  const scaleOf = (volume: DailyVolume, of: { readonly events: number; readonly bytes: number }): Scales => {
    const scaled = (values: Float64Array, whole: number): Float64Array =>
      values.map((value) => (whole > 0 ? value / whole : 0));
    const mean = (values: Float64Array): number => meanOver(values, days.first, span);
    const daily = scaled(volume.bytes, of.bytes);
    const usual = meanOver(daily, days.first, count);
    // Days before a source's first day must not count as variation.
    daily.fill(usual, 0, days.first);
    return {
      events: of.events > 0 ? mean(volume.events) / of.events : 0,
      bytes: of.bytes > 0 ? mean(volume.bytes) / of.bytes : 0,
      days: daily,
    };
  };
  const ofRest = scaleOf(rest, inPool);
  return strata.map((stratum) => {
    const own = stratum.days && scaleOf(stratum.days, stratum);
    const isInPool = unknown.length === 0 || !stratum.days;
    const scales = added(own, isInPool ? ofRest : undefined, count);
    return { stratum, scales: span > 0 ? scales : { ...scales, events: 1, bytes: 1 } };
  });
}

function added(a: Scales | undefined, b: Scales | undefined, count: number): Scales {
  return {
    events: (a?.events ?? 0) + (b?.events ?? 0),
    bytes: (a?.bytes ?? 0) + (b?.bytes ?? 0),
    days: Float64Array.from({ length: count }, (_, day) => (a?.days[day] ?? 0) + (b?.days[day] ?? 0)),
  };
}

function totals(strata: readonly Stratum[]): { readonly events: number; readonly bytes: number } {
  return {
    events: strata.reduce((sum, { events }) => sum + events, 0),
    bytes: strata.reduce((sum, { bytes }) => sum + bytes, 0),
  };
}

function remainder(all: DailyVolume, parts: readonly DailyVolume[]): DailyVolume {
  const left = (of: 'events' | 'bytes'): Float64Array =>
    all[of].map((value, day) => Math.max(0, value - parts.reduce((sum, part) => sum + (part[of][day] as number), 0)));
  return { events: left('events'), bytes: left('bytes') };
}

/** The mean of the last `span` days, of those since `first`. */
function meanOver(values: Float64Array, first: number, span: number): number {
  const some = values.subarray(Math.min(values.length - 1, Math.max(first, values.length - span)));
  return some.length > 0 ? some.reduce((sum, value) => sum + value, 0) / some.length : 0;
}

function addStratum(moves: Map<string, MoveSums>, { transitions, bytes: all, slots }: Stratum, scales: Scales): void {
  for (const { source, shape, live, draft, events, bytes, slots: inSlots, extra } of transitions) {
    const key = JSON.stringify([source, shape, live, draft]);
    let move = moves.get(key);
    if (!move) {
      const kind = { source, shape, live, draft };
      const days = new Float64Array(scales.days.length);
      const empty = () => new Float64Array(slotCount);
      const sums = { slots: empty(), extra: empty(), residuals: empty(), days };
      moves.set(key, (move = { kind, events: 0, bytes: 0, ...sums }));
    }
    move.events += events * scales.events;
    move.bytes += bytes * scales.bytes;
    addSlots(move.slots, inSlots);
    addSlots(move.extra, extra);
    const share = all > 0 ? bytes / all : 0;
    for (let slot = 0; slot < slotCount; slot++)
      move.residuals[slot] =
        (move.residuals[slot] as number) + scales.bytes * ((inSlots[slot] as number) - share * (slots[slot] as number));
    for (let day = 0; day < move.days.length; day++)
      move.days[day] = (move.days[day] as number) + bytes * (scales.days[day] as number);
  }
}
