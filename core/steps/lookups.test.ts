import { describe, expect, test } from 'vitest';
import { eventAt } from '../events/batch.ts';
import { runPipelines } from '../pipelines/run-pipelines.ts';
import { compilePipeline } from '../plan/parts/pipelines/compile-pipeline.ts';
import { parseTable } from '../tables/table.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { answerLookups, mostLookups, TaughtResources } from './lookups.ts';
import type { StepResources } from './step.ts';

const parsed = parseTable('code,port,island\nSKV,Skerryvoe,West\nTRN,Tarnholm,East\n');
if (!parsed.ok) throw new Error(parsed.message);
const places = new Map([['198.51.100.7', { code: 'ZZ', country: 'Skerryland', latitude: 60, longitude: -2 }]]);

/** Resources as the engine has them. */
const real: StepResources = {
  table: (name) => (name === 'ports' ? parsed.table : undefined),
  place: (address) => places.get(address),
};

const pipeline = {
  id: 'calls',
  title: 'Calls',
  when: '',
  steps: [{ map: { from: 'code', table: 'ports' } }, { locate: { from: 'client', under: 'at' } }],
};
const batch = batchOf([
  { code: 'skv', client: '198.51.100.7' },
  { code: 'TRN', client: '203.0.113.9' },
  { code: 'constructor', client: '198.51.100.7' },
]);

function run(resources: StepResources) {
  const { batch: after } = runPipelines([compilePipeline(pipeline, resources)], batch, { now: arrival });
  return Array.from({ length: after.rows }, (_, row) => eventAt(after, row).attributes);
}

describe('resources that are taught', () => {
  test('note what they are asked for and do not know', () => {
    const taught = new TaughtResources();
    expect(taught.open()).toBeUndefined();
    run(taught);
    expect(taught.open()).toEqual({
      tables: [{ name: 'ports', keys: ['skv', 'TRN', 'constructor'] }],
      addresses: ['198.51.100.7', '203.0.113.9'],
    });
  });

  test('give the same as the real ones once they have learnt, and ask nothing twice', () => {
    const taught = new TaughtResources();
    run(taught);
    const answers = answerLookups(taught.open() ?? { tables: [], addresses: [] }, real);
    taught.learn(JSON.parse(JSON.stringify(answers)));
    const made = run(taught);
    expect(made).toEqual(run(real));
    expect(made[0]).toMatchObject({ port: 'Skerryvoe', island: 'West', 'at.country': 'Skerryland' });
    expect(taught.open()).toBeUndefined();
  });

  test('know of a table that there is none', () => {
    const taught = new TaughtResources();
    taught.table('piers')?.find('4');
    taught.learn(answerLookups(taught.open() ?? { tables: [], addresses: [] }, real));
    expect(taught.table('piers')).toBeUndefined();
  });

  test('ask for so many at most; what goes beyond stays unknown', () => {
    const taught = new TaughtResources();
    for (let i = 0; i < mostLookups.keys + 5; i++) {
      taught.table('ports')?.find(`k${i}`);
      taught.place(`2001:db8::${i.toString(16)}`);
    }
    expect(taught.open()?.tables[0]?.keys).toHaveLength(mostLookups.keys);
    expect(taught.open()?.addresses).toHaveLength(mostLookups.addresses);
  });
});
