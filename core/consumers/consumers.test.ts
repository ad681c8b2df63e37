import { expect, test } from 'vitest';
import { readRecords } from '../formats/read.ts';
import { splitLines } from '../formats/records.ts';
import { unpackHeard } from '../health/pack-heard.ts';
import { compilePlan } from '../plan/compile.ts';
import type { PlanDocument } from '../plan/document.ts';
import { Ledger } from '../routing/ledger.ts';
import { seededRandom } from '../routing/route.ts';
import type { GroupContext } from './consumer.ts';
import { beginGroup } from './index.ts';
import { segments } from './segments.ts';

const now = Date.UTC(2026, 10, 24, 9);

const plan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    {
      id: 'rest',
      title: 'Rest',
      keep: '7d',
      when: 'source = gates',
      exclusions: [
        { id: 'probes', title: 'Probes', when: 'path = /health', keep: 'none' },
        { id: 'some', title: 'Some', when: 'path = /scan', keep: '1 in 4' },
      ],
    },
  ],
};

const lines = [
  ...Array.from({ length: 40 }, (_, i) => `{"host":"gate-${i % 3}","path":"/scan","n":${i}}`),
  ...Array.from({ length: 20 }, () => '{"host":"gate-0","path":"/health"}'),
  '{"broken":',
].join('\n');

/** Has all consumers take in the lines, as those of a source. */
function taken(source: string, followers: GroupContext['followers'] = []) {
  const compiled = compilePlan(plan);
  const steps: GroupContext['steps'] = new Map();
  const deflate = (bytes: Uint8Array): Uint8Array => bytes;
  const group = {
    now,
    revision: 3,
    profiled: true,
    deflate,
    ledger: new Ledger(),
    steps,
    followers,
    newShapes: () => [],
  };
  const takes = beginGroup(compiled, group);
  const records = splitLines(new TextEncoder().encode(lines));
  const read = readRecords(source, records, 'json', { received: now, backfill: false });
  const routed = compiled.run(read.batch, { now, random: seededRandom(7), measures: steps });
  const delivery = { source, format: 'json', backfill: false, tapeEvery: 1, key: 'k' } as const;
  takes.add({ delivery, read, records, routed });
  return takes.finish();
}

test('each consumer sees all that arrived, whatever becomes of it', () => {
  const { effects } = taken('gates', [{ name: 'archive', when: '' }]);
  const sum = effects.ledger?.reduce((all, { events }) => all + events, 0);
  expect(sum).toBe(61);
  expect(effects.heard && unpackHeard(effects.heard)[0]?.list.map(({ arrivals }) => arrivals.events)).toEqual([
    60, 34, 13, 13,
  ]);
  expect(effects.outgoing).toMatchObject([{ follower: 'archive', source: 'gates', events: 60 }]);
  expect(effects.tape?.[0]?.lines).toBe(60);
  expect(effects.keys).toEqual([{ source: 'gates', key: 'k', accepted: 60, rejected: 1 }]);
  // No step was measured.
  expect(effects.steps).toBeUndefined();
  expect(effects.positions).toBeUndefined();
});

test('what is stored is booked by the bytes that it takes, and its bytes may be handed over', () => {
  const { effects, bytes } = taken('gates');
  const stored = segments.bytesOf?.(effects.segments ?? []) ?? [];
  expect(stored.length).toBeGreaterThan(2);
  const booked = effects.ledger?.reduce((all, entry) => all + entry.stored, 0);
  expect(booked).toBe(stored.reduce((all, { length }) => all + length, 0));
  for (const data of [...stored, ...(effects.tape ?? []).map((chunk) => chunk.data)]) expect(bytes).toContain(data);
});

test('a follower gets what it is for, with the weights that it arrived with', () => {
  const followers = [
    { name: 'scans', when: 'path = /scan and n < 10' },
    { name: 'nothing', when: 'path = /none' },
  ];
  const { effects } = taken('gates', followers);
  expect(effects.outgoing).toHaveLength(1);
  expect(effects.outgoing?.[0]).toMatchObject({ follower: 'scans', events: 10 });
  const sizes = Array.from({ length: 10 }, (_, i) => `{"host":"gate-${i % 3}","path":"/scan","n":${i}}`.length);
  expect(effects.outgoing?.[0]?.bytes).toBe(sizes.reduce((a, b) => a + b, 0));
});

test('a group in which nothing arrived has nothing to write', () => {
  const steps: GroupContext['steps'] = new Map();
  const deflate = (bytes: Uint8Array): Uint8Array => bytes;
  const group = {
    now,
    revision: 1,
    profiled: false,
    deflate,
    ledger: new Ledger(),
    steps,
    followers: [],
    newShapes: () => [],
  };
  expect(beginGroup(compilePlan(plan), group).finish()).toEqual({ effects: {}, bytes: [] });
});
