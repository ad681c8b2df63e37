import { expect, test } from 'vitest';
import { fleetsBySource, labelsOf, type SourceWithLabels } from './fleets.ts';

const source = (name: string, labels: Readonly<Record<string, string>>, owner = ''): SourceWithLabels => ({
  name,
  kind: 'http',
  owner,
  labels,
});

const sources = [
  source('gates', { site: 'piers', environment: 'prod' }, 'harbour'),
  source('tides', { site: 'sea' }, 'harbour'),
  source('kiosks', {}),
];

test('owner and kind are labels too; a label of that name comes first', () => {
  expect(labelsOf(sources[0] as SourceWithLabels)).toEqual({
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
