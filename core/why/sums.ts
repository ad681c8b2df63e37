import type { ComparedEvents } from './compared-events.ts';

/** Amounts before and since a change, for periods of equal length, and the number of events. */
export interface Sums {
  readonly before: Float64Array;
  readonly since: Float64Array;
  /** Events, weighted. */
  readonly eventsBefore: number;
  readonly eventsSince: number;
  /** Sampled rows. */
  readonly rowsBefore: number;
  readonly rowsSince: number;
}

/** The sums of some rows. */
export function sumsOf(events: ComparedEvents, rows: Int32Array, width: number): Sums {
  return sumsOfGroups(events, rows, { groupOf: () => 0, groups: 1, width })[0] as Sums;
}

/** The sums of some rows by group; `groupOf` gives 0 to `groups - 1`, or −1 to skip a row. */
export function sumsOfGroups(
  { period, weight, amounts }: ComparedEvents,
  rows: Int32Array,
  {
    groupOf,
    groups,
    width,
  }: { readonly groupOf: (row: number) => number; readonly groups: number; readonly width: number },
): readonly Sums[] {
  // Two sides a group: before and since.
  const all = new Float64Array(groups * 2 * width);
  const events = new Float64Array(groups * 2);
  const counts = new Int32Array(groups * 2);
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const group = groupOf(row);
    if (group < 0) continue;
    const side = group * 2 + (period[row] === 0 ? 1 : 0);
    events[side] = (events[side] as number) + (weight[row] as number);
    counts[side] = (counts[side] as number) + 1;
    for (let k = 0; k < amounts.length; k++) {
      const { to, values } = amounts[k] as ComparedEvents['amounts'][number];
      const at = side * width + (to[row] as number);
      all[at] = (all[at] as number) + (values[row] as number);
    }
  }
  return Array.from({ length: groups }, (_, group) => ({
    before: all.subarray(group * 2 * width, (group * 2 + 1) * width),
    since: all.subarray((group * 2 + 1) * width, (group * 2 + 2) * width),
    eventsBefore: events[group * 2] as number,
    eventsSince: events[group * 2 + 1] as number,
    rowsBefore: counts[group * 2] as number,
    rowsSince: counts[group * 2 + 1] as number,
  }));
}

/** Values with less than this fraction of the events are ignored. */
const leastPart = 0.004;

/** The sums of some rows by the value of a field, without rare values, at most `most` of them. */
export function sumsByValue(
  events: ComparedEvents,
  {
    rows,
    field,
    width,
    most,
  }: { readonly rows: Int32Array; readonly field: number; readonly width: number; readonly most: number },
): readonly (readonly [code: number, sums: Sums])[] {
  const { codes, values } = events.fields[field] as ComparedEvents['fields'][number];
  const common = commonValues(events, rows, { codes, count: values.length, most });
  const places = new Int32Array(values.length).fill(-1);
  common.forEach((code, place) => {
    places[code] = place;
  });
  const groupOf = (row: number): number => places[codes[row] as number] as number;
  const sums = sumsOfGroups(events, rows, { groupOf, groups: common.length, width });
  return common.map((code, place) => [code, sums[place] as Sums] as const);
}

function commonValues(
  { period, weight }: ComparedEvents,
  rows: Int32Array,
  { codes, count, most }: { readonly codes: Int32Array; readonly count: number; readonly most: number },
): readonly number[] {
  const sums = new Float64Array(count * 2);
  let before = 0;
  let since = 0;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const amount = weight[row] as number;
    const isSince = period[row] === 0;
    const at = (codes[row] as number) * 2 + (isSince ? 1 : 0);
    sums[at] = (sums[at] as number) + amount;
    if (isSince) since += amount;
    else before += amount;
  }
  const least = leastPart * Math.max(before, since);
  const size = (code: number): number => Math.max(sums[code * 2] as number, sums[code * 2 + 1] as number);
  const common: number[] = [];
  for (let code = 1; code < count; code++) if (size(code) >= least) common.push(code);
  return common.sort((a, b) => size(b) - size(a)).slice(0, most);
}
