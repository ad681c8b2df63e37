import { expect, test } from 'vitest';
import type { PlacedItem } from '#core/plan/parts/part.ts';
import { placeLink } from './place-link.ts';

test.each<[PlacedItem, string]>([
  [{ part: 'pipelines', id: 'web' }, '/parsing/web'],
  [{ part: 'pipelines', id: 'web', step: 2, field: 'template' }, '/parsing/web?step=2&field=template'],
  [{ part: 'tiers', id: 'rest', field: 'keep' }, '/routing?tier=rest&field=keep'],
  [{ part: 'tiers', id: 'rest', exclusion: 'probes' }, '/routing?tier=rest&exclusion=probes'],
  [{ part: 'metrics', id: 'took', field: 'by' }, '/metrics?edit=took&field=by'],
  [{ part: 'rankings', id: 'a b' }, '/metrics/talkers?edit=a%20b'],
  [{ part: 'postures', id: 'storm' }, '/routing?posture=storm'],
])('%j is at %s', (item, link) => {
  expect(placeLink(item)).toBe(link);
});
