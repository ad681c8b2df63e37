'use client';

import { useCallback, useEffect, useState } from 'react';
import { formatCount } from '#core/events/units.ts';
import type { ColumnUnit } from '#core/summaries/summary-table.ts';
import { Chart, type Palette } from '../../../charts/chart.tsx';
import { loadWorldMap, type ShapeOf } from '../../../charts/world-map.ts';
import { Problem } from '../../../kit/section.tsx';
import type { Places } from './places-of.ts';
import { mostPoints, placesOption } from './places-picture.ts';

/** The groups of a summary on a map. */
export function PlacesMap({ places, unit }: { readonly places: Places; readonly unit: ColumnUnit }) {
  const [shapeOf, setShapeOf] = useState<ShapeOf>();
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    let isShown = true;
    loadWorldMap().then(
      (loaded) => isShown && setShapeOf(() => loaded),
      () => isShown && setProblem('The map could not be loaded. Choose another chart, or reload the page.'),
    );
    return () => {
      isShown = false;
    };
  }, []);
  const option = useCallback(
    (palette: Palette) => (shapeOf ? placesOption(places, unit, shapeOf, palette) : {}),
    [places, unit, shapeOf],
  );
  if (problem) return <Problem>{problem}</Problem>;
  if (!shapeOf) return <p className="h-[340px] text-second">Loading the map …</p>;
  const { points, countries, elsewhere } = places;
  const unplaced = elsewhere + countries.filter(({ code }) => shapeOf(code) === undefined).length;
  return (
    <>
      <Chart label="The summary as a map" height={340} option={option} />
      {(unplaced > 0 || points.length > mostPoints) && (
        <p className="text-[12.5px] text-second">
          {points.length > mostPoints &&
            `The ${formatCount(mostPoints)} largest of ${formatCount(points.length)} points are drawn. `}
          {unplaced > 0 && `${formatCount(unplaced)} ${unplaced === 1 ? 'group is' : 'groups are'} nowhere on the map.`}
        </p>
      )}
    </>
  );
}
