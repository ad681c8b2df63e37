import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { geoArea, geoCentroid } from 'd3-geo';
import type { FeatureCollection } from 'geojson';
import countries from 'i18n-iso-countries';
import { type CountryResponse, Reader } from 'maxmind';
import { feature } from 'topojson-client';
import type { GeometryCollection, Topology } from 'topojson-specification';
import { object, string } from 'yup';
import type { Place } from '#core/places/place.ts';

const require = createRequire(import.meta.url);

interface PlaceBook {
  readonly addresses: Reader<CountryResponse>;
  readonly centres: ReadonlyMap<string, readonly [number, number]>;
}

let opened: PlaceBook | undefined;

/** Opens the address database and the map, some ten megabytes, when the first address is looked up. */
function placeBook(): PlaceBook {
  const file = require.resolve('@ip-location-db/geo-whois-asn-country-mmdb/geo-whois-asn-country.mmdb');
  opened ??= { addresses: new Reader<CountryResponse>(readFileSync(file)), centres: readCentres() };
  return opened;
}

/** The middle of each country by its numeric ISO 3166-1 code: longitude and latitude in degrees. */
function readCentres(): ReadonlyMap<string, readonly [number, number]> {
  const world: Topology<{ countries: GeometryCollection }> = require('world-atlas/countries-50m.json');
  const all: FeatureCollection = feature(world, world.objects.countries);
  // Islands that lie far away are features of their own under the same code: the largest one counts, so it comes last.
  const bySize = [...all.features].sort((a, b) => geoArea(a) - geoArea(b));
  return new Map(
    bySize.flatMap((country) => (country.id === undefined ? [] : [[String(country.id), geoCentroid(country)]])),
  );
}

const names = new Intl.DisplayNames(['en'], { type: 'region' });
const record = object({ country_code: string().required() });

/** Where an IP address is registered; undefined for private and unknown ones, and for texts that are none. */
export function placeOf(address: string): Place | undefined {
  const { addresses, centres } = placeBook();
  let found: unknown;
  try {
    found = addresses.get(address);
  } catch {
    return undefined;
  }
  if (!record.isValidSync(found)) return undefined;
  const code = found.country_code;
  const numeric = countries.alpha2ToNumeric(code);
  const [longitude, latitude] = (numeric && centres.get(numeric)) || [Number.NaN, Number.NaN];
  if (Number.isNaN(latitude)) return undefined;
  return { code, country: names.of(code) ?? code, latitude, longitude };
}
