import type { ColumnUnit } from '#core/summaries/summary-table.ts';
import type { Palette } from '../../../charts/chart.tsx';
import { type ShapeOf, worldMap } from '../../../charts/world-map.ts';
import type { PlacedCountry, PlacedPoint, Places } from './places-of.ts';
import { show } from './summary-picture.ts';

/** Most points drawn, the largest. */
export const mostPoints = 2_000;

/** North-west and south-east corner of a map, each as longitude and latitude. */
type Box = readonly [readonly [number, number], readonly [number, number]];

/** The world without the ice of the south, which nobody sends from. */
const inhabited: Box = [
  [-170, 80],
  [190, -57],
];

/** A picture is about so many times as wide as it is high. */
const widest = 3;

/**
 * Where a map is in its picture: as large as fits, and not drawn out. Degrees of longitude are as long as they are in its
 * middle; of the world, as they are half-way to the poles.
 */
function frameOf(box: Box) {
  const [[west, north], [east, south]] = box;
  const middle = box === inhabited ? 45 : (north + south) / 2;
  const aspectScale = Math.max(0.1, Math.cos((middle * Math.PI) / 180));
  const aspect = ((east - west) / (north - south)) * aspectScale;
  const layoutSize = `${Math.round(100 * Math.min(widest, Math.max(1, aspect)))}%`;
  return { boundingCoords: box, aspectScale, layoutCenter: ['50%', '50%'], layoutSize };
}

/** Degrees that a map shows at least, and how much more than its points. */
const leastSpan = 0.2;
const margin = 0.12;

/** What the chart library draws for places: points as large as what they have, or countries as deep. */
export function placesOption({ points, countries }: Places, unit: ColumnUnit, shapeOf: ShapeOf, palette: Palette) {
  const shown = points.slice(0, mostPoints);
  const geo = {
    map: worldMap,
    silent: countries.length === 0,
    itemStyle: { areaColor: palette.hair, borderColor: palette.paper, borderWidth: 0.5 },
    emphasis: { disabled: true },
    ...frameOf(shown.length > 0 ? boxAround(shown) : inhabited),
    regions: regionsOf(countries, unit, shapeOf, palette),
  };
  const tooltip = {
    backgroundColor: palette.sheet,
    borderColor: palette.hair,
    textStyle: { color: palette.ink },
    valueFormatter: (value: unknown) => show(Array.isArray(value) ? value[2] : (value as number), unit),
  };
  return { geo, tooltip, series: [pointSeries(shown, palette)] };
}

function regionsOf(countries: readonly PlacedCountry[], unit: ColumnUnit, shapeOf: ShapeOf, palette: Palette) {
  const most = Math.max(...countries.map(({ value }) => value), 0);
  const names = new Intl.DisplayNames(['en'], { type: 'region' });
  return countries.flatMap(({ code, value }) => {
    const name = shapeOf(code);
    if (name === undefined) return [];
    // The lightest depth is left out: it is hardly told apart from land of which nothing is known.
    const depth = most > 0 ? Math.max(1, Math.ceil((value / most) * palette.depth.length) - 1) : 1;
    const text = `${names.of(code) ?? code}: ${show(value, unit)}`;
    return [
      {
        name,
        itemStyle: { areaColor: palette.depth[depth], borderColor: palette.second, borderWidth: 0.8 },
        tooltip: { show: true, formatter: text },
      },
    ];
  });
}

/** Labels are shown up to this number of points. */
const mostLabelled = 40;

function labelIn(data: unknown): string {
  const label: unknown = typeof data === 'object' && data !== null ? Reflect.get(data, 'called') : '';
  return typeof label === 'string' ? label : '';
}

function pointSeries(points: readonly PlacedPoint[], palette: Palette) {
  const most = Math.max(...points.map(({ value }) => value), 0);
  // The area of a point is what it has; few are large, many small.
  const largest = points.length > 60 ? 12 : 26;
  return {
    type: 'scatter',
    coordinateSystem: 'geo',
    itemStyle: { color: palette.depth[4], opacity: points.length > 60 ? 0.6 : 0.85 },
    symbolSize: ([, , value]: readonly number[]) =>
      Math.max(4, largest * Math.sqrt(most > 0 ? Math.max(0, value ?? 0) / most : 0)),
    label: {
      show: points.length <= mostLabelled,
      // Coordinates are shown on hover only.
      formatter: ({ data }: { readonly data?: unknown }) => labelIn(data),
      position: 'right',
      color: palette.ink,
      textBorderColor: palette.paper,
      textBorderWidth: 2,
    },
    labelLayout: { hideOverlap: true },
    data: points.map(({ name, label, latitude, longitude, value }) => ({
      name: label === '' ? name : `${label} (${name})`,
      called: label,
      value: [longitude, latitude, value],
    })),
  };
}

/** North-west and south-east corner of a map that shows some points, each as longitude and latitude. */
export function boxAround(points: readonly Pick<PlacedPoint, 'latitude' | 'longitude'>[]): Box {
  const [west, east] = widened(
    points.map(({ longitude }) => longitude),
    180,
  );
  const [south, north] = widened(
    points.map(({ latitude }) => latitude),
    85,
  );
  return [
    [west, north],
    [east, south],
  ];
}

function widened(degrees: readonly number[], most: number): readonly [number, number] {
  const low = Math.min(...degrees);
  const high = Math.max(...degrees);
  const more = Math.max((high - low) * margin, (leastSpan - (high - low)) / 2);
  return [Math.max(-most, low - more), Math.min(most, high + more)];
}
