import { registerMap } from 'echarts/core';
import type { FeatureCollection, Geometry, Position } from 'geojson';
import type { GeometryCollection, Topology } from 'topojson-specification';

/** The name under which the map of the world is known to the chart library. */
export const worldMap = 'world';

/** Gives the name of a country's shape on the map by its code (ISO 3166-1 alpha-2); undefined where it has none. */
export type ShapeOf = (code: string) => string | undefined;

let loaded: Promise<ShapeOf> | undefined;

/** Fetches the shapes of all countries, 0.7 MB, when a map is first drawn. */
export function loadWorldMap(): Promise<ShapeOf> {
  loaded ??= load().catch((error: unknown) => {
    loaded = undefined;
    throw error;
  });
  return loaded;
}

async function load(): Promise<ShapeOf> {
  const [{ feature }, shapes, countries] = await Promise.all([
    import('topojson-client'),
    import('world-atlas/countries-50m.json'),
    import('i18n-iso-countries'),
  ]);
  const world = shapes.default as unknown as Topology<{ countries: GeometryCollection }>;
  const all: FeatureCollection = feature(world, world.objects.countries);
  // Shapes are told apart by their numbers: those without one have no code that could be asked for.
  const named = all.features.map((shape) => ({
    ...shape,
    geometry: inOnePiece(shape.geometry),
    properties: { name: String(shape.id ?? '') },
  }));
  registerMap(worldMap, { type: 'FeatureCollection', features: named } as never);
  const ids = new Set(named.map(({ properties }) => properties.name));
  return (code) => {
    const id = countries.default.alpha2ToNumeric(code);
    return id !== undefined && ids.has(id) ? id : undefined;
  };
}

/** The same shape where what goes over the 180th meridian goes on beyond it, instead of coming back from the other side. */
export function inOnePiece(shape: Geometry): Geometry {
  if (shape.type === 'Polygon') return { ...shape, coordinates: shape.coordinates.map(unrolled) };
  if (shape.type === 'MultiPolygon')
    return { ...shape, coordinates: shape.coordinates.map((polygon) => polygon.map(unrolled)) };
  return shape;
}

function unrolled(ring: readonly Position[]): Position[] {
  let turns = 0;
  return ring.map(([longitude = 0, latitude = 0], place) => {
    const before = ring[place - 1]?.[0] ?? longitude;
    if (longitude - before > 180) turns -= 360;
    if (before - longitude > 180) turns += 360;
    return [longitude + turns, latitude];
  });
}
