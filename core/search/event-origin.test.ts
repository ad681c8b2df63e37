import { expect, test } from 'vitest';
import { encode } from '../events/text-table.ts';
import { readRecords } from '../formats/read.ts';
import { joinMessages } from '../formats/records.ts';
import { runPipelines } from '../pipelines/run-pipelines.ts';
import type { PlanDocument } from '../plan/document.ts';
import { compilePipeline } from '../plan/parts/pipelines/compile-pipeline.ts';
import type { TapedRecord } from '../tape/taped.ts';
import { originOf } from './event-origin.ts';
import { type FoundEvent, foundEventAt } from './found-event.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [
    {
      id: 'gates',
      title: 'Gates',
      when: 'source = gates',
      steps: [{ extract: { from: 'body', template: '{gate} opened in {took:duration}' } }],
    },
    { id: 'tides', title: 'Tides', when: 'source = tides', steps: [] },
    { id: 'slow', title: 'Slow', when: 'took > 1s', steps: [{ remove: { fields: ['gate'] } }] },
  ],
  tiers: [{ id: 'rest', title: 'Everything', keep: '7d' }],
};
const received = 1_795_680_000_000;

function stored(line: string, tier = 'rest'): FoundEvent {
  const { batch } = readRecords('gates', joinMessages([encode(line)]), 'auto', { received, backfill: false });
  const pipelines = plan.pipelines.map((pipeline) => compilePipeline(pipeline));
  return foundEventAt(runPipelines(pipelines, batch, { now: received }).batch, 0, tier);
}

const taped = (line: string): TapedRecord => [received, 1, 'auto', line];
const titles = (event: FoundEvent, records: readonly TapedRecord[]): readonly string[] =>
  originOf(event, plan, records).pipelines.map(({ title }) => title);

test('with its record, an event went through the pipelines that took it, in order', () => {
  const records = ['p1-01 opened in 200ms', 'p1-02 opened in 2s', 'p1-03 opened in 3s'].map(taped);
  const fast = originOf(stored('p1-01 opened in 200ms'), plan, records);
  expect(fast).toMatchObject({ raw: 'p1-01 opened in 200ms', pipelines: [{ id: 'gates', steps: 1 }] });
  expect(originOf(stored('p1-03 opened in 3s'), plan, records).raw).toBe('p1-03 opened in 3s');
  expect(titles(stored('p1-02 opened in 2s'), records)).toEqual(['Gates', 'Slow']);
});

test('without its record the pipelines that it may have gone through are named', () => {
  const event = stored('p1-01 opened in 200ms');
  expect(originOf(event, plan, []).raw).toBeUndefined();
  expect(originOf(event, plan, [taped('something else arrived with it')]).raw).toBeUndefined();
  expect(titles(event, [])).toEqual(['Gates', 'Slow']);
});

test('the tier is reported as the plan has it, also one that is built in or gone', () => {
  const tierOf = (id: string) => originOf(stored('a line', id), plan, []).tier;
  expect(tierOf('rest')).toEqual({ id: 'rest', title: 'Everything', when: '', keepsFor: 7 * 86_400_000 });
  expect(tierOf('passing')).toMatchObject({ title: 'Passing', keepsFor: 3_600_000 });
  expect(tierOf('old')).toMatchObject({ title: 'old', keepsFor: undefined });
});
