import { expect, test } from 'vitest';
import type { Source } from '#store/sources.ts';
import { fleetsBySource, labelsOf } from './fleets.ts';

const source = (name: string, labels: Readonly<Record<string, string>>, owner = ''): Source => ({
  name,
  kind: 'http',
  format: 'auto',
  owner,
  labels,
  accepts: '',
  settings: {},
  createdAt: 0,
});

const sources = [
  source('gates', { site: 'piers', environment: 'prod' }, 'harbour'),
  source('tides', { site: 'sea' }, 'harbour'),
  source('kiosks', {}),
];

test('owner and kind are labels too; a label of that name comes first', () => {
  expect(labelsOf(sources[0] as Source)).toEqual({
    owner: 'harbour',
    kind: 'http',
    site: 'piers',
    environment: 'prod',
  });
  expect(labelsOf(source('odd', { kind: 'own' })).kind).toBe('own');
});

test('a source is in every fleet whose condition its labels fit', () => {
  const fleets = fleetsBySource(sources, [
    { name: 'piers', condition: 'site = piers' },
    { name: 'harbour', condition: 'owner = harbour' },
    { name: 'labelled', condition: 'has site' },
    { name: 'broken', condition: 'site =' },
    { name: 'by-name', condition: 'source = kiosks' },
  ]);
  expect(Object.fromEntries(fleets)).toEqual({
    gates: ['piers', 'harbour', 'labelled'],
    tides: ['harbour', 'labelled'],
    kiosks: ['by-name'],
  });
});
