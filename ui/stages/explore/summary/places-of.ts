import { parsePlace } from '#core/places/place.ts';
import type { SummaryValue } from '#core/summaries/aggregate-states.ts';
import { groupTotals } from '#core/summaries/group-totals.ts';
import { groupKeys } from '#core/summaries/summary-grid.ts';
import type { SummaryTable } from '#core/summaries/summary-table.ts';

/** A point of a map and what there is. */
export interface PlacedPoint {
  /** Its coordinates as they stand in the summary. */
  readonly name: string;
  /** The values of the other keys; empty if the summary has none. */
  readonly label: string;
  readonly latitude: number;
  readonly longitude: number;
  readonly value: number;
}

/** A country of a map and what there is. */
export interface PlacedCountry {
  /** ISO 3166-1 alpha-2. */
  readonly code: string;
  readonly value: number;
}

/** The groups of a summary as places: either all are points, or all are countries. */
export interface Places {
  readonly points: readonly PlacedPoint[];
  readonly countries: readonly PlacedCountry[];
  /** Groups that are no places. */
  readonly elsewhere: number;
}

const latitudeName = /(^|[._-])lat(itude)?$/i;
const longitudeName = /(^|[._-])(lon|lng|long|longitude)$/i;

type Row = readonly SummaryValue[];
type Locate = (row: Row) => Coordinates | string | undefined;
type Coordinates = Omit<PlacedPoint, 'value' | 'label'>;

/** Most names in a label. */
const mostNames = 2;

/**
 * Where the groups of a summary are: by a latitude and a longitude among its keys, by a key whose values are both
 * (`58.96,-3.29`), or by one whose values are countries, as English names or codes of two capitals. Undefined where most of
 * the groups of no key are places. `measure` is the place of the column that is drawn; over time it is added up, or the most
 * that it was where it cannot be.
 */
export function placesOf(table: SummaryTable, measure: number): Places | undefined {
  const locate = locator(table);
  if (!locate) return undefined;
  const points = new Map<string, Coordinates>();
  const labels = new Map<string, Set<string>>();
  const elsewhere = new Set<string>();
  const totals = groupTotals(table, measure, (row) => {
    const place = typeof row[measure] === 'number' ? locate(row) : undefined;
    if (place === undefined) elsewhere.add(groupKeys(table, row).join(' · '));
    if (typeof place !== 'object') return place;
    points.set(place.name, place);
    const others = groupKeys(table, row).filter((key) => !isPartOf(place, key));
    if (others.length > 0) labels.set(place.name, (labels.get(place.name) ?? new Set()).add(others.join(' · ')));
    return place.name;
  });
  const largest = [...totals].sort(([, a], [, b]) => b - a);
  return {
    points: largest.flatMap(([name, value]) => {
      const point = points.get(name);
      return point ? [{ ...point, label: labelOf(labels.get(name)), value }] : [];
    }),
    countries: largest.flatMap(([code, value]) => (points.has(code) ? [] : [{ code, value }])),
    elsewhere: elsewhere.size,
  };
}

/** Whether a key of a group is one of its coordinates, or both. */
function isPartOf({ name, latitude, longitude }: Coordinates, key: string): boolean {
  return key === name || Number(key) === latitude || Number(key) === longitude;
}

function labelOf(names: ReadonlySet<string> = new Set()): string {
  const shown = [...names].slice(0, mostNames).join(', ');
  return names.size > mostNames ? `${shown} and ${names.size - mostNames} more` : shown;
}

function locator({ columns, rows }: SummaryTable): Locate | undefined {
  const keys = columns.flatMap(({ key, unit, name }, index) => (key && unit !== 'time' ? [{ index, name }] : []));
  const latitude = keys.find(({ name }) => latitudeName.test(name));
  const longitude = keys.find(({ name }) => longitudeName.test(name));
  const ways: readonly Locate[] = [
    ...(latitude && longitude ? [(row: Row) => pointOf(`${row[latitude.index]},${row[longitude.index]}`)] : []),
    ...keys.map(
      ({ index }): Locate =>
        (row) =>
          pointOf(String(row[index] ?? '')),
    ),
    ...keys.map(
      ({ index }): Locate =>
        (row) =>
          countryOf(String(row[index] ?? '')),
    ),
  ];
  return ways.find((way) => rows.filter((row) => way(row) !== undefined).length * 2 > rows.length);
}

function pointOf(text: string): Coordinates | undefined {
  const place = parsePlace(text);
  return place && { name: text, ...place };
}

let codes: ReadonlyMap<string, string> | undefined;

/** The code of a country by its English name, in any case, or by its code. */
function countryOf(text: string): string | undefined {
  codes ??= allCountries();
  return codes.get(text) ?? codes.get(text.toLowerCase());
}

/** Codes by themselves and by the English names that belong to them, in lower case. */
function allCountries(): ReadonlyMap<string, string> {
  const names = new Intl.DisplayNames(['en'], { type: 'region', fallback: 'none' });
  const letters = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'];
  return new Map(
    letters.flatMap((first) =>
      letters.flatMap((second) => {
        const code = first + second;
        const name = names.of(code);
        if (name === undefined) return [];
        // Codes of states that are no more, and second codes, stand for the one that is in force.
        const region = new Intl.Locale(`und-${code}`).region ?? code;
        return [[code, region] as const, [name.toLowerCase(), region] as const];
      }),
    ),
  );
}
