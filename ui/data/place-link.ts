import type { PartKey, PlacedItem } from '#core/plan/parts/part.ts';

const pages: Readonly<Record<PartKey, (item: PlacedItem) => string>> = {
  pipelines: ({ id, step, field }) => `/parsing/${encodeURIComponent(id)}${query({ step, field })}`,
  tiers: ({ id, exclusion, field }) => `/routing${query({ tier: id, exclusion, field })}`,
  metrics: ({ id, field }) => `/metrics${query({ edit: id, field })}`,
  rankings: ({ id, field }) => `/metrics/talkers${query({ edit: id, field })}`,
  postures: ({ id }) => `/routing${query({ posture: id })}`,
};

/** The address of the page on which a thing of the plan can be edited, with the place open that is meant. */
export function placeLink(item: PlacedItem): string {
  return pages[item.part](item);
}

function query(parts: Readonly<Record<string, string | number | undefined>>): string {
  const known = Object.entries(parts).flatMap(([name, value]) =>
    value === undefined ? [] : [`${name}=${encodeURIComponent(value)}`],
  );
  return known.length === 0 ? '' : `?${known.join('&')}`;
}
